import type { PostChanges } from '@keyroster/contract';
import { Newsroom, type Who } from '../testing/newsroom.js';

/** Who may change what of a post that `writer` drafts in category 1, with `proofreader` put on it to write. */
const WRITERS: Who[] = ['chief', 'editor', 'writer', 'proofreader'];
const DESK: Who[] = ['chief', 'editor'];
const EVERYBODY: Who[] = ['chief', 'editor', 'otherEditor', 'writer', 'otherWriter', 'proofreader', 'reader'];

describe('the fields of a post', () => {
  let room: Newsroom;
  let postId: number;
  let values: Record<keyof PostChanges, unknown>;
  beforeAll(async () => {
    room = await Newsroom.make();
    postId = (await room.pitch('chief', 'Fields', { categoryId: 1, bylineId: room.ids.writer })).id;
    await room.move('chief', postId, { to: 'commissioned' });
    await room.write('writer', postId);
    await room.change('chief', postId, { proofreaderId: room.ids.proofreader, proofreaderWrites: true });
    values = {
      title: 'Other',
      thought: 'A thought',
      excerpt: 'One sentence.',
      leadPicture: null,
      slug: 'other-fields',
      categoryId: 1,
      secondCategoryId: 2,
      bylineId: room.ids.writer,
      coauthorIds: [room.ids.otherEditor],
      editorId: room.ids.editor,
      proofreaderId: room.ids.proofreader,
      proofreaderWrites: true,
      access: 'everyone',
      readingPassword: 'open, gate',
      brief: { angle: 'So', length: 100, copyDate: '2031-01-01' },
      runAt: '2031-01-06T08:00',
      dateConstraint: { notBefore: '2031-01-01', notAfter: null, mustBeOn: null },
      rating: 4,
      subtitle: 'Below',
      tags: ['ice'],
      formatId: null,
      formatValues: {},
      sharePicture: null,
      inSearch: false,
      mailAtRelease: true,
      searchTitle: 'Found',
      searchDescription: 'What is in it.',
      sourceUrl: 'https://waterways.example',
      titleLinks: true,
      place: 'Tolver',
      comments: false,
      commentCall: 'Tell us.',
      campaign: 'Winter',
      spotlight: { from: '2031-01-01', until: '2031-01-07' },
    };
  });
  afterAll(() => room.close());

  it.each<[keyof PostChanges, Who[]]>([
    // Before the co-author is one, or they would be a writer too.
    ['subtitle', WRITERS],
    ['tags', WRITERS],
    ['formatId', WRITERS],
    ['formatValues', WRITERS],
    ['sharePicture', WRITERS],
    ['searchTitle', WRITERS],
    ['searchDescription', WRITERS],
    ['sourceUrl', WRITERS],
    ['titleLinks', WRITERS],
    ['place', WRITERS],
    ['comments', DESK],
    ['commentCall', DESK],
    ['campaign', DESK],
    ['title', WRITERS],
    ['thought', WRITERS],
    ['excerpt', WRITERS],
    ['leadPicture', WRITERS],
    ['slug', DESK],
    ['categoryId', DESK],
    ['secondCategoryId', DESK],
    ['bylineId', DESK],
    ['coauthorIds', DESK],
    ['editorId', DESK],
    ['proofreaderId', DESK],
    ['access', DESK],
    ['readingPassword', DESK],
    ['brief', DESK],
    ['runAt', DESK],
    ['dateConstraint', DESK],
    ['rating', DESK],
  ])('%s is changed by %j and nobody else', async (field, allowed) => {
    for (const who of EVERYBODY) {
      const answer = await room.change(who, postId, { [field]: values[field] } as PostChanges);
      expect([who, answer.status]).toEqual([who, allowed.includes(who) ? 200 : 403]);
    }
  });

  it.each<[string, PostChanges, number]>([
    ['a byline from outside', { bylineId: 9999 }, 400],
    ['a reader as writer', { coauthorIds: [] as number[], bylineId: -1 }, 400],
    ['a category from nowhere', { categoryId: 9999 }, 400],
    ['a picture from nowhere', { leadPicture: { media: 9999, alt: '' } }, 400],
    ['an empty title', { title: '  ' }, 400],
    ['a title of 301 characters', { title: 'x'.repeat(301) }, 400],
    ['a length of 0', { brief: { angle: '', length: 0, copyDate: null } }, 400],
    ['a day that is none', { brief: { angle: '', length: null, copyDate: '2031-02-30' } }, 400],
    ['a time that is none', { runAt: 'soon' }, 400],
    ['a character that no database keeps', { excerpt: 'a\u0000b' }, 400],
  ])('%s is refused with a sentence, and nothing changes', async (_, changes, status) => {
    const before = await room.see('chief', postId);
    const answer = await room.change('chief', postId, changes);
    expect(answer.status).toBe(status);
    expect(answer.body.detail).toMatch(/\.$/);
    expect(await room.see('chief', postId)).toEqual(before);
  });

  it('normalises text, and writes nothing when nothing changed', async () => {
    const done = await room.change('chief', postId, { title: ' Cafe\u0301 ' });
    expect(done.body.post.title).toBe('Café');
    const same = await room.change('chief', postId, { title: 'Café' });
    expect(same.body.post.version).toBe(done.body.post.version);
  });

  it('keeps an editor from moving a post to a category they do not edit, and a published post whole', async () => {
    expect((await room.change('editor', postId, { categoryId: 2 })).status).toBe(403);
    expect((await room.change('editor', postId, { categoryId: null })).status).toBe(403);
    const post = await room.scheduled('2031-05-05T08:00', 'Scheduled fields');
    for (const changes of [{ slug: null }, { bylineId: null }])
      expect((await room.change('chief', post.id, changes)).body.code).toBe('demands');
  });
});
