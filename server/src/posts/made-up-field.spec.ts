import { jest } from '@jest/globals';
import type { ArchiveRows, BatchItemView, ComparisonView, PlannerAnswer } from '@keyroster/contract';
import type { PostChanges, PostView } from '@keyroster/contract';
import type { FieldSpec } from '@keyroster/core';
import type { Newsroom } from '../testing/newsroom.js';

/**
 * A field of text that only the registry and a migration know. Every place that follows the registry has to take it
 * along by itself; whoever cuts one of these links sees it here.
 */
const MADE_UP: FieldSpec = {
  label: 'made-up line',
  kind: 'text',
  max: 40,
  oneLine: true,
  set: 'write',
  checks: true,
  batch: true,
  readers: true,
  copied: true,
  card: true,
  compared: true,
  shown: ['details', 'under the title', 'card', 'archive', 'files'],
};
const LIST = '../../../core/src/posts/field-list/text.js';
const { TEXT_FIELDS } = (await import(LIST)) as { TEXT_FIELDS: object };
jest.unstable_mockModule(LIST, () => ({ TEXT_FIELDS: { ...TEXT_FIELDS, madeUp: MADE_UP } }));
const { addTextColumn } = await import('../db/post-column.js');
const { Newsroom: Room } = await import('../testing/newsroom.js');
const { batchHands } = await import('../testing/batch-hands.js');
const { unpackPlanner } = await import('@keyroster/contract');

let room: Newsroom;
beforeAll(async () => {
  room = await Room.make();
  await addTextColumn(room.db, 'made_up', { readers: true, sorted: true });
});
afterAll(() => room.close({ described: false }));
const { preview, apply, revert, drafts } = batchHands(() => room);

const set = (id: number, madeUp: string) => room.change('chief', id, { madeUp } as PostChanges);
const valueOf = async (id: number) => ((await room.see('chief', id)) as PostView & Made).madeUp;
interface Made {
  madeUp: string;
}
const page = async (slug: string) => (await room.nobody().get(`/${slug}`)).text;

describe('a field of text that is in the registry and in the database', () => {
  it('is changed within its limits by those who may, on one line', async () => {
    const [id] = await drafts(1);
    expect(await valueOf(id!)).toBe('');
    expect((await set(id!, 'From the\nlock')).status).toBe(200);
    expect(await valueOf(id!)).toBe('From the lock');
    const tooLong = await set(id!, 'x'.repeat(41));
    expect([tooLong.status, tooLong.body.detail]).toEqual([400, expect.stringContaining('40')]);
    expect((await room.change('otherWriter', id!, { madeUp: 'Mine' } as PostChanges)).status).toBe(403);
    expect(await valueOf(id!)).toBe('From the lock');
  });

  it('stands in every version, in the difference between two, and comes back with an earlier one', async () => {
    const [id] = await drafts(1);
    await set(id!, 'First');
    const { version: first } = await room.see('chief', id!);
    await set(id!, 'Second');
    const { version: second } = await room.see('chief', id!);
    const compared = (
      await room.call('chief', 'get', `/api/posts/${id}/comparison?from=${first}&to=${second}`)
    ).body as ComparisonView;
    expect(compared.to.changed).toEqual(['made-up line']);
    expect(compared.details).toEqual([{ name: 'made-up line', was: 'First', becomes: 'Second' }]);
    const back = await (
      await room.as('chief')
    )
      .post(`/api/posts/${id}/restorings`)
      .set('If-Match', `"${second}"`)
      .send({ version: first, what: 'all' });
    expect(back.status).toBe(200);
    expect(await valueOf(id!)).toBe('First');
  });

  it('is changed by a batch, told of in its preview, and taken back', async () => {
    const [id] = await drafts(1);
    await set(id!, 'By the weir');
    const replace = { find: 'weir', with: 'lock', pattern: false, capitals: true };
    const shown = await preview([{ kind: 'replace', places: ['madeUp' as 'title'], ...replace }], {
      ids: [id],
    });
    const items = (await room.call('chief', 'get', `/api/batches/${shown.id}/items?state=changes`)).body;
    expect((items as BatchItemView[])[0]!.differences).toEqual([
      { field: 'madeUp', name: 'made-up line', was: 'By the weir', becomes: 'By the lock' },
    ]);
    expect(shown.sentence).toContain('in made-up line');
    await apply(shown.id);
    expect(await valueOf(id!)).toBe('By the lock');
    await revert(shown.id);
    expect(await valueOf(id!)).toBe('By the weir');
  });

  it('goes along with a copy, whose checks say that it is left over until it is changed', async () => {
    const [id] = await drafts(1);
    await set(id!, 'Left over');
    const copy = (await room.call('chief', 'post', `/api/posts/${id}/copies`, {})).body as PostView;
    expect(await valueOf(copy.id)).toBe('Left over');
    const { factsFor, loadMaterial } = await import('../desk/check-material.js');
    const { loadPosts } = await import('./store.js');
    const { checkPost } = await import('@keyroster/core');
    const leftovers = async () => {
      const [post] = await loadPosts(room.db, 1, [copy.id], { text: true });
      const facts = factsFor(post!, await loadMaterial(room.db, 1, [post!]));
      return checkPost(facts).find((c) => c.key === 'leftovers')!.measure;
    };
    expect(await leftovers()).toContain('made-up line');
    await set(copy.id, 'Its own');
    expect(await leftovers()).not.toContain('made-up line');
    const { rows } = await room.db.raw('select measured_version from all_posts where id = ?', [copy.id]);
    expect(rows).toEqual([{ measured_version: null }]);
  });

  it('is a column of the archive, which sorts by it, and of its CSV', async () => {
    const ids = await drafts(3, 'Sorted');
    await set(ids[0]!, 'beta');
    await set(ids[1]!, 'Alpha');
    const line = 'Sorted';
    const sorted = async (sort: string) => {
      const answer = await room.call('chief', 'get', `/api/archive?line=${line}&sort=${sort}`);
      return (answer.body as ArchiveRows).rows.map((r) => (r as unknown as Made).madeUp);
    };
    expect(await sorted('madeUp')).toEqual(['Alpha', 'beta', '']);
    expect(await sorted('-madeUp')).toEqual(['beta', 'Alpha', '']);
    const csv = (await room.call('chief', 'get', `/api/archive.csv?line=${line}&sort=madeUp`)).text;
    const [head, first] = csv.replace('\ufeff', '').split('\r\n');
    expect(first!.split(',')[head!.split(',').indexOf('made-up line')]).toBe('Alpha');
  });

  it('is on the cards of the planner', async () => {
    const pitch = await room.pitch('chief', 'Carded');
    await set(pitch.id, 'On the card');
    const answer = (await room.call('chief', 'get', '/api/planner')).body as PlannerAnswer;
    const card = unpackPlanner(answer).pitches.find((p) => p.id === pitch.id);
    expect((card as unknown as Made).madeUp).toBe('On the card');
  });

  it('stands in files, and is read from one again', async () => {
    const [id] = await drafts(1);
    await set(id!, 'Out: and in');
    const out = async (as: string) => {
      const answer = await room.call('chief', 'get', `/api/posts/${id}/out?as=${as}`);
      return answer.text ?? String(answer.body);
    };
    const markdown = await out('markdown');
    expect(markdown).toContain('made-up: "Out: and in"');
    expect(await out('html')).toContain('<p><em>Out: and in</em></p>');
    expect(await out('text')).toMatch(/^Stern gear 1\nOut: and in\n/);
    const { readMarkdown } = await import('../documents/markdown.js');
    expect(readMarkdown(markdown).texts).toEqual({ madeUp: 'Out: and in' });
  });

  it('is seen by readers under the title, as it was until the post is updated', async () => {
    const post = await room.published('Seen by readers', { madeUp: 'As released' } as PostChanges);
    // Before anybody fetched the page, so that none is kept from before the change.
    await set(post.id, 'Not yet');
    expect(await page(post.slug!)).toContain('<p class="subtitle">As released</p>');
    expect((await room.update('chief', post.id)).status).toBe(200);
    expect(await page(post.slug!)).toContain('<p class="subtitle">Not yet</p>');
  });

  it('makes a published post like others', async () => {
    const post = await room.published('Compared', { madeUp: 'Quillwort' } as PostChanges);
    const { relatePost } = await import('../pages/relate.js');
    await relatePost(room.db, post.id);
    const terms = await room.db('post_terms').where({ post_id: post.id }).pluck('term');
    expect(terms.join(' ')).toContain('quillwort');
  });

  it('is empty in versions from before it was there', async () => {
    const post = await room.published('Older than the field');
    await room.db.raw(`update post_versions set fields = fields - 'made_up' where post_id = ?`, [post.id]);
    await set(post.id, 'New');
    expect(await page(post.slug!)).not.toContain('New');
    const [{ made_up: seen }] = await room
      .db('readers_versions')
      .where({ post_id: post.id })
      .select('made_up');
    expect(seen).toBe('');
  });
});
