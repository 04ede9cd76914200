import {
  ARCHIVE_TEXTS,
  type ArchiveIds,
  type ArchiveOrder,
  type ArchiveRows,
  type ArchiveSort,
  type ArchiveText,
} from '@keyroster/contract';
import { STAGES } from '@keyroster/core';
import { findPerson } from '../accounts/who.js';
import type { CurrentPerson } from '../http/current-person.js';
import { textColumn } from '../posts/columns.js';
import { Newsroom } from '../testing/newsroom.js';
import { firstIds } from './first.js';

interface Plain {
  id: number;
  title: string;
  stage: string;
  byline: string | null;
  category: string | null;
  format: string | null;
  tags: string[];
  run_at: string | null;
  words: number;
  slug: string | null;
  access: string;
  comments: boolean;
  findings: number;
  created_at: string;
  updated_at: string;
}

const SORTS: ArchiveSort[] = [
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
];
const ORDERS = SORTS.flatMap((s): ArchiveOrder[] => [s, `-${s}`]);
const NOTHING = 'tag:frost -tag:frost';
const FILTERS = [
  '',
  'byline:"chief Test"',
  'byline:nobody',
  'category:Engine',
  '-category:Engine',
  'tag:frost',
  '-tag:frost',
  'tag:none',
  'tag:frost tag:weirs lacks:picture',
  'tag:weirs category:Engine',
  'category:Engine category:none -tag:frost',
  'changed-by:"writer Test"',
  'has:notes',
  'released:2031',
  'stage:pitch access:staff',
  'checks:fine -changed-by:"writer Test"',
  'tale',
  NOTHING,
  'tag:frost tag:weirs -tag:frost',
  'has:notes has:picture lacks:picture',
  'lacks:category lacks:byline has:byline',
  'stage:commissioned',
  'format:Letter',
  'byline:nobody byline:"chief Test"',
  '-byline:"chief Test"',
  '-format:Letter -tag:Weirs',
  'changed-by:"writer Test" -tag:frost',
  'changed-by:"writer Test" byline:"chief Test" byline:nobody',
  '-byline:"writer Test" changed-by:"writer Test"',
  '-byline:"chief Test" -changed-by:"chief Test"',
];

let room: Newsroom;
let chief: CurrentPerson;
let plain: Plain[];

/** What every post says, each in a handful of values, so that most things are alike somewhere. */
async function fill(): Promise<void> {
  const { db, ids } = room;
  const [tags, [format]] = await Promise.all([
    db('tags')
      .insert(['frost', 'Weirs', 'locks'].map((name) => ({ blog_id: 1, name, slug: name.toLowerCase() })))
      .returning<{ id: number }[]>('id'),
    db('formats')
      .insert({ blog_id: 1, name: 'Letter', starter: '{"type":"doc","content":[]}' })
      .returning<{ id: number }[]>('id'),
  ]);
  for (let i = 0; i < 60; i++) {
    const { id } = await room.pitch(
      i % 7 === 0 ? 'writer' : 'chief',
      `${'CaBdA'[i % 5]}${i % 3} ${i % 4 < 2 ? 'tale' : 'story'}`,
    );
    const dated = i % 3 === 1;
    const day = `203${i % 4}-0${1 + (i % 9)}-11`;
    await db('all_posts')
      .where({ id })
      .update({
        byline_id: [ids.chief, ids.writer, null][i % 3 === 2 ? 2 : i % 2],
        category_id: [1, 2, null][(i >> 1) % 3],
        second_category_id: i % 7 < 3 ? [2, 1, null][(i >> 1) % 3] : null,
        format_id: i % 4 === 0 ? format!.id : null,
        stage: STAGES[i % 5],
        campaign: ['', 'Winter', 'thaw'][i % 3],
        run_local: dated ? `${day}T12:00` : null,
        run_zone: dated ? 'Europe/London' : null,
        run_at: dated ? `${day}T12:00Z` : null,
        words: (i * 13) % 40,
        slug: i % 4 === 1 ? `slug-${(i * 7) % 60}` : null,
        access: ['staff', 'everyone', 'members', 'everyone', 'everyone'][i % 5],
        comments: i % 6 !== 0,
        check_blocks: i % 8 === 0 ? 1 : 0,
        check_warns: i % 3,
      });
    const own = tags.filter((_, at) => (i >> at) % 2 === 0 && i % 5 !== 0);
    if (own.length > 0)
      await db('post_tags').insert(own.map((t) => ({ blog_id: 1, post_id: id, tag_id: t.id })));
    if (i % 10 === 0) await db('notes').insert({ blog_id: 1, post_id: id, person_id: ids.chief, text: 'n' });
  }
}

async function readPlainly(): Promise<Plain[]> {
  const { rows } = await room.db.raw<{ rows: Plain[] }>(`
    select p.*, b.name as byline, c.name as category, f.name as format,
      p.check_blocks * 1000 + p.check_warns as findings,
      array(select t.name from post_tags pt join tags t on t.id = pt.tag_id where pt.post_id = p.id) as tags
    from all_posts p
      left join people b on b.id = p.byline_id
      left join categories c on c.id = p.category_id
      left join formats f on f.id = p.format_id`);
  return rows;
}

const textOf = (p: Plain, field: ArchiveText) => String(p[textColumn(field) as keyof Plain]);

/** The same orders, said by comparing two posts; `undefined` comes last either way. */
const KEYS: Record<ArchiveSort, (p: Plain, down: boolean) => string | number | undefined> = {
  title: (p) => p.title.toLowerCase(),
  byline: (p) => p.byline?.toLowerCase(),
  category: (p) => p.category?.toLowerCase(),
  tags: (p, down) =>
    p.tags
      .map((t) => t.toLowerCase())
      .sort()
      .at(down ? -1 : 0),
  // As numbers: as text, a full second would stand behind its own parts.
  run: (p) => (p.run_at === null ? undefined : Date.parse(p.run_at)),
  stage: (p) => STAGES.findIndex((s) => s === p.stage),
  words: (p) => p.words,
  changed: (p) => Date.parse(p.updated_at),
  made: (p) => Date.parse(p.created_at),
  slug: (p) => p.slug ?? undefined,
  access: (p) => p.access,
  comments: (p) => Number(p.comments),
  ...(Object.fromEntries(
    ARCHIVE_TEXTS.map((f) => [f, (p: Plain) => textOf(p, f).toLowerCase() || undefined]),
  ) as Record<ArchiveText, (p: Plain) => string | undefined>),
  format: (p) => p.format?.toLowerCase(),
  checks: (p) => p.findings,
};
const ALONE = new Set<ArchiveSort>(['title', 'run', 'words', 'changed', 'made', 'slug']);

function inOrder(order: ArchiveOrder): number[] {
  const down = order.startsWith('-');
  const by = (down ? order.slice(1) : order) as ArchiveSort;
  const way = down ? -1 : 1;
  const compare = (a: string | number | undefined, b: string | number | undefined, w: number) =>
    a === b ? 0 : a === undefined ? 1 : b === undefined ? -1 : a < b ? -w : w;
  return [...plain]
    .sort(
      (a, b) =>
        compare(KEYS[by](a, down), KEYS[by](b, down), way) ||
        (ALONE.has(by)
          ? way * (a.id - b.id)
          : compare(KEYS.run(a, down), KEYS.run(b, down), -1) || b.id - a.id),
    )
    .map((p) => p.id);
}

const all = async (line: string, sort: ArchiveOrder) =>
  (
    (await (await room.as('chief')).get(`/api/archive/ids?line=${encodeURIComponent(line)}&sort=${sort}`))
      .body as ArchiveIds
  ).ids;

beforeAll(async () => {
  room = await Newsroom.make();
  await fill();
  plain = await readPlainly();
  chief = (await findPerson(room.db, room.ids.chief, 1))!;
});
afterAll(() => room.close());

describe('the first rows of the archive', () => {
  it.each(ORDERS)('stand in the order %s as plain comparing puts them', async (order) => {
    expect(await all('', order)).toEqual(inOrder(order));
  });

  it.each(FILTERS)('are the same whether found and sorted or read in order: “%s”', async (line) => {
    for (const order of ORDERS) {
      const wanted = await all(line, order);
      for (const limit of [1, 60])
        // As it is decided, always read, and as if five were many.
        for (const many of [undefined, 0, 5]) {
          const ids = await firstIds(room.db, chief, { line, sort: order, limit }, many);
          expect([order, many, ids]).toEqual([order, many, wanted.slice(0, limit)]);
        }
    }
    expect(wantedSome(line, await all(line, '-run'))).toBe(true);
  });

  it('know a post that loses its last tag, on whatever way', async () => {
    const post = plain.find((p) => p.tags.length > 0)!;
    await room.db('post_tags').where({ post_id: post.id }).delete();
    const rows = (await (await room.as('chief')).get('/api/archive?line=tag:none')).body as ArchiveRows;
    expect(rows.rows.map((r) => r.id)).toContain(post.id);
  });

  it('stand by their tags anew once one is renamed, given by a batch or merged into another', async () => {
    const tag = (name: string) => room.db('tags').where({ name }).first<{ id: number }>('id');
    const inOrders = async () => {
      plain = await readPlainly();
      for (const order of ['tags', '-tags'] as const)
        expect([order, await all('', order)]).toEqual([order, inOrder(order)]);
      return Object.fromEntries(plain.map((p) => [p.id, p.tags.sort()]));
    };
    const frost = (await tag('frost'))!;
    const change = async (body: object) =>
      expect((await (await room.as('chief')).patch(`/api/tags/${frost.id}`).send(body)).status).toBe(200);
    await change({ name: 'Yarn' });
    expect(Object.values(await inOrders()).filter((t) => t.includes('Yarn')).length).toBeGreaterThan(9);

    const ids = plain.filter((p) => p.stage === 'pitch' && p.tags.length !== 1).map((p) => p.id);
    for (const id of ids) await room.change('chief', id, { tags: ['locks'] });
    const given = await inOrders();
    expect(ids.map((id) => given[id])).toEqual(ids.map(() => ['locks']));

    await change({ mergeInto: (await tag('Weirs'))!.id });
    expect(Object.values(await inOrders()).some((t) => t.includes('Yarn'))).toBe(false);
  });
});

/** No filter above is so narrow, or so wide, that nothing is tested by it; one asks for what it rules out. */
const wantedSome = (line: string, ids: number[]) =>
  line === NOTHING ? ids.length === 0 : ids.length > 0 && (line === '' || ids.length < plain.length);
