import { addDays, bodyText, countWords, meaningOf, proposeAddress, startOfWeek, wallTimeOf, weekday as weekdayOf, type BodyNode, type StandingSlot } from '@keyroster/core';
import {
  addPerson, changePost, connect, copyPost, findPerson, findPost, keepPicture, keepUses, keepVersion, lockPost, addNote, measurePost, migrate, planRelease, readMarkdown, storeBody, tagIdsOf, type Trx,
} from '@keyroster/server';
import { loadArchive } from './archive.js';
import { loadOutlets, moveOutlets } from './outlets.js';
import { FORMATS, loadFormats, tagsFor, TRIALS, valuesFor } from './desk.js';
import { grainy } from './grain.js';
import { ABSENCES, CATEGORIES, DEMO_PASSWORD, PEOPLE } from './people.js';
import { PICTURES, pictureAlt, pictureSvg } from './pictures.js';
import { pastDates, planComing, type PlannedText } from './plan.js';
import { readPitches, readTexts, type DemoText } from './texts.js';

const ZONE = 'Europe/London';

interface Loading {
  trx: Trx;
  blogId: number;
  now: string;
  nowLocal: string;
  people: Map<string, number>;
  categories: Map<string, number>;
  pictures: Map<string, number>;
  formats: Map<string, number>;
  addresses: Set<string>;
}

/** Loads “Halfway Lock”, dated around now; all but the dates is the same every time. */
async function load(trx: Trx, now: string): Promise<void> {
  const [blog] = await trx('blogs').insert({ title: 'Halfway Lock', tagline: 'Canal boats and inland waterways, five mornings a week', zone: ZONE, home: process.env['PUBLIC_URL'] ?? 'http://127.0.0.1:4300' }).returning<{ id: number }[]>('id');
  const blogId = blog!.id;
  const to: Loading = { trx, blogId, now, nowLocal: wallTimeOf(now, ZONE), people: new Map(), categories: new Map(), pictures: new Map(), formats: new Map(), addresses: new Set() };

  for (const c of CATEGORIES) {
    const [row] = await trx('categories').insert({ blog_id: blogId, name: c.name, slug: proposeAddress(c.name, () => false), hue: c.hue }).returning<{ id: number }[]>('id');
    to.categories.set(c.name, row!.id);
    const [slot] = await trx('slots').insert({ blog_id: blogId, weekday: c.weekday, time: c.time, category_id: row!.id, format: c.format }).returning<{ id: number }[]>('id');
    await loadExceptions(to, slot!.id, c.weekday);
  }
  for (const p of PEOPLE) {
    const id = await addPerson(trx, blogId, { name: p.name, email: p.email, role: p.role, password: DEMO_PASSWORD, categories: p.edits.map((name) => to.categories.get(name)!) });
    await trx('demo_people').insert({ person_id: id, password: DEMO_PASSWORD });
    to.people.set(p.key, id);
    await trx('memberships').where({ blog_id: blogId, person_id: id }).update({ capacity: p.capacity ?? null });
  }
  for (const a of ABSENCES) {
    const today = to.nowLocal.slice(0, 10);
    await trx('absences').insert({ blog_id: blogId, person_id: to.people.get(a.who), from_date: addDays(today, a.from), to_date: addDays(today, a.to), note: a.note, created_by: to.people.get(a.who) });
  }
  for (const name of PICTURES) {
    const jpeg = await grainy(pictureSvg(name), { width: 1600, strength: 7, quality: 82 });
    const { id } = await keepPicture(trx, { blogId, id: to.people.get('MW')! }, jpeg, { name: `${name}.jpg` });
    await trx('media').where({ id }).update({ alt: pictureAlt(name), credit: 'Drawn for Halfway Lock', licence: 'own work', tags: tagsFor(pictureAlt(name)) });
    to.pictures.set(name, id);
  }
  to.formats = await loadFormats(trx, blogId, to.people.get('MW')!);
  await loadPublished(to);
  await loadComing(to);
  await loadCopy(to);
  await loadHeavyLead(to);
  await loadPitches(to);
  for (const id of await trx('posts').where({ blog_id: blogId }).orderBy('id').pluck<number[]>('id')) await measurePost(trx, id);
}

/** A post begun on the build of an earlier one, half rewritten: what is left over is marked. */
async function loadCopy(to: Loading): Promise<void> {
  const person = (await findPerson(to.trx, to.people.get('TO')!))!;
  const found = await to.trx('posts').where({ blog_id: to.blogId, title: 'Winter-proofing a raw water pump' }).first<{ id: number }>('id');
  const source = (await findPost(to.trx, to.blogId, found!.id))!;
  const copy = await copyPost(to.trx, person, source, 'Winter-proofing a water tank');
  const [opening, ...rest] = source.body.content!;
  const own = { type: 'paragraph', content: [{ type: 'text', text: 'A tank that freezes does not leak until you have gone home. Then it fills the bilge, one cup an hour, all through the thaw.' }] };
  await storeBody(to.trx, copy, person, { ...source.body, content: [{ ...opening!, ...own }, ...rest] }, null);
  await changePost(to.trx, (await lockPost(to.trx, to.blogId, copy.id))!, person, { excerpt: 'Half empty, open at the top, and a board across the hatch.' });
}

/** A lead picture as it comes from a stock library: far too heavy. */
async function loadHeavyLead(to: Loading): Promise<void> {
  const found = await to.trx('posts').where({ blog_id: to.blogId, stage: 'in review' }).orderBy('run_at').first<{ id: number }>('id');
  const jpeg = await grainy(pictureSvg('fog'), { width: 3200, strength: 20, quality: 95 });
  const { id } = await keepPicture(to.trx, { blogId: to.blogId, id: to.people.get('RA')! }, jpeg, { name: 'long-pound-original.jpg' });
  await to.trx('media').where({ id }).update({ alt: 'The long pound in fog, with a heron on a low bridge.', credit: 'Rowan Ash', licence: 'own work' });
  await changePost(to.trx, (await lockPost(to.trx, to.blogId, found!.id))!, (await findPerson(to.trx, to.people.get('MW')!))!, { leadPicture: { media: id, alt: 'The long pound in fog, with a heron on a low bridge.' } });
}

/** Nothing goes out at Christmas or on New Year’s Day; and in the fourth week Tuesday’s slot opens a day later, at noon. */
async function loadExceptions(to: Loading, slotId: number, weekday: number): Promise<void> {
  const today = to.nowLocal.slice(0, 10);
  const except = (date: string, movedTo: string | null, movedTime: string | null = null) => to.trx('slot_exceptions').insert({ blog_id: to.blogId, slot_id: slotId, date, moved_to: movedTo, moved_time: movedTime });
  for (const day of ['12-25', '01-01']) {
    const date = nextDay(today, day);
    if (weekdayOf(date) === weekday) await except(date, null);
  }
  if (weekday !== 2) return;
  const tuesday = addDays(startOfWeek(today), 1 + 21);
  if (!/-(12-25|01-01)$/.test(tuesday)) await except(tuesday, addDays(tuesday, 1), '12:00');
}

/** The next such day, `MM-DD`, from a date on. */
function nextDay(today: string, day: string): string {
  const thisYear = `${today.slice(0, 4)}-${day}`;
  return thisYear >= today ? thisYear : `${Number(today.slice(0, 4)) + 1}-${day}`;
}

function wishOf(text: string, today: string): { not_before?: string; not_after?: string; must_be_on?: string } {
  const day = (label: string) => { const found = new RegExp(`${label} (\\d\\d-\\d\\d)`).exec(text)?.[1]; return found ? nextDay(today, found) : null; };
  const [before, after, on] = [day('not before'), day('not after'), day('on')];
  // Within a span that has begun, the first day lies in the past.
  return { ...(before ? { not_before: after && before > after ? `${Number(before.slice(0, 4)) - 1}${before.slice(4)}` : before } : {}), ...(after ? { not_after: after } : {}), ...(on ? { must_be_on: on } : {}) };
}

interface NewRow {
  text: DemoText;
  stage: string;
  categoryId: number | null;
  runLocal?: string;
  createdAt: string;
  stageSince?: string;
  fields?: Record<string, unknown>;
}

async function insertPost(to: Loading, row: NewRow): Promise<number> {
  const { trx, blogId } = to;
  const body = row.text.markdown ? readMarkdown(row.text.markdown).body : { type: 'doc', content: [{ type: 'paragraph' }] };
  const withFold = foldAfterFirst(body);
  const plain = bodyText(withFold);
  const meaning = row.runLocal ? meaningOf(row.runLocal, ZONE) : null;
  const runAt = meaning?.kind === 'exact' ? meaning.at : meaning?.choices[0].at;
  const addressed = ['cleared', 'scheduled', 'published', 'withdrawn'].includes(row.stage);
  const address = addressed ? proposeAddress(row.text.title, (a) => to.addresses.has(a), [row.runLocal?.slice(0, 4) ?? '']) : null;
  if (address) to.addresses.add(address);
  const [made] = await trx('posts').insert({
    blog_id: blogId, stage: row.stage, title: row.text.title, excerpt: row.text.excerpt, address, category_id: row.categoryId, byline_id: personNamed(to, row.text.by),
    body: JSON.stringify(withFold), body_text: plain, words: countWords(plain), created_by: personNamed(to, row.text.by) ?? to.people.get('MW'), created_at: row.createdAt, updated_at: row.stageSince ?? row.createdAt,
    stage_since: row.stageSince ?? row.createdAt,
    ...(row.text.picture ? { lead_media_id: to.pictures.get(row.text.picture), lead_alt: pictureAlt(row.text.picture) } : {}),
    ...(runAt ? { run_local: row.runLocal, run_zone: ZONE, run_at: runAt } : {}),
    ...(row.stage === 'published' || row.stage === 'withdrawn' ? { released_at: runAt } : {}),
    ...row.fields,
  }).returning<{ id: number }[]>('id');
  const tagIds = await tagIdsOf(trx, blogId, tagsFor(`${row.text.title} ${row.text.markdown}`));
  if (tagIds.length > 0) await trx('post_tags').insert(tagIds.map((tag_id) => ({ blog_id: blogId, post_id: made!.id, tag_id })));
  const post = (await lockPost(trx, blogId, made!.id))!;
  await keepVersion(trx, post, 1, ['title', 'body'], [], withFold, personNamed(to, row.text.by), tagIds);
  await keepUses(trx, post);
  if (row.stage === 'published') {
    // As often read as its title is long or short, and a little by chance, the same every time.
    const reads = 90 + Math.round(420 / (1 + Math.abs(row.text.title.length - 34) / 12)) + (made!.id * 53) % 110;
    await trx('post_reads').insert({ post_id: made!.id, day: row.runLocal!.slice(0, 10), reads });
    // The clock of a server that was up: out within a fifth of a second.
    const out = new Date(Date.parse(runAt!) + 40 + (made!.id * 37) % 160).toISOString();
    await trx('release_log').insert({ blog_id: blogId, post_id: made!.id, planned_local: row.runLocal, planned_at: runAt, due_at: runAt, released_at: out, backdated: false });
  }
  return made!.id;
}

/** Longer texts get a fold line after their opening. */
function foldAfterFirst(body: BodyNode): BodyNode {
  const blocks = body.content ?? [];
  return blocks.length > 4 ? { ...body, content: [blocks[0]!, { type: 'foldLine' }, ...blocks.slice(1)] } : body;
}

function personNamed(to: Loading, name: string): number | null {
  const seed = PEOPLE.find((p) => p.name === name);
  return seed ? to.people.get(seed.key)! : null;
}

const daysBefore = (instant: string, days: number) => new Date(Date.parse(instant) - days * 86_400_000).toISOString();

async function loadPublished(to: Loading): Promise<void> {
  for (const c of CATEGORIES) {
    const texts = readTexts(c.texts);
    // Full articles are spread over the year, two of them among the newest.
    const full = texts.filter((t) => t.picture);
    const short = texts.filter((t) => !t.picture);
    const order = [full[0]!, short[0]!, short[1]!, full[1]!, ...short.slice(2, 9), full[2]!, ...short.slice(9, 16), full[3]!, ...short.slice(16)];
    const dates = pastDates(c.weekday, c.time, to.nowLocal, order.length);
    for (const [i, text] of order.entries()) {
      const runLocal = `${dates[i]!}T${c.time}:00`;
      await insertPost(to, { text, stage: 'published', categoryId: to.categories.get(c.name)!, runLocal, createdAt: daysBefore(`${runLocal}Z`, 21), stageSince: `${runLocal}Z`, fields: inFormat(to, c.format, text) });
    }
  }
}

/** Full articles of a category with a format have its fields filled. */
function inFormat(to: Loading, format: string, text: DemoText): Record<string, unknown> {
  const known = FORMATS.find((f) => f.name.toLowerCase() === format);
  if (!known || !text.picture) return {};
  return { format_id: to.formats.get(known.name), format_values: JSON.stringify(valuesFor(known.name, text)), search_description: `${text.excerpt} By ${text.by}, who has done it often enough to say what goes wrong.`.slice(0, 160) };
}

async function loadComing(to: Loading): Promise<void> {
  const texts = new Map(readTexts('unfinished').map((t) => [t.key!, t]));
  const names = new Map([...to.categories].map(([name, id]) => [id, name]));
  const slots = CATEGORIES.map((c, i): StandingSlot => ({ id: i + 1, weekday: c.weekday, time: c.time, categoryId: to.categories.get(c.name)!, format: '', from: null, until: null, everyWeeks: 1, exceptions: [] }));
  const used = new Set<string>();
  for (const { date, time, categoryId, text: plan } of planComing(slots, names, to.nowLocal)) {
    if (used.has(plan.key!)) continue;
    used.add(plan.key!);
    const id = await insertPost(to, {
      text: texts.get(plan.key!)!, stage: plan.stage, categoryId, runLocal: `${date}T${time}:00`, createdAt: daysBefore(to.now, 24), stageSince: daysBefore(to.now, 1),
      fields: { ...copyDate(plan, date, to.nowLocal), brief_angle: plan.angle ?? '', brief_length: plan.length ?? null, ...(plan.stage === 'scheduled' ? { scheduled_at: daysBefore(to.now, 1) } : {}), ...(plan.stage === 'in review' || plan.stage === 'cleared' ? { proofreader_id: to.people.get('CF') } : {}) },
    });
    if (plan.stage === 'scheduled') await planRelease(to.trx, id, (await lockPost(to.trx, to.blogId, id))!.run_at!);
    const trials = TRIALS[plan.key!];
    for (const title of trials?.titles ?? []) await to.trx('title_trials').insert({ blog_id: to.blogId, post_id: id, title, person_id: to.people.get(trials!.by), at: daysBefore(to.now, 2) });
    await loadConversation(to, plan.key!, id);
  }
  // A digest on the next weekend, the managing editor's own draft without a date, and one post that was withdrawn.
  const saturday = slotDay(to.nowLocal.slice(0, 10), 6);
  await insertPost(to, { text: texts.get('digest')!, stage: 'commissioned', categoryId: null, runLocal: `${saturday}T09:00:00`, createdAt: daysBefore(to.now, 3), fields: { brief_angle: 'From the stoppage notices, one line each.', brief_length: 300, copy_date: addDays(saturday, -1) } });
  await insertPost(to, { text: texts.get('past-hope')!, stage: 'commissioned', categoryId: to.categories.get('Towpath walks')!, runLocal: `${addDays(to.nowLocal.slice(0, 10), -4)}T10:00:00`, createdAt: daysBefore(to.now, 20), fields: { brief_angle: 'If the ice comes. Otherwise it keeps.', copy_date: addDays(to.nowLocal.slice(0, 10), -8) } });
  await insertPost(to, { text: texts.get('own-draft')!, stage: 'drafting', categoryId: to.categories.get('Lock-keepers')!, createdAt: daysBefore(to.now, 9) });
  await insertPost(to, { text: texts.get('withdrawn')!, stage: 'withdrawn', categoryId: to.categories.get('Lock-keepers')!, runLocal: `${addDays(to.nowLocal.slice(0, 10), -120)}T10:00:00`, createdAt: daysBefore(to.now, 130) });
}

function copyDate(plan: PlannedText, runDate: string, nowLocal: string): { copy_date?: string } {
  if (plan.copyAgo) return { copy_date: addDays(nowLocal.slice(0, 10), -plan.copyAgo) };
  return plan.copyBefore ? { copy_date: addDays(runDate, -plan.copyBefore) } : {};
}

function slotDay(from: string, weekday: number): string {
  let day = addDays(from, 5);
  while (new Date(`${day}T00:00:00Z`).getUTCDay() !== weekday % 7) day = addDays(day, 1);
  return day;
}

/** Notes and moves that make the unfinished posts look worked on. */
async function loadConversation(to: Loading, key: string, postId: number): Promise<void> {
  const say = async (who: string, text: string, exact?: string, parentId?: number) => {
    const person = (await findPerson(to.trx, to.people.get(who)!))!;
    const post = (await lockPost(to.trx, to.blogId, postId))!;
    return (await addNote(to.trx, post, person, { text, passage: exact ? { exact, prefix: '', suffix: '' } : null, parentId: parentId ?? null })).id;
  };
  const move = (from: string, toStage: string, who: string, daysAgo: number, note = '') => to.trx('stage_moves').insert({ blog_id: to.blogId, post_id: postId, from_stage: from, to_stage: toStage, person_id: to.people.get(who), note, at: daysBefore(to.now, daysAgo) });
  if (key === 'keepers-2') {
    await move('drafting', 'in review', 'IN', 4);
    await move('in review', 'drafting', 'ET', 2, 'Lovely start. Four clocks need four times.');
    await say('ET', 'Lovely start. Four clocks need four times: please ask Odette before Friday.', 'find out from Odette: which one was fast?');
    await say('MW', 'The museum at Gannet may have the winding books.');
  }
  if (key === 'long-pound') {
    await move('drafting', 'in review', 'RA', 1);
    const id = await say('CF', 'Which is it? I would leave both in.', 'three people have now told me is a water rail and one has told me is a gate');
    await say('RA', 'Both, then. It is a gate.', undefined, id);
  }
  if (key === 'galley-2') await say('HB', 'Copy was due. Shall I move it a week?');
}

async function loadPitches(to: Loading): Promise<void> {
  for (const pitch of readPitches()) {
    const byline = to.people.get(pitch.by) ?? null;
    const [row] = await to.trx('posts').insert({
      blog_id: to.blogId, stage: 'pitch', title: pitch.title, thought: pitch.thought, category_id: to.categories.get(pitch.category) ?? null, byline_id: byline, body: JSON.stringify({ type: 'doc', content: [{ type: 'paragraph' }] }),
      created_by: byline ?? to.people.get('MW'), created_at: daysBefore(to.now, pitch.age), updated_at: daysBefore(to.now, pitch.age), stage_since: daysBefore(to.now, pitch.age),
      rating: pitch.rating, ...wishOf(pitch.wish, to.nowLocal.slice(0, 10)),
    }).returning<{ id: number }[]>('id');
    await keepVersion(to.trx, (await lockPost(to.trx, to.blogId, row!.id))!, 1, ['title'], [], { type: 'doc', content: [{ type: 'paragraph' }] }, byline);
  }
}

const databaseUrl = process.env['DATABASE_URL'];
if (!databaseUrl) throw new Error('DATABASE_URL is not set.');
const db = connect(databaseUrl);
await migrate(db, databaseUrl);
try {
  const loaded = await db.transaction(async (trx) => {
    if (process.argv.includes('--reset')) {
      await trx.raw('truncate blogs, people, session restart identity cascade');
      await trx.raw('select graphile_worker.remove_job(key) from graphile_worker.jobs where key is not null');
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
  }
  // The stand-ins may have found other ports than the last time.
  if (!loaded) await moveOutlets(db);
} finally {
  await db.destroy();
}
