import { Newsroom } from '../testing/newsroom.js';
import { pageAt } from './pages.js';
import { relatePost } from './relate.js';

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make();
});
afterAll(() => room.close());
const page = async (path: string, query?: string) =>
  (await pageAt(room.db, room.running.services.settings, path, { query }))!;

describe('what readers find', () => {
  it('by its words, with the matches marked and nothing that they may not see', async () => {
    const post = await room.published('A windlass for the paddle');
    await room.published('Staff have a windlass too', { access: 'staff' });
    await room.cleared('A windlass that is not out');
    const { body } = await page('/search', 'windlass <script>');
    expect(body).not.toContain('<script>');
    const found = (await page('/search', 'WINDLASS')).body;
    expect(found).toContain('A <mark>windlass</mark> for the paddle');
    expect(found).not.toMatch(/Staff have|not out/);
    // What waits for its update is not found yet; what readers see still is.
    await room.change('chief', post.id, { title: 'A crank for the paddle' });
    expect((await page('/search', 'crank')).body).toContain('Nothing on Test Lock has “crank”.');
    expect((await page('/search', 'windlass')).body).toContain('for the paddle</a>');
    for (const hostile of ["' or 1=1 --", '"', '\\', ':* & !', '\u0000\ue000x', 'a'.repeat(5000), '%00'])
      expect((await page('/search', hostile)).status).toBe(200);
  });

  it('by its words again and again, by a feed of what is asked', async () => {
    const post = await room.published('Ratchets & pawls, explained');
    await room.published('Staff keep ratchets too', { access: 'staff' });
    await room.cleared('Ratchets that are not out');
    const shown = (await page('/search', 'ratchets & pawls')).body;
    expect(shown).toContain('href="/search/feed.atom?q=ratchets+%26+pawls"');
    const asked = async (query: string, kind = 'json') => {
      const { status, text, headers } = await (
        await room.as('chief')
      )
        .get(`/search/feed.${kind}`)
        .query({ q: query });
      expect([status, headers['content-type']]).toEqual([200, expect.stringContaining(kind)]);
      return text;
    };
    // The same for staff: a feed is read by programs that are nobody.
    const feed = JSON.parse(await asked('ratchets')) as {
      title: string;
      feed_url: string;
      items: { title: string }[];
    };
    expect(feed.title).toBe('Search: ratchets · Test Lock');
    expect(feed.items.map((i) => i.title)).toEqual(['Ratchets & pawls, explained']);
    expect(await asked('ratchets & pawls', 'atom')).toContain('/search/feed.atom?q=ratchets+%26+pawls');
    expect(await asked('no such thing', 'rss')).toContain('<title>Search: no such thing · Test Lock</title>');
    await room.change('chief', post.id, { title: 'Cranks, explained' });
    expect((JSON.parse(await asked('cranks')) as { items: object[] }).items).toEqual([]);
    expect((await page('/search/feed.atom')).status).toBe(404);
  });

  it('by writer, month and year, each with its feeds; whoever has nothing out has no page', async () => {
    const { writer, otherWriter } = room.ids;
    const slugOf = async (id: number) =>
      (await room.db('memberships').where({ person_id: id }).first<{ slug: string }>('slug'))!.slug;
    const mine = await page(`/writer/${await slugOf(writer)}`);
    expect(mine.body).toContain('ProfilePage');
    expect((await page(`/writer/${await slugOf(otherWriter)}`)).status).toBe(404);
    expect((await page('/writers')).body).not.toContain('otherWriter');
    // Nor does a feed tell the name of a person, or of a tag, that no page has.
    await room.change('chief', (await room.cleared('Tagged')).id, { tags: ['hush'] });
    for (const path of [`/writer/${await slugOf(otherWriter)}`, '/tag/hush', '/1999'])
      for (const kind of ['atom', 'rss', 'json'])
        expect((await page(`${path}/feed.${kind}`)).status).toBe(404);
    const { runLocal } = await room.published('For its month');
    const [year, month] = [runLocal!.slice(0, 4), runLocal!.slice(5, 7)];
    for (const base of [
      `/${year}`,
      `/${year}/${month}`,
      `/writer/${await slugOf(writer)}`,
      '/category/towpath',
    ])
      for (const path of [base, `${base}/feed.atom`, `${base}/feed.rss`, `${base}/feed.json`]) {
        const { status, body } = await page(path);
        expect([path, status, body.includes('For its month')]).toEqual([path, 200, true]);
      }
    expect((await page(`/${year}/13`)).status).toBe(404);
    expect((await page('/1999')).status).toBe(404);
    expect(await page(`/${year}/${month}/page/1`)).toMatchObject({ status: 301 });
    expect((await page('/archive')).body).toContain(`/${year}/${month}"`);
  });

  it('under a post what is most like it, and nothing that is hidden from them', async () => {
    const text = (words: string) => ({
      type: 'doc',
      content: [{ type: 'paragraph', content: [{ type: 'text', text: words }] }],
    });
    const made: number[] = [];
    for (const [title, words, access] of [
      ['Eels in the weir', 'Eels climb the weir at night when the sluice is shut.', 'everyone'],
      ['Eels again', 'The eels of the weir are few now; the sluice is to blame.', 'everyone'],
      ['Eels for staff', 'Eels, weir, sluice: all of it for staff.', 'staff'],
      ['Porridge', 'Oats, water, salt, a spoon and ten minutes.', 'everyone'],
    ] as const) {
      const post = await room.published(title, { access });
      const body = JSON.stringify(text(words));
      await room.db('all_posts').where({ id: post.id }).update({ body, body_text: words });
      made.push(post.id);
    }
    for (const id of made) await relatePost(room.db, id);
    const slug = (await room.see('chief', made[0]!)).slug!;
    const related = (html: string) =>
      html.slice(html.indexOf('id="related"'), html.indexOf('aria-label="Other posts"'));
    const { body } = await page(`/${slug}`);
    expect(related(body)).toContain('Eels again');
    expect(related(body)).not.toMatch(/staff|Porridge/);
    await room.move('chief', made[1]!, { to: 'withdrawn' });
    expect((await page(`/${slug}`)).body).not.toContain('Eels again');
  });

  it('when an address is mistyped: what it may have meant', async () => {
    await room.published('The heron at Marl Bridge');
    const { status, body } = await page('/heron-marl-brigde');
    expect(status).toBe(404);
    expect(body).toContain('The heron at Marl Bridge');
    for (const odd of ['/%E0%A4%A', '/a/b/c/d', '/writer/', '/..%2f..%2fetc', '/search/feed.exe'])
      expect([404, 301, 200]).toContain((await page(odd)).status);
  });
});
