import { TEXT_FIELD } from '@keyroster/core/texts';
import * as Y from 'yjs';
import { eventually, Newsroom, type Who } from '../testing/newsroom.js';
import { Writer } from '../testing/writer.js';

describe('a text that was begun before empty lines had their own text', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());

  it('gets them when it is opened, so that two who begin one line at once write in one text', async () => {
    const post = await room.pitch('chief', 'An old one', { categoryId: 1, bylineId: room.ids.writer });
    await room.move('chief', post.id, { to: 'commissioned' });
    const older = new Y.Doc();
    older.getXmlFragment(TEXT_FIELD).insert(0, [new Y.XmlElement('paragraph')]);
    await room
      .db('shared_texts')
      .insert({ post_id: post.id, state: Buffer.from(Y.encodeStateAsUpdate(older)) });

    const come = async (who: Who) => Writer.open(room.url, post.id, await room.cookieOf(who));
    const [writer, editor] = await Promise.all([come('writer'), come('editor')]);
    writer.type('Gate.');
    editor.type('Lock.');
    await eventually(async () => writer.text.length === 10 && writer.text === editor.text);
    const line = writer.doc.getXmlFragment(TEXT_FIELD).get(0) as Y.XmlElement;
    expect(line.length).toBe(1);
    // The change is nobody's writing: the post takes in the words alone.
    const added = await room.db('shared_text_updates').where({ post_id: post.id, from_post: true });
    expect(added).toMatchObject([{ person_id: null }]);
    writer.close();
    editor.close();
  });
});
