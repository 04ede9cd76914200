import type { ReviewView } from '@keyroster/contract';
import { release } from '../posts/release.js';
import { fromNow, Newsroom, type Who } from '../testing/newsroom.js';

describe('the list of what waits to be read', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());

  const listOf = async (who: Who) =>
    ((await (await room.as(who)).get('/api/review')).body as ReviewView).items;
  const titles = async (who: Who) => (await listOf(who)).map((i) => i.title);
  const onDesk = async (who: Who) =>
    ((await (await room.as(who)).get('/api/runway')).body as { onDesk: number }).onDesk;
  async function handIn(title: string, runAt?: string, note?: string) {
    const post = await room.pitch('chief', title, { categoryId: 1, bylineId: room.ids.writer });
    await room.move('chief', post.id, { to: 'commissioned', ...(runAt ? { runAt } : {}) });
    await room.write('writer', post.id);
    await room.move('writer', post.id, { to: 'in review', ...(note ? { note } : {}) });
    return post.id;
  }

  it('has the soonest first, with who, since when, their word, and what is missing', async () => {
    await handIn('Without a date');
    await handIn('Later', '2031-05-07T08:00');
    await handIn('Soon', '2031-05-05T08:00', 'The names are checked.');
    const items = await listOf('editor');
    expect(items.map((i) => i.title)).toEqual(['Soon', 'Later', 'Without a date']);
    expect(items[0]).toMatchObject({
      kind: 'review',
      by: { name: 'writer Test' },
      word: 'The names are checked.',
      runLocal: '2031-05-05T08:00:00',
      late: false,
    });
    // The word is a note on the post as well.
    expect(items[0]!.missing).toContain('1 open note');
    expect(items[2]!.missing).toContain('no run time');
    expect(await titles('writer')).toEqual([]);
    expect(await titles('otherEditor')).toEqual([]);
    expect((await (await room.as('reader')).get('/api/review')).status).toBe(403);
  });

  it('has what was reassigned for one person alone, and comes back when they are of the desk no more', async () => {
    const id = await handIn('For the chief');
    expect(await titles('editor')).toContain('For the chief');
    const before = await onDesk('editor');
    expect((await room.change('writer', id, { editorId: room.ids.chief })).status).toBe(403);
    expect((await room.change('editor', id, { editorId: room.ids.chief })).status).toBe(200);
    expect(await titles('editor')).not.toContain('For the chief');
    expect(await onDesk('editor')).toBe(before - 1);
    expect(await titles('chief')).toContain('For the chief');
    await room.change('chief', id, { editorId: room.ids.otherWriter });
    expect(await titles('editor')).toContain('For the chief');
  });

  it('shows a proofreader what they are put on, and the desk what waits for its update', async () => {
    const id = await handIn('To be proofread');
    expect(await titles('proofreader')).toEqual([]);
    await room.change('editor', id, { proofreaderId: room.ids.proofreader });
    expect((await listOf('proofreader')).map((i) => [i.kind, i.title])).toEqual([
      ['proofread', 'To be proofread'],
    ]);
    const out = await room.scheduled(fromNow(-1), 'Out, and corrected');
    await release(room.db, out.id);
    expect(await titles('editor')).not.toContain('Out, and corrected');
    await room.change('editor', out.id, { excerpt: 'Better.' });
    expect((await listOf('editor')).find((i) => i.postId === out.id)).toMatchObject({
      kind: 'update',
      by: { name: 'editor Test' },
      word: '',
    });
    await room.update('editor', out.id);
    expect(await titles('editor')).not.toContain('Out, and corrected');
  });
});
