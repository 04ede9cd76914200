import { addDays, fillSlots, isDesk, slotDates, spreadOver, type BatchChange, type BatchFields, type BatchNames, type BatchPost, type BatchScene, type BodyNode, type FormatField, type Stage } from '@keyroster/core';
import type { CurrentPerson } from '../accounts/who.js';
import type { Reader } from '../db/connect.js';
import { databaseNow } from '../posts/store.js';
import { clockAndSlots } from '../planner/store.js';

/** How far ahead a spread looks for open slots, in days. */
const SPREAD_DAYS = 366;

/** A post as a batch sees it, with the version it was seen at. */
export interface SeenPost extends BatchPost {
  version: number;
}

interface Row {
  id: number; version: number; title: string; excerpt: string; address: string | null; category_id: number | null; second_category_id: number | null; byline_id: number | null; tag_ids: number[];
  access: 'everyone' | 'staff'; comments: boolean; spotlight_from: string | null; spotlight_until: string | null; campaign: string; format_id: number | null; format_values: BatchFields['formatValues'];
  run_local: string | null; run_zone: string | null; run_at: string | null; stage: Stage; binned: boolean; coauthor_ids: number[]; proofreader_id: number | null; created_by: number | null; words: number; check_blocks: number; lead_media_id: number | null; lead_bytes?: number; body?: BodyNode;
}

const LIGHT = `p.id, p.version, p.title, p.excerpt, p.address, p.category_id, p.second_category_id, p.byline_id, p.access, p.comments, p.spotlight_from, p.spotlight_until, p.campaign, p.format_id, p.format_values,
  p.run_local, p.run_zone, p.run_at, p.stage, p.binned_at is not null as binned, p.proofreader_id, p.created_by, p.words, p.check_blocks, p.lead_media_id`;

/** What else is read of posts: their texts, and their tags, co-authors and lead pictures, which cost a join each. */
export interface SeenParts {
  text?: boolean;
  people?: boolean;
  tags?: boolean;
  lead?: boolean;
}
const EVERYTHING_BUT_TEXT: SeenParts = { people: true, tags: true, lead: true };

/** Posts of the blog by id, in the order of the ids; those that are gone are left out. In the bin or not. */
export async function seePosts(db: Reader, blogId: number, ids: readonly number[], parts: SeenParts = EVERYTHING_BUT_TEXT): Promise<SeenPost[]> {
  const { rows } = await db.raw<{ rows: Row[] }>(`
    select ${LIGHT}${parts.text ? ', p.body' : ''}${parts.lead ? ', (select size from media m where m.id = p.lead_media_id) as lead_bytes' : ''}, ${parts.tags ? `array(select tag_id from post_tags t where t.post_id = p.id order by 1)` : `'{}'::int[]`} as tag_ids, ${parts.people ? `array(select person_id from post_coauthors c where c.post_id = p.id order by 1)` : `'{}'::int[]`} as coauthor_ids
    from unnest(?::int[]) with ordinality as w(id, at) join all_posts p on p.id = w.id where p.blog_id = ? order by w.at`, [[...ids], blogId]);
  return rows.map((r) => ({
    id: r.id, version: r.version, words: r.words, formatId: r.format_id, facts: { coauthorIds: r.coauthor_ids, proofreaderId: r.proofreader_id, createdById: r.created_by },
    blocking: r.check_blocks === 0 ? [] : [r.check_blocks === 1 ? 'one of them' : `${r.check_blocks} of them`],
    fields: {
      title: r.title, excerpt: r.excerpt, address: r.address, ...(r.body ? { body: r.body } : {}), categoryId: r.category_id, secondCategoryId: r.second_category_id, bylineId: r.byline_id, tagIds: r.tag_ids, access: r.access, comments: r.comments,
      spotlight: r.spotlight_from === null ? null : { from: r.spotlight_from, until: r.spotlight_until! }, campaign: r.campaign, formatValues: r.format_values,
      lead: r.lead_media_id === null || r.lead_bytes === undefined ? null : { media: r.lead_media_id, bytes: r.lead_bytes }, run: r.run_local === null ? null : { local: r.run_local, zone: r.run_zone!, at: r.run_at! }, stage: r.stage, binned: r.binned,
    },
  }));
}

/** What foreseeing these changes needs to know of the blog. */
export async function sceneOf(db: Reader, person: CurrentPerson, changes: readonly BatchChange[], ids: readonly number[]): Promise<BatchScene> {
  const { zone, today, slots } = await clockAndSlots(db, person.blogId);
  const now = await databaseNow(db);
  const spread = changes.find((c) => c.kind === 'spread');
  const formats = await db('formats').where({ blog_id: person.blogId }).select<{ id: number; fields: FormatField[] }[]>('id', 'fields');
  const owners = new Map<string, number>();
  if (changes.some((c) => c.kind === 'replace' && c.places.includes('address'))) {
    const { rows } = await db.raw<{ rows: { address: string; post_id: number }[] }>('select address, id as post_id from all_posts where blog_id = ? and address is not null union all select address, post_id from old_addresses where blog_id = ?', [person.blogId, person.blogId]);
    for (const { address, post_id } of rows) owners.set(address, post_id);
  }
  return {
    actor: person, now, zone, formats: new Map(formats.map((f) => [f.id, f.fields])),
    // An address that a post of this batch takes is taken for those after it.
    taken: (address, postId) => { const owner = owners.get(address); if (owner !== undefined && owner !== postId) return true; owners.set(address, postId); return false; },
    spread: spread ? await spreadFor(db, person, ids, spread.from < today ? today : spread.from, slots) : new Map(),
  };
}

async function spreadFor(db: Reader, person: CurrentPerson, ids: readonly number[], from: string, slots: Parameters<typeof slotDates>[0]): Promise<Map<number, string>> {
  const dated = await db('posts').where({ blog_id: person.blogId }).where('run_local', '>=', from).whereNotIn('stage', ['pitch', 'withdrawn']).whereRaw('not (id = any(?))', [[...ids]])
    .select<{ id: number; runLocal: string; categoryId: number | null }[]>('id', 'run_local as runLocal', 'category_id as categoryId');
  const open = fillSlots(slotDates(slots, from, addDays(from, SPREAD_DAYS)), dated).slots.filter((s) => s.post === null).map(({ slot }) => ({ local: `${slot.date}T${slot.time}:00`, categoryId: slot.categoryId }));
  const posts = await db('posts').where({ blog_id: person.blogId }).whereRaw('id = any(?)', [[...ids]]).select<{ id: number; category_id: number | null }[]>('id', 'category_id');
  const category = new Map(posts.map((p) => [p.id, p.category_id]));
  return spreadOver(ids.map((id) => ({ id, categoryId: category.get(id) ?? null })).filter((p) => isDesk(person, p)), open);
}

/** Names for the numbers in a batch. */
export async function batchNames(db: Reader, blogId: number): Promise<BatchNames> {
  const people = await db('people as p').join('memberships as m', 'm.person_id', 'p.id').where('m.blog_id', blogId).select<{ id: number; name: string }[]>('p.id', 'p.name');
  const categories = await db('categories').where({ blog_id: blogId }).select<{ id: number; name: string }[]>('id', 'name');
  const tags = await db('tags').where({ blog_id: blogId }).select<{ id: number; name: string }[]>('id', 'name');
  const map = (rows: { id: number; name: string }[]) => new Map(rows.map((r) => [r.id, r.name]));
  return { people: map(people), categories: map(categories), tags: map(tags) };
}
