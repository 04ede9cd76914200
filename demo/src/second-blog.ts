import { addDays, newPanel, wallTimeOf, weekday, type Look, type Role } from '@keyroster/core';
import type { Loading } from './loading.js';
import { ZONE, insertPost } from './load-posts.js';
import { readTexts } from './texts.js';

const PEOPLE: [key: string, role: Role][] = [
  ['MW', 'managing editor'],
  ['IN', 'editor'],
  ['JM', 'contributor'],
];
const CATEGORIES = [
  { name: 'Birds and beasts', slug: 'birds-beasts', hue: 6 },
  { name: 'Green things', slug: 'green-things', hue: 4 },
];
/** Titles of the green things; the others are birds and beasts. */
const GREEN = /reeds|Duckweed|willows/;
const SATURDAY = 6;
const LOOK: Look = {
  look: 'plate',
  palette: 'harbour',
  measure: 'narrow',
  size: 'medium',
  facts: ['byline', 'date', 'reading time'],
};

/** A second, smaller blog of the same newsroom, with some of the same people, at a path of its own. */
export async function loadSecondBlog(first: Loading, home: string): Promise<void> {
  const { trx, now } = first;
  const zone = ZONE;
  const [blog] = await trx('blogs')
    .insert({
      title: 'Reed and Weir',
      tagline: 'What lives beside the water, Saturdays at nine',
      zone,
      path: '/reed',
      home: `${home}/reed`,
      look: JSON.stringify(LOOK),
      site: JSON.stringify({ postsPerPage: 6 }),
      menu: JSON.stringify([
        { kind: 'page', page: 'front', label: '' },
        { kind: 'page', page: 'archive', label: '' },
        { kind: 'address', url: `${home}/`, label: 'Halfway Lock' },
      ]),
      panels: JSON.stringify([newPanel('search')]),
    })
    .returning<{ id: number }[]>('id');
  const to: Loading = {
    ...first,
    blogId: blog!.id,
    nowLocal: wallTimeOf(now, zone),
    categories: new Map(),
    formats: new Map(),
    pictures: new Map(),
    slugs: new Set(),
  };
  for (const [key, role] of PEOPLE)
    await trx('memberships').insert({ blog_id: to.blogId, person_id: to.people.get(key)!, role });
  for (const category of CATEGORIES) {
    const [row] = await trx('categories')
      .insert({ blog_id: to.blogId, ...category })
      .returning<{ id: number }[]>('id');
    to.categories.set(category.name, row!.id);
  }
  await trx('editor_categories').insert(
    [...to.categories.values()].map((category_id) => ({
      blog_id: to.blogId,
      person_id: to.people.get('IN'),
      category_id,
    })),
  );
  await trx('slots').insert({
    blog_id: to.blogId,
    weekday: SATURDAY,
    time: '09:00',
    category_id: to.categories.get('Birds and beasts'),
  });
  await bringPictures(first, to);
  await loadPosts(to);
}

/** The pictures that its posts use, taken from the first blog with all their sizes. */
async function bringPictures(first: Loading, to: Loading): Promise<void> {
  for (const name of readTexts('reed').flatMap((t) => t.picture ?? [])) {
    const { rows } = await to.trx.raw<{ rows: { id: number }[] }>(
      `
        insert into
          media (blog_id, added_by, sha256, type, width, height, bytes, name, alt, credit, licence, tags)
        select
          ?, added_by, sha256, type, width, height, bytes, name, alt, credit, licence, tags
        from
          media
        where
          id = ?
        returning
          id
      `,
      [to.blogId, first.pictures.get(name)!],
    );
    to.pictures.set(name, rows[0]!.id);
  }
}

/** One on each Saturday that has passed, the newest first. */
async function loadPosts(to: Loading): Promise<void> {
  const today = to.nowLocal.slice(0, 10);
  const last = addDays(today, -((weekday(today) - SATURDAY + 7) % 7) - (weekday(today) === SATURDAY ? 7 : 0));
  for (const [i, text] of readTexts('reed').entries()) {
    const runLocal = `${addDays(last, -7 * i)}T09:00:00`;
    await insertPost(to, {
      text,
      stage: 'published',
      categoryId: to.categories.get(GREEN.test(text.title) ? 'Green things' : 'Birds and beasts')!,
      runLocal,
      createdAt: `${addDays(runLocal.slice(0, 10), -10)}T10:00:00Z`,
      stageSince: `${runLocal}Z`,
      fields: {},
    });
  }
}
