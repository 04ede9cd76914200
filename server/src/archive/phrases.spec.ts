import type { ArchiveIds } from '@keyroster/contract';
import { measurePost } from '../desk/measure.js';
import { makeWordPairs } from '../posts/word-pairs.js';
import { findPerson } from '../accounts/who.js';
import { Newsroom } from '../testing/newsroom.js';
import { firstIds } from './first.js';
import { phrasesIn, phrasesOf } from './phrases.js';

let room: Newsroom;
beforeAll(async () => {
  room = await Newsroom.make();
});
afterAll(() => room.close());

// Written as PostgreSQL writes them: its documentation, “Text Search Types”, tsquery.
it.each([
  ["'morn' <-> 'path' & !'hors'", ['morn path'], "!'hors'"],
  ["'cold' <-> 'morn' <-> 'path'", ['cold morn', 'morn path'], ''],
  ["'morn' & 'path' & !'hors'", [], ''],
  ["'morn' <2> 'path'", [], ''],
  ["'ice' & !( 'morn' <-> 'path' )", [], ''],
  ["!( 'morn' <-> 'path' ) & 'lock' <-> 'gate'", ['lock gate'], ''],
  [
    "!'o''clock' & 'lock' <-> 'gate' & !'hors' & !( 'ice' & !'thaw' )",
    ['lock gate'],
    "!'o''clock' & !'hors'",
  ],
  ["'lock' <-> 'gate' & !'morn' <-> 'path'", ['lock gate'], ''],
  ["'lock' <-> 'gate' & 'morn' <-> !'path'", ['lock gate'], ''],
  ["'morn' <-> 'path' & !'hors' | 'ice'", [], ''],
  ["'o''clock' <-> 'path'", ["o'clock path"], ''],
  ["'morn' <-> ( 'path' & 'way' )", [], ''],
  ['', [], ''],
])('the query %s has the pairs %j in every match, and in none %s', (query, pairs, without) => {
  expect(phrasesOf(query)).toEqual({ pairs, without });
});

/** Small enough that words meet often; some are left out by the search, some are cut into several. */
const WORDS = [
  'lock',
  'locks',
  'gate',
  'of',
  'the',
  'ice',
  'lock-keeper',
  'owl’s',
  "o'clock",
  'Übung',
  'a.b/c',
  '7',
];
const SIGNS = [' ', ' ', ' ', ', ', '. ', ' — ', '\n'];

/** A text of so many words, the same for the same seed. */
function textOf(seed: number, words: number): string {
  let state = seed * 7919 + 17;
  const next = (below: number) => {
    state = (state * 1103515245 + 12345) % 2147483648;
    return Math.floor((state / 2147483648) * below);
  };
  return Array.from({ length: words }, () => `${WORDS[next(WORDS.length)]}${SIGNS[next(SIGNS.length)]}`).join(
    '',
  );
}

const QUERIES = [
  ...WORDS.flatMap((a) => WORDS.map((b) => `"${a} ${b}"`)),
  '"lock gate ice"',
  '"lock of the gate"',
  '"lock gate" -ice',
  '"lock gate" -"ice lock"',
  '"lock gate" -lock',
  '-ice "the lock" -7 -a.b/c',
  '"lock -ice gate"',
  `"ice lock" -o'clock`,
  '"lock gate" or "ice 7"',
  'lock-keeper',
  'ice "the lock" gate',
  '"" "lock',
];

it('a phrase finds what PostgreSQL finds by its own, also after a text or a title changed', async () => {
  const posts = [];
  for (let i = 0; i < 30; i++) {
    const { id } = await room.pitch('chief', textOf(i, 4).replace(/\s+/g, ' '));
    if (i % 2 === 0) await room.write('chief', id, textOf(100 + i, 25));
    posts.push(id);
  }
  const chief = (await findPerson(room.db, room.ids.chief, 1))!;
  const compare = async () => {
    let some = 0;
    for (const line of QUERIES) {
      const { ids } = (
        await (await room.as('chief')).get(`/api/archive/ids?line=${encodeURIComponent(line)}&sort=title`)
      ).body as ArchiveIds;
      // The first rows are come by in other ways: as it is decided, and as if three were many.
      for (const many of [undefined, 3])
        expect([line, many, await firstIds(room.db, chief, { line, sort: 'title' }, many)]).toEqual([
          line,
          many,
          ids,
        ]);
      const wanted = await room
        .db('all_posts')
        .whereRaw(`search @@ websearch_to_tsquery('english', ?)`, [line])
        .pluck<number[]>('id');
      expect([line, [...ids].sort((a, b) => a - b)]).toEqual([line, wanted.sort((a, b) => a - b)]);
      if (wanted.length > 0 && wanted.length < posts.length) some++;
    }
    // Neither everything nor nothing is found by most of them.
    expect(some).toBeGreaterThan(QUERIES.length / 3);
  };
  const unmade = async () =>
    (await room.db('word_pairs').whereNull('pairs').orderBy('post_id').pluck<number[]>('post_id')).length;
  // Before they are made, and once they are: all of them, or those of a few posts.
  await compare();
  expect(await unmade()).toBeGreaterThan(25);
  await makeWordPairs(room.db, posts.slice(0, 20));
  await compare();
  await makeWordPairs(room.db);
  expect(await unmade()).toBe(0);
  await compare();
  const [title, written] = [posts.slice(0, 10), posts.slice(5, 15)];
  for (const id of title) await room.change('chief', id, { title: textOf(id + 500, 5).replace(/\s+/g, ' ') });
  for (const id of written) await room.write('chief', id, textOf(id + 900, 30));
  expect(await unmade()).toBe(15);
  await compare();
  // Measuring makes them.
  for (const id of posts) await measurePost(room.db, id);
  expect(await unmade()).toBe(0);
  await compare();
  await room.change('chief', posts[0]!, { campaign: 'Thaw' });
  expect(await unmade()).toBe(0);
});

it('the database is asked for phrases only where there may be some, and once', async () => {
  let asked = 0;
  const count = () => asked++;
  room.db.on('query', count);
  expect(await phrasesIn(room.db, 'frost kettle')).toEqual({ pairs: [], without: '' });
  expect(asked).toBe(0);
  for (let n = 0; n < 2; n++)
    expect(await phrasesIn(room.db, '"frozen locks" -kettles')).toEqual({
      pairs: ['frozen lock'],
      without: "!'kettl'",
    });
  expect(asked).toBe(1);
  room.db.removeListener('query', count);
});
