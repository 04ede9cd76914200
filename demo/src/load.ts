import { addDays, proposeSlug, startOfWeek, wallTimeOf, weekday as weekdayOf } from '@keyroster/core';
import {
  addPerson,
  changePost,
  connect,
  copyPost,
  findPerson,
  findPost,
  hashPassword,
  storeDrawn,
  redraw,
  lockPost,
  measurePost,
  migrate,
  readBody,
  storeBody,
  type Trx,
} from '@keyroster/server';
import { loadAccess } from './access.js';
import { loadArchive } from './archive.js';
import { correctPublished } from './history.js';
import { loadCampaign } from './campaigns.js';
import { loadSpecial } from './specials.js';
import { loadFigures } from './figures.js';
import { loadOutlets, moveOutlets } from './outlets.js';
import { loadLetters } from './letters.js';
import { loadComments } from './comments.js';
import { loadChecklists } from './checklists.js';
import { loadFormats, tagsFor } from './desk.js';
import { grainy } from './grain.js';
import { ABSENCES, CATEGORIES, DEMO_PASSWORD, PEOPLE } from './people.js';
import { PICTURES, pictureAlt, pictureSvg } from './pictures.js';
import { loadSecondBlog } from './second-blog.js';
import { standInShop } from './shop.js';
import { loadSite } from './site.js';
import { ZONE, loadPublished } from './load-posts.js';
import type { Loading } from './loading.js';
import { loadComing, loadPitches, nextDay } from './load-coming.js';

/** Loads “Halfway Lock”, dated around now; all but the dates is the same every time. */
async function load(trx: Trx, now: string): Promise<void> {
  const home = process.env['PUBLIC_URL'] ?? 'http://127.0.0.1:4300';
  const [blog] = await trx('blogs')
    .insert({
      title: 'Halfway Lock',
      tagline: 'Canal boats and inland waterways, five mornings a week',
      zone: ZONE,
      home,
    })
    .returning<{ id: number }[]>('id');
  const blogId = blog!.id;
  const to: Loading = {
    trx,
    blogId,
    now,
    nowLocal: wallTimeOf(now, ZONE),
    people: new Map(),
    categories: new Map(),
    pictures: new Map(),
    formats: new Map(),
    slugs: new Set(),
  };

  for (const c of CATEGORIES) {
    const [row] = await trx('categories')
      .insert({ blog_id: blogId, name: c.name, slug: proposeSlug(c.name, () => false), hue: c.hue })
      .returning<{ id: number }[]>('id');
    to.categories.set(c.name, row!.id);
    const [slot] = await trx('slots')
      .insert({ blog_id: blogId, weekday: c.weekday, time: c.time, category_id: row!.id, format: c.format })
      .returning<{ id: number }[]>('id');
    await loadExceptions(to, slot!.id, c.weekday);
  }
  for (const p of PEOPLE) {
    const hash = await hashPassword(DEMO_PASSWORD);
    const categories = p.edits.map((name) => to.categories.get(name)!);
    const { name, email, role } = p;
    const id = await addPerson(trx, blogId, { name, email, role, categories }, hash);
    await trx('demo_people').insert({ person_id: id, password: DEMO_PASSWORD });
    to.people.set(p.key, id);
    await trx('memberships')
      .where({ blog_id: blogId, person_id: id })
      .update({ capacity: p.capacity ?? null });
    for (const name of p.writes ?? [])
      await trx('writer_categories').insert({
        blog_id: blogId,
        person_id: id,
        category_id: to.categories.get(name)!,
      });
  }
  for (const a of ABSENCES) {
    const today = to.nowLocal.slice(0, 10);
    await trx('absences').insert({
      blog_id: blogId,
      person_id: to.people.get(a.who),
      from_date: addDays(today, a.from),
      to_date: addDays(today, a.to),
      note: a.note,
      created_by: to.people.get(a.who),
    });
  }
  for (const name of PICTURES) {
    const jpeg = await grainy(pictureSvg(name), { width: 1600, strength: 7, quality: 82 });
    const { id } = await storeDrawn(trx, { blogId, id: to.people.get('MW')! }, await redraw(jpeg), {
      name: `${name}.jpg`,
    });
    await trx('media')
      .where({ id })
      .update({
        alt: pictureAlt(name),
        credit: 'Drawn for Halfway Lock',
        licence: 'own work',
        tags: tagsFor(pictureAlt(name)),
      });
    to.pictures.set(name, id);
  }
  to.formats = await loadFormats(trx, blogId, to.people.get('MW')!);
  await loadPublished(to);
  await loadComing(to);
  await loadCopy(to);
  await loadHeavyLead(to);
  await correctPublished(to);
  await loadPitches(to);
  await loadChecklists(to);
  await loadSite(to);
  await loadAccess(to);
  await loadComments(to);
  await loadLetters(to, home);
  await loadSecondBlog(to, home);
  for (const id of await trx('posts').orderBy('id').pluck<number[]>('id')) await measurePost(trx, id);
}

/** A post begun on the build of an earlier one, half rewritten: what is left over is marked. */
async function loadCopy(to: Loading): Promise<void> {
  const person = (await findPerson(to.trx, to.people.get('TO')!, to.blogId))!;
  const found = await to
    .trx('posts')
    .where({ blog_id: to.blogId, title: 'Winter-proofing a raw water pump' })
    .first<{ id: number }>('id');
  const source = (await findPost(to.trx, to.blogId, found!.id))!;
  const copy = await copyPost(to.trx, person, source, 'Winter-proofing a water tank');
  const [opening, ...rest] = source.body.content!;
  const own = {
    type: 'paragraph',
    content: [
      {
        type: 'text',
        text:
          'A tank that freezes does not leak until you have gone home. Then it fills the ' +
          'bilge, one cup an hour, all through the thaw.',
      },
    ],
  };
  await storeBody(
    to.trx,
    copy,
    person,
    await readBody({ ...source.body, content: [{ ...opening!, ...own }, ...rest] }),
    null,
  );
  await changePost(to.trx, (await lockPost(to.trx, to.blogId, copy.id))!, person, {
    excerpt: 'Half empty, open at the top, and a board across the hatch.',
  });
}

/** A lead picture as it comes from a stock library: far too heavy. */
async function loadHeavyLead(to: Loading): Promise<void> {
  const found = await to
    .trx('posts')
    .where({ blog_id: to.blogId, stage: 'in review' })
    .orderBy('run_at')
    .first<{ id: number }>('id');
  const jpeg = await grainy(pictureSvg('fog'), { width: 3200, strength: 20, quality: 95 });
  const { id } = await storeDrawn(
    to.trx,
    { blogId: to.blogId, id: to.people.get('RA')! },
    await redraw(jpeg),
    {
      name: 'long-pound-original.jpg',
    },
  );
  await to.trx('media').where({ id }).update({
    alt: 'The long pound in fog, with a heron on a low bridge.',
    credit: 'Rowan Ash',
    licence: 'own work',
  });
  await changePost(
    to.trx,
    (await lockPost(to.trx, to.blogId, found!.id))!,
    (await findPerson(to.trx, to.people.get('MW')!, to.blogId))!,
    { leadPicture: { media: id, alt: 'The long pound in fog, with a heron on a low bridge.' } },
  );
}

/**
 * Nothing goes out at Christmas or on New Year’s Day; and in the fourth week Tuesday’s slot opens a day
 * later, at noon.
 */
async function loadExceptions(to: Loading, slotId: number, weekday: number): Promise<void> {
  const today = to.nowLocal.slice(0, 10);
  const except = (date: string, movedTo: string | null, movedTime: string | null = null) =>
    to
      .trx('slot_exceptions')
      .insert({ blog_id: to.blogId, slot_id: slotId, date, moved_to: movedTo, moved_time: movedTime });
  for (const day of ['12-25', '01-01']) {
    const date = nextDay(today, day);
    if (weekdayOf(date) === weekday) await except(date, null);
  }
  if (weekday !== 2) return;
  const tuesday = addDays(startOfWeek(today), 1 + 21);
  if (!/-(12-25|01-01)$/.test(tuesday)) await except(tuesday, addDays(tuesday, 1), '12:00');
}

const databaseUrl = process.env['DATABASE_URL'];

if (!databaseUrl) throw new Error('DATABASE_URL is not set.');

const db = connect(databaseUrl);

await migrate(db, databaseUrl);

try {
  const loaded = await db.transaction(async (trx) => {
    if (process.argv.includes('--reset')) {
      await trx.raw('truncate blogs, people, session restart identity cascade');
      await trx.raw(`
        select
          graphile_worker.remove_job (key)
        from
          graphile_worker.jobs
        where
          key is not null
      `);
    }
    // Only an empty newsroom gets the demo; nobody's own work is ever mixed with it.
    if (await trx('people').first('id')) return false;
    console.log('Loading the demo blog “Halfway Lock” …');
    await load(trx, new Date().toISOString().replace(/\.\d+Z$/, 'Z'));
    return true;
  });
  if (loaded) {
    await loadArchive(db);
    await loadOutlets(db);
    await loadFigures(db);
    await loadCampaign(db);
    await loadSpecial(db);
  }
  // The stand-ins may have found other ports than the last time.
  if (!loaded) await moveOutlets(db);
  if (process.env['STANDINS_URL']) await standInShop(db, process.env['STANDINS_URL']);
} finally {
  await db.destroy();
}
