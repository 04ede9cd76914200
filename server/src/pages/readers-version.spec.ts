import type { UpdateView, VersionsView } from '@keyroster/contract';
import { columnsOf, COLUMN_FIELDS } from '../posts/columns.js';
import { HELD_FIELDS } from '@keyroster/core';
import { pageAt } from './pages.js';
import { release } from '../posts/release.js';
import { doc, eventually, fromNow, Newsroom, type Who } from '../testing/newsroom.js';

describe('a published post that is worked on', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make({ jobs: true });
  });
  afterAll(() => room.close());

  let n = 0;
  async function out() {
    const post = await room.scheduled(fromNow(-1), `Out and about ${++n}`);
    await release(room.db, post.id);
    return room.see('chief', post.id);
  }
  const write = async (who: Who, id: number, ...paragraphs: string[]) =>
    (await room.as(who))
      .put(`/api/posts/${id}/body`)
      .set('If-Match', `"${(await room.see('chief', id)).version}"`)
      .send({ body: doc(...paragraphs) });
  const update = (who: Who, id: number, version?: number) => room.update(who, id, version);
  const pending = async (who: Who, id: number) => {
    const reply = await (await room.as(who)).get(`/api/posts/${id}/update`);
    return { status: reply.status, ...(reply.body as UpdateView) };
  };
  /** Pages are kept until they are told to go; here they are made from the database. */
  const again = async (path: string) => {
    const page = (await pageAt(room.db, room.running.services.settings, path))!;
    return { status: page.status, text: page.body, location: page.location };
  };

  it('stays as it was on every page, feed and list until it is updated', async () => {
    const { id, slug } = await out();
    await write('chief', id, 'A new text about herons.');
    const changed = await room.change('chief', id, {
      title: 'Herons at the weir',
      excerpt: 'Unseen excerpt',
      tags: ['unseen-tag'],
    });
    expect(changed.body.sentence).toBe('Saved. Readers see it once the post is updated.');
    for (const path of [`/${slug}`, '/', '/feed.atom', '/feed.rss', '/feed.json']) {
      const { text } = await again(path);
      expect(text).toContain(`Out and about ${n}`);
      expect(text).not.toMatch(/heron|unseen[ -]/i);
    }
    expect((await again('/tag/unseen-tag')).status).toBe(404);

    const done = await update('chief', id);
    expect([done.status, done.body.sentence]).toEqual([200, 'Updated. Readers see it as it is now.']);
    expect((await again(`/${slug}`)).text).toContain('A new text about herons.');
    const kept = () => room.nobody().get(`/${slug}`);
    await eventually(async () => (await kept()).text.includes('Herons at the weir'));
    for (const path of ['/', '/feed.atom', '/tag/unseen-tag'])
      expect((await again(path)).text).toContain('Herons at the weir');
    const versions = (await (await room.as('chief')).get(`/api/posts/${id}/versions`)).body as VersionsView;
    expect([versions.versions[0]!.updated, versions.readersSee]).toEqual([true, null]);
  });

  it('says what an update would change, for whom it is to decide', async () => {
    const post = await out();
    expect(await pending('chief', post.id)).toMatchObject({ status: 200, comparison: null, missing: '' });
    await write('editor', post.id, 'Another text.');
    await room.change('editor', post.id, { campaign: 'Winter', excerpt: 'Shorter.' });
    const seen = await pending('editor', post.id);
    expect(seen.comparison).toMatchObject({ from: { version: post.version }, current: post.version + 2 });
    // What is the newsroom's own is nothing that readers would see.
    expect(seen.comparison!.details.map((d) => d.name)).toEqual(['excerpt']);
    expect(seen).toMatchObject({ missing: '', behind: [] });
    expect((await pending('writer', post.id)).status).toBe(403);
    expect((await update('writer', post.id)).status).toBe(403);
    expect((await update('editor', post.id, post.version)).status).toBe(412);
    expect((await update('editor', post.id)).status).toBe(200);
    expect((await update('editor', post.id)).status).toBe(400);
  });

  it('keeps its address until then, and leads from the former one afterwards', async () => {
    const { id, slug } = await out();
    await room.change('chief', id, { slug: `moved-house-${n}` });
    expect([(await again(`/${slug}`)).status, (await again(`/moved-house-${n}`)).status]).toEqual([200, 404]);
    await update('chief', id);
    const old = await again(`/${slug}`);
    expect([old.status, old.location]).toEqual([301, `/moved-house-${n}`]);
    expect((await again(`/moved-house-${n}`)).status).toBe(200);
  });

  it('is shown to staff alone at once, and never hides its withdrawal', async () => {
    const { id, slug } = await out();
    await room.change('chief', id, { title: 'Held back title' });
    await room.change('chief', id, { access: 'staff' });
    expect((await again(`/${slug}`)).status).toBe(404);
    await room.change('chief', id, { access: 'everyone' });
    expect((await again(`/${slug}`)).status).toBe(200);
    await room.move('chief', id, { to: 'withdrawn' });
    expect((await again(`/${slug}`)).status).toBe(410);
    // What only staff saw is not known to have been there.
    await room.change('chief', id, { access: 'staff' });
    expect((await again(`/${slug}`)).status).toBe(404);
    await room.change('chief', id, { access: 'everyone' });
    // Published again at once, it is as readers knew it.
    await room.move('chief', id, { to: 'published' });
    expect((await again(`/${slug}`)).text).toContain(`Out and about ${n}`);
    expect((await again(`/${slug}`)).text).not.toContain('Held back title');
  });

  it('takes a merged category over for its readers, past what waits', async () => {
    const chief = await room.as('chief');
    const from = (await chief.post('/api/categories').send({ name: `Rope ${n}`, hue: 3 })).body as {
      id: number;
    };
    const { id, slug } = await out();
    await room.change('chief', id, { categoryId: from.id });
    await update('chief', id);
    await room.change('chief', id, { title: 'Waiting title' });
    expect((await chief.patch(`/api/categories/${from.id}`).send({ mergeInto: 1 })).status).toBe(200);
    const { text } = await again(`/${slug}`);
    expect(text).toContain(`Out and about ${n}`);
    expect(text).not.toContain('Waiting title');
    const row = await room.db('readers_versions').where({ post_id: id }).first('category_id');
    expect(row).toEqual({ category_id: 1 });
  });

  it('is changed by a batch at once, or with its next update, as the batch says', async () => {
    const [now, later] = [await out(), await out()];
    const chief = await room.as('chief');
    const applied = (id: number) =>
      eventually(async () => (await chief.get(`/api/batches/${id}`)).body.state === 'applied');
    const rewrite = async (id: number, words: string, atOnce?: boolean) => {
      const changes = [
        { kind: 'replace', places: ['excerpt'], find: 'Old', with: words, pattern: false, capitals: false },
      ];
      const body = { changes, ids: [id], ...(atOnce === undefined ? {} : { atOnce }) };
      const preview = await chief.post('/api/batches').send(body);
      expect(preview.body).toMatchObject({ atOnce: atOnce ?? true, counts: { changes: 1 } });
      await chief.post(`/api/batches/${preview.body.id}/apply`).send({});
      await applied(preview.body.id as number);
      return preview.body.id as number;
    };
    for (const { id } of [now, later]) {
      await room.change('chief', id, { excerpt: 'Old words' });
      await room.update('chief', id);
    }
    await room.change('chief', now.id, { title: 'Waiting on' });
    await rewrite(now.id, 'Brand new');
    const shown = await again(`/${now.slug}`);
    expect(shown.text).toContain('Brand new words');
    expect(shown.text).not.toContain('Waiting on');
    const batch = await rewrite(later.id, 'Unseen', false);
    expect((await again(`/${later.slug}`)).text).toContain('Old words');
    // Undone it is as it was, and waits for nothing that readers would notice.
    const undo = await chief.post(`/api/batches/${batch}/back`).send({});
    await chief.post(`/api/batches/${undo.body.id}/apply`).send({});
    await applied(undo.body.id as number);
    expect((await room.see('chief', later.id)).excerpt).toBe('Old words');
    await rewrite(later.id, 'Unseen', false);
    expect((await room.see('chief', later.id)).excerpt).toBe('Unseen words');
    expect((await room.update('chief', later.id)).body.sentence).toBe(
      'Updated. Readers see it as it is now.',
    );
    expect((await again(`/${later.slug}`)).text).toContain('Unseen words');
  });

  it('is held back by what its checks block', async () => {
    const { id } = await out();
    await room.change('chief', id, { title: 'x'.repeat(200), excerpt: 'y' });
    const seen = await pending('chief', id);
    const done = await update('chief', id);
    // Whatever the blog's checks say of it, the two agree.
    expect([seen.missing === '', done.status]).toEqual(done.status === 200 ? [true, 200] : [false, 409]);
  });

  it('has a column for every field that waits, and not one for what counts at once', async () => {
    const columns = await room.db('readers_versions').columnInfo();
    const wanted = HELD_FIELDS.flatMap((f) =>
      f === 'tagIds'
        ? ['tag_ids']
        : f === 'coauthorIds'
          ? ['coauthor_ids']
          : columnsOf(f as (typeof COLUMN_FIELDS)[number]).map(([name]) => name),
    );
    const own = ['post_id', 'blog_id', 'version', 'updated_at', 'media_ids', 'file_ids', 'search'];
    expect(Object.keys(columns).sort()).toEqual([...wanted, ...own].sort());
  });
});
