import { parse } from 'csv-parse/sync';
import MiniSearch from 'minisearch';
import { stemmer } from 'stemmer';
import type {
  ArchiveCounts,
  ArchiveIds,
  ArchiveRows,
  KeptFilter,
  PickedRows,
  PostView,
} from '@keyroster/contract';
import { Newsroom, type Who } from '../testing/newsroom.js';

let room: Newsroom;
/** Title, text: a small corpus for the reference search library. */
const CORPUS: [string, string][] = [
  ['Draining the raw water pump', 'Winter is hard on pumps. Drain the strainer before the first frost.'],
  ['Frost on the steps', 'The lock keeper salted the steps at six and the boats waited.'],
  ['A stove that will not draw', 'Soot narrows the flue. Sweep it twice a winter and keep the kettle on.'],
  ['Letters from lock 22', 'A reader asks whether frozen locks are ever worked by hand.'],
  ['The long pound in fog', 'Boating slowly, sounding the horn, steering by the towpath hedge.'],
  ['Weed in the propeller', 'Stop the engine, lift the hatch, and never reach in while it turns.'],
];
const posts: PostView[] = [];
const get = async (who: Who, path: string) => (await room.as(who)).get(path);
const ids = async (line: string, who: Who = 'chief', sort = 'made') =>
  ((await get(who, `/api/archive/ids?line=${encodeURIComponent(line)}&sort=${sort}`)).body as ArchiveIds).ids;
const titles = async (line: string) => {
  const found = new Set(await ids(line));
  return posts.filter((p) => found.has(p.id)).map((p) => p.title);
};

beforeAll(async () => {
  room = await Newsroom.make();
  for (const [title, text] of CORPUS) {
    const post = await room.pitch('chief', title, {
      categoryId: title.startsWith('Weed') ? 2 : 1,
      bylineId: title.startsWith('Letters') ? room.ids.writer : room.ids.chief,
    });
    posts.push(post);
    await room
      .db('all_posts')
      .where({ id: post.id })
      .update({ body_text: text, words: text.split(' ').length });
  }
});
afterAll(() => room.close());

describe('finding posts', () => {
  it('finds by words what a reference search library finds', async () => {
    // MiniSearch 7 with Porter's stemmer over the words of either; all words must be there.
    const index = new MiniSearch({
      fields: ['title', 'text'],
      processTerm: (term) => stemmer(term.toLowerCase()),
      searchOptions: { combineWith: 'AND' },
    });
    index.addAll(CORPUS.map(([title, text], id) => ({ id, title, text })));
    for (const words of [
      'winter',
      'pumps',
      'drain',
      'frost',
      'lock',
      'boats',
      'boating',
      'keeper steps',
      'engine hatch',
      'letters',
      'kettle',
      'horn hedge',
      'propeller',
      'nothing here',
      'sweep',
      'frozen',
    ]) {
      const wanted = index
        .search(words)
        .map((found) => CORPUS[found.id as number]![0])
        .sort();
      expect([words, (await titles(words)).sort()]).toEqual([words, wanted]);
    }
  });

  it('knows phrases and exclusion, and shows where', async () => {
    expect(await titles('"long pound"')).toEqual(['The long pound in fog']);
    expect(await titles('"pound long"')).toEqual([]);
    expect(await titles('winter -stove')).toEqual(['Draining the raw water pump']);
    const picked = (await get('chief', `/api/archive/picked?ids=${posts[1]!.id},${posts[0]!.id}&words=frost`))
      .body as PickedRows;
    expect(picked.rows.map((r) => r.title)).toEqual(['Frost on the steps', 'Draining the raw water pump']);
    const place = picked.places.find((p) => p.postId === posts[0]!.id)!;
    expect(place.marks.map(([from, to]) => place.text.slice(from, to))).toEqual(['frost']);
  });

  it('knows every token, alternatives of one key, and their opposite', async () => {
    expect(await titles('byline:"writer Test"')).toEqual(['Letters from lock 22']);
    expect(await titles('-byline:"writer Test" category:engine')).toEqual(['Weed in the propeller']);
    expect(await titles('category:Towpath category:Engine')).toHaveLength(6);
    expect(await titles('-category:Towpath')).toEqual(['Weed in the propeller']);
    expect(await titles('stage:drafting')).toEqual([]);
    expect(await titles('lacks:excerpt')).toHaveLength(6);
    expect(await titles('has:picture')).toEqual([]);
    expect(await titles('lacks:run-time released:2026')).toEqual([]);
    expect(await titles(`changed:${new Date().getUTCFullYear() - 1}..`)).toHaveLength(6);
    expect(await titles('byline:Somebody')).toEqual([]);
    expect(await titles('batch:1')).toEqual([]);
    expect(await titles('changed-by:"chief Test"')).toHaveLength(6);
    for (const line of ['tag:none', 'format:none', 'campaign:none', 'access:everyone', 'has:comments'])
      expect([line, (await titles(line)).length]).toEqual([line, 6]);
    for (const line of [
      'checks:blocking',
      'checks:warning',
      'checks:links',
      'tag:x',
      'format:x',
      'campaign:x',
      'access:staff',
      'has:notes',
      'has:tags',
      'lacks:text',
      'in:bin',
      'released:soon',
      'batch:x',
      'has:wings',
      'byline:nobody',
      'category:none',
    ])
      expect([
        line,
        (await get('chief', `/api/archive?line=${encodeURIComponent(line)}`)).status,
        (await titles(line)).length,
      ]).toEqual([line, 200, 0]);
  });

  it('sorts by every column, both ways, and counts by stage', async () => {
    for (const sort of [
      'title',
      'byline',
      'category',
      'tags',
      'run',
      'stage',
      'words',
      'changed',
      'made',
      'slug',
      'access',
      'comments',
      'campaign',
      'format',
      'checks',
    ]) {
      const [up, down] = [await ids('', 'chief', sort), await ids('', 'chief', `-${sort}`)];
      expect([sort, [...up].sort(), [...down].sort()]).toEqual([
        sort,
        posts.map((p) => p.id).sort(),
        posts.map((p) => p.id).sort(),
      ]);
      const rows = ((await get('chief', `/api/archive?sort=${sort}&limit=3`)).body as ArchiveRows).rows;
      expect(rows.map((r) => r.id)).toEqual(up.slice(0, 3));
    }
    const byTitle = ((await get('chief', '/api/archive?sort=title')).body as ArchiveRows).rows.map(
      (r) => r.title,
    );
    expect(byTitle).toEqual([...byTitle].sort((a, b) => (a.toLowerCase() < b.toLowerCase() ? -1 : 1)));
    expect((await get('chief', '/api/archive/counts?line=lock')).body as ArchiveCounts).toEqual({
      total: 2,
      stages: { pitch: 2 },
      bin: 0,
    });
    expect((await get('chief', '/api/archive?sort=drop')).status).toBe(400);
  });

  it('shows proofreaders no more than they may see, and readers nothing', async () => {
    expect(await ids('', 'proofreader')).toEqual([]);
    await room.db('all_posts').where({ id: posts[0]!.id }).update({ proofreader_id: room.ids.proofreader });
    expect(await ids('', 'proofreader')).toEqual([posts[0]!.id]);
    const picked = (await get('proofreader', `/api/archive/picked?ids=${posts[0]!.id},${posts[1]!.id}`))
      .body as PickedRows;
    expect(picked.rows.map((r) => r.id)).toEqual([posts[0]!.id]);
    expect((await get('reader', '/api/archive')).status).toBe(403);
  });

  it('leaves as CSV that RFC 4180 readers read back', async () => {
    await room
      .db('all_posts')
      .where({ id: posts[2]!.id })
      .update({ excerpt: 'Soot, “flue”\nand a "kettle"', campaign: '=1+1' });
    const answer = await get('chief', '/api/archive.csv?sort=made');
    expect(answer.headers['content-type']).toBe('text/csv; charset=utf-8');
    const read = parse(answer.text, { columns: true, bom: true, record_delimiter: '\r\n' }) as Record<
      string,
      string
    >[];
    expect(read.map((r) => r['title'])).toEqual(CORPUS.map(([title]) => title));
    expect(read[2]).toMatchObject({
      excerpt: 'Soot, “flue”\nand a "kettle"',
      campaign: `'=1+1`,
      byline: 'chief Test',
      comments: 'open',
    });
  });

  it('keeps filters under a name, one’s own and shared ones', async () => {
    const add = async (who: Who, body: object) => (await room.as(who)).post('/api/filters').send(body);
    expect(
      (await add('writer', { name: 'Mine', line: 'byline:"writer Test"', sort: '', shared: false })).status,
    ).toBe(201);
    await add('chief', { name: 'No excerpt', line: 'lacks:excerpt', sort: '-run', shared: true });
    const seen = (await get('writer', '/api/filters')).body as KeptFilter[];
    expect(seen.map((f) => f.name)).toEqual(['Mine', 'No excerpt']);
    expect((await (await room.as('writer')).delete(`/api/filters/${seen[1]!.id}`)).status).toBe(404);
    expect(
      ((await (await room.as('writer')).delete(`/api/filters/${seen[0]!.id}`)).body as KeptFilter[]).map(
        (f) => f.name,
      ),
    ).toEqual(['No excerpt']);
    expect((await add('chief', { name: '', line: 'x', sort: '', shared: true })).status).toBe(400);
  });
});
