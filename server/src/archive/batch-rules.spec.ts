import type { BatchChange } from '@keyroster/core';
import type { FormatView } from '@keyroster/contract';
import { Newsroom, doc, fromNow } from '../testing/newsroom.js';
import { batchHands } from '../testing/batch-hands.js';

/** A batch keeps the rules of a single change, at the time it is applied and when it is taken back. */
let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make();
});
afterAll(() => room.close());

const { preview, apply, back, sentencesOf: told } = batchHands(() => room);
const sentences = async (id: number, state: string) => (await told(id, state)).map((t) => t[1]);
/** Lets a scheduled post go out, as the clock would. */
async function release(id: number): Promise<void> {
  const { release: run } = await import('../posts/release.js');
  expect(await run(room.db, id)).toBe('released');
}

/** As if its run time had come meanwhile, however long everything else took. */
const comesDue = (id: number) =>
  room
    .db('posts')
    .where({ id })
    .update({ run_at: fromNow(-1), run_local: fromNow(-1).slice(0, 19) });

describe('taken back', () => {
  it('by force leaves a post that went out since published', async () => {
    const { id } = await room.cleared('Went out since');
    await room.change('chief', id, { runAt: fromNow(600) });
    const batch = await apply((await preview([{ kind: 'stage', to: 'scheduled' }], { ids: [id] })).id);
    expect(batch.state).toBe('applied');
    await comesDue(id);
    await release(id);
    const forced = await back(batch.id, true);
    expect(forced.counts).toMatchObject({ changes: 0, refused: 1 });
    expect(await sentences(forced.id, 'refused')).toEqual([
      'A post that is published cannot become cleared.',
    ]);
    expect((await room.see('chief', id)).stage).toBe('published');
  });

  it('goes post by post: one that may not lose its byline by now does not hold up the others', async () => {
    const ids: number[] = [];
    for (const title of ['Goes back', 'Went out'])
      ids.push((await room.pitch('chief', title, { categoryId: 1 })).id);
    const batch = await apply((await preview([{ kind: 'byline', to: room.ids.chief }], { ids })).id);
    await room.move('chief', ids[1]!, { to: 'commissioned' });
    await room.write('chief', ids[1]!);
    await room.move('chief', ids[1]!, { to: 'scheduled', runAt: fromNow(-3600) });
    await release(ids[1]!);
    const undone = await back(batch.id);
    expect(undone.counts).toMatchObject({ changes: 1, refused: 1 });
    expect(await sentences(undone.id, 'refused')).toEqual(['A published post keeps its byline.']);
    expect(await apply(undone.id)).toMatchObject({ state: 'applied', error: '' });
    expect((await room.see('chief', ids[0]!)).byline).toBeNull();
    expect((await room.see('chief', ids[1]!)).byline?.id).toBe(room.ids.chief);
  });

  it('puts back nothing that is on the blog no more', async () => {
    const { id } = await room.pitch('chief', 'In a category that ends', { categoryId: 2 });
    const batch = await apply((await preview([{ kind: 'category', to: 1 }], { ids: [id] })).id);
    await room.db('slots').where({ category_id: 2 }).delete();
    await room.db('editor_categories').where({ category_id: 2 }).delete();
    const undone = await back(batch.id);
    await room.db('all_posts').where({ category_id: 2 }).update({ category_id: 1 });
    await room.db('categories').where({ id: 2 }).delete();
    expect(await apply(undone.id)).toMatchObject({ state: 'failed' });
    expect(await sentences(undone.id, 'refused')).toEqual(['That category is not on this blog.']);
    await room.db('categories').insert({ blog_id: 1, name: 'Engine', slug: 'engine', hue: 1 });
  });
});

describe('a batch that clears', () => {
  async function inReview(title: string, body: object): Promise<number> {
    const { id, version } = await room.pitch('chief', title, { categoryId: 1, bylineId: room.ids.writer });
    await room.move('chief', id, { to: 'commissioned' });
    await (
      await room.as('chief')
    )
      .put(`/api/posts/${id}/body`)
      .set('If-Match', `"${version + 1}"`)
      .send({ body });
    await room.move('chief', id, { to: 'drafting' });
    await room.move('chief', id, { to: 'in review' });
    return id;
  }
  const linkTo = (href: string) => ({
    type: 'doc',
    content: [
      {
        type: 'paragraph',
        content: [{ type: 'text', text: 'See there.', marks: [{ type: 'link', attrs: { href } }] }],
      },
    ],
  });

  it(
    'looks at the checks itself, names what holds a post back, and gives addresses as a ' +
      'single move does',
    async () => {
      const lost = await inReview('A lost link', linkTo('/nowhere-at-all'));
      const fine = await inReview('A gate that sticks in frost', doc('Grease the collar.'));
      // What was counted earlier says that all is well.
      await room.db('all_posts').whereIn('id', [lost, fine]).update({ check_blocks: 0, check_warns: 0 });
      const shown = await preview([{ kind: 'stage', to: 'cleared' }], { ids: [lost, fine] });
      expect(shown.counts).toMatchObject({ changes: 1, refused: 1 });
      const single = await room.move('chief', lost, { to: 'cleared' });
      expect(single.body.code).toBe('demands');
      expect(single.body.detail).toMatch(/The checks hold it back: .*nowhere-at-all/);
      expect(await sentences(shown.id, 'refused')).toEqual([single.body.detail]);
      expect((await apply(shown.id)).state).toBe('applied');
      expect(await room.see('chief', fine)).toMatchObject({
        stage: 'cleared',
        slug: 'gate-sticks-frost-towpath',
      });
    },
  );

  it('tells those who have a post open what was asked for', async () => {
    const ids = [await inReview('Asked one', doc('One.')), await inReview('Asked many', doc('Many.'))];
    const notes = async () =>
      room.db('events').where({ kind: 'note' }).whereIn('post_id', ids).orderBy('id').pluck('post_id');
    await room.move('chief', ids[0]!, { to: 'drafting', note: 'Say which gate.' });
    expect(await notes()).toEqual([ids[0]]);
    await apply(
      (await preview([{ kind: 'stage', to: 'drafting', note: 'And when.' }], { ids: [ids[1]!] })).id,
    );
    expect(await notes()).toEqual(ids);
    expect(await room.db('notes').where({ post_id: ids[1]! }).pluck('text')).toEqual(['And when.']);
  });
});

describe('a batch that is applied later', () => {
  it('is predicted again: an editor who lost the category since applies nothing of it', async () => {
    const { id } = await room.pitch('chief', 'Edited no more', { categoryId: 1 });
    const shown = await preview([{ kind: 'campaign', to: 'Winter' }], { ids: [id] }, 'editor');
    await room.db('editor_categories').where({ person_id: room.ids.editor }).delete();
    try {
      expect(await apply(shown.id, 'editor')).toMatchObject({ state: 'failed', counts: { refused: 1 } });
      expect(await sentences(shown.id, 'refused')).toEqual(['It is in no category that you edit.']);
      expect((await room.see('chief', id)).campaign).toBe('');
    } finally {
      await room.db('editor_categories').insert({ blog_id: 1, person_id: room.ids.editor, category_id: 1 });
    }
  });

  it('schedules nothing for a time that has passed since', async () => {
    const { id } = await room.cleared('Its time passed');
    await room.change('chief', id, { runAt: fromNow(600) });
    const shown = await preview([{ kind: 'stage', to: 'scheduled' }], { ids: [id] });
    expect(shown.counts.changes).toBe(1);
    await comesDue(id);
    expect(await apply(shown.id)).toMatchObject({ state: 'failed' });
    expect(await sentences(shown.id, 'refused')).toEqual([
      'Its run time lies in the past, and it would go out at once.',
    ]);
    expect((await room.see('chief', id)).stage).toBe('cleared');
  });
});

it('makes the second category the first in one change', async () => {
  const { id } = await room.pitch('chief', 'Two categories', { categoryId: 1 });
  const [other] = await room.db('categories').whereNot({ id: 1 }).pluck<number[]>('id');
  await room.change('chief', id, { secondCategoryId: other });
  const done = await room.change('chief', id, { categoryId: other, secondCategoryId: null });
  expect([done.status, done.body.post.categoryId, done.body.post.secondCategoryId]).toEqual([
    200,
    other,
    null,
  ]);
});

it('fills format fields that hold minutes or lines', async () => {
  const field = (key: string, kind: string) => ({
    key,
    label: key,
    kind,
    required: false,
    hint: '',
    choices: [],
  });
  const fields = [field('minutes', 'minutes'), field('steps', 'lines')];
  const format = (await room.call('chief', 'post', '/api/formats', { name: 'How-to', fields }))
    .body as FormatView;
  const { id } = await room.pitch('chief', 'With a format', { categoryId: 1 });
  await room.change('chief', id, { formatId: format.id });
  const fill = (key: string, to: number | string[]): BatchChange => ({
    kind: 'format field',
    formatId: format.id,
    key,
    to,
  });
  await apply(
    (await preview([fill('minutes', 90), fill('steps', ['Drain it', 'Dry it'])], { ids: [id] })).id,
  );
  expect((await room.see('chief', id)).formatValues).toEqual({ minutes: 90, steps: ['Drain it', 'Dry it'] });
});

it('keeps co-authors in every version as they were then', async () => {
  const { id } = await room.pitch('chief', 'With others', { categoryId: 1 });
  await room.change('chief', id, { coauthorIds: [room.ids.otherWriter, room.ids.writer] });
  await apply((await preview([{ kind: 'campaign', to: 'Spring' }], { ids: [id] })).id);
  await room.change('chief', id, { coauthorIds: [] });
  const versions = (await room
    .db('post_versions')
    .where({ post_id: id })
    .orderBy('version')
    .select('version', room.db.raw(`fields->'coauthor_ids' as ids`))) as { version: number; ids: number[] }[];
  const both = [room.ids.writer, room.ids.otherWriter].sort((a, b) => a - b);
  expect(versions.map((v) => v.ids)).toEqual([[], both, both, []]);
});

it('answers a change and a move without the text', async () => {
  const { id } = await room.pitch('chief', 'A light answer', { categoryId: 1, bylineId: room.ids.chief });
  const moved = await room.move('chief', id, { to: 'commissioned', runAt: '2031-01-06T08:00' });
  const changed = await room.change('chief', id, { runAt: '2031-01-07T08:00' });
  for (const answer of [moved, changed]) {
    expect(answer.body.post).toMatchObject({ id, stage: 'commissioned' });
    expect(answer.body.post).not.toHaveProperty('body');
  }
});

it('measures anew by one job when the settings of checks change', async () => {
  for (const title of ['Open one', 'Open two', 'Open three'])
    await room.pitch('chief', title, { categoryId: 1 });
  await room.db.raw('delete from graphile_worker._private_jobs');
  await (await room.as('chief')).patch('/api/blog').send({ checks: { excerpt: 'blocks' } });
  const jobs = await room
    .db('graphile_worker._private_jobs as j')
    .join('graphile_worker._private_tasks as t', 't.id', 'j.task_id')
    .select('t.identifier', 'j.payload');
  expect(jobs).toEqual([{ identifier: 'remeasure', payload: { blogId: 1, all: true } }]);
});
