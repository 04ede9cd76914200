import {
  fileIds,
  pictureIds,
  contentWords,
  valuesBack,
  type Actor,
  type SlugOwner,
  type EditContext,
  type FormatField,
  type Post,
  type PostEdit,
  type PostValues,
  type SetValues,
} from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { loadBlocking } from './blocking.js';

/** A post with what is to be done to it. */
export interface Work {
  post: Post;
  edits: readonly PostEdit[];
}

export interface EditOptions {
  pastRun?: EditContext['pastRun'];
  /** Spares a question to the database when the caller has just asked it for the time. */
  now?: string;
  inBin?: boolean;
  /** Readers of published posts see at once what is changed. */
  atOnce?: boolean;
  /** The edits are made from the texts. */
  text?: boolean;
  /** Nothing is written, so nobody need wait. */
  preview?: boolean;
}

/** Does an edit look at the text of the post? Then it has to be loaded with it. */
export function looksAtText(edits: readonly PostEdit[]): boolean {
  return edits.some(
    (e) =>
      e.kind === 'text' ||
      e.kind === 'update' ||
      isReady(stageAfter(e)) ||
      (e.kind === 'revert' && e.item.after.body),
  );
}

const isReady = (stage: PostValues['stage'] | undefined) => stage === 'cleared' || stage === 'scheduled';
const stageAfter = (edit: PostEdit) =>
  edit.kind === 'move' ? edit.to : edit.kind === 'revert' ? edit.item.before.stage : undefined;

/** What an edit sets, as far as it can be told before it is applied. */
function valuesIn(post: Post, edit: PostEdit): Partial<PostValues> {
  if (edit.kind === 'set') return edit.values;
  if (edit.kind === 'text') return { body: edit.body };
  return edit.kind === 'revert' ? (valuesBack(post, edit).values as SetValues) : {};
}

/** Everything that edits name, so that it is looked up once for all posts. */
export interface Named {
  people: number[];
  categories: number[];
  tags: number[];
  pictures: number[];
  files: number[];
  formats: boolean;
  /** Addresses that are set; or all of the blog's, where they cannot be told before. */
  slugs: string[] | 'all';
  /** Posts that are to be cleared or scheduled: they may need an address, and the checks are asked. */
  ready: Post[];
  /** Posts in review that are to go back to their writers. */
  handedIn: Post[];
}

export const NOTHING_NAMED: Named = {
  people: [],
  categories: [],
  tags: [],
  pictures: [],
  files: [],
  formats: false,
  slugs: [],
  ready: [],
  handedIn: [],
};

function namedIn(work: readonly Work[]): Named {
  const set = work.flatMap(({ post, edits }) => edits.map((edit) => valuesIn(post, edit)));
  const all = <T>(of: (values: Partial<PostValues>) => readonly (T | null | undefined)[]): T[] => [
    ...new Set(set.flatMap(of).filter((v): v is T => v !== null && v !== undefined)),
  ];
  return {
    people: all((v) => [v.bylineId, v.editorId, v.proofreaderId, ...(v.coauthorIds ?? [])]),
    categories: all((v) => [v.categoryId, v.secondCategoryId]),
    tags: all((v) => v.tagIds ?? []),
    pictures: all((v) => [v.leadPicture?.media, v.sharePicture, ...(v.body ? pictureIds(v.body) : [])]),
    files: all((v) => (v.body ? fileIds(v.body) : [])),
    formats: set.some((v) => v.formatId !== undefined || v.formatValues !== undefined),
    slugs: all((v) => [v.slug]),
    ready: work
      .filter(({ edits }) => edits.some((e) => e.kind === 'update' || isReady(stageAfter(e))))
      .map(({ post }) => post),
    handedIn: work
      .filter(
        ({ post, edits }) => post.stage === 'in review' && edits.some((e) => stageAfter(e) === 'drafting'),
      )
      .map(({ post }) => post),
  };
}

/** Which of some posts in review somebody of the desk opened since, who does not write them. */
async function loadOpened(db: Queryable, posts: readonly Post[]): Promise<EditContext['opened']> {
  if (posts.length === 0) return () => false;
  const opened = await db('read_versions as r')
    .join('all_posts as p', 'p.id', 'r.post_id')
    .join('memberships as m', (on) => on.on('m.blog_id', 'p.blog_id').andOn('m.person_id', 'r.person_id'))
    .whereRaw('p.id = any(?)', [posts.map((post) => post.id)])
    .whereIn('m.role', ['managing editor', 'editor'])
    .whereRaw('r.seen_at > p.stage_since and r.person_id is distinct from p.byline_id')
    .whereNotExists((q) =>
      q.from('post_coauthors as c').whereRaw('c.post_id = p.id and c.person_id = r.person_id'),
    )
    .pluck<number[]>('p.id');
  return (post) => opened.includes(post.id);
}

/** Everything that these edits need to know of the blog, read at once for all posts. */
export function editContextFor(
  db: Queryable,
  blogId: number,
  actor: Actor | 'clock',
  work: readonly Work[],
  options: EditOptions = {},
): Promise<EditContext> {
  return editContext(db, blogId, actor, namedIn(work), options);
}

export async function editContext(
  db: Queryable,
  blogId: number,
  actor: Actor | 'clock',
  named: Named,
  { pastRun = 'goes out', now, inBin = false, preview = false, atOnce = false }: EditOptions = {},
): Promise<EditContext> {
  const clock = await db('blogs')
    .where({ id: blogId })
    .first<{ zone: string; now: string }>('zone', db.raw('clock_timestamp() as now'));
  const among = (ids: readonly number[], table: string) => idsAmong(db, blogId, ids, table);
  const known = {
    person: await membersAmong(db, blogId, named.people),
    category: await among(named.categories, 'categories'),
    tag: await among(named.tags, 'tags'),
    picture: await among(named.pictures, 'media'),
  };
  const files = await among(named.files, 'files');
  const formats = named.formats
    ? await db('formats').where({ blog_id: blogId }).select<Format[]>('id', 'fields', 'retired')
    : [];
  const formatsById = new Map(formats.map((f) => [f.id, f]));
  const owners = await slugOwners(db, blogId, named, preview);
  const needsSlug = named.slugs === 'all' || named.ready.some((p) => p.slug === null);
  const categories = needsSlug
    ? await db('categories').where({ blog_id: blogId }).select<{ id: number; name: string }[]>('id', 'name')
    : [];
  const names = new Map(categories.map((c) => [c.id, c.name]));
  return {
    actor,
    now: now ?? clock!.now,
    zone: clock!.zone,
    has: (kind, id) => (kind === 'format' ? formatsById.has(id) : known[kind].has(id)),
    hasFile: (id) => files.has(id),
    format: (id) => formatsById.get(id),
    categoryName: (id) => names.get(id),
    ownerOf: (slug) => owners.get(slug),
    opened: await loadOpened(db, named.handedIn),
    blocking: named.ready.length > 0 ? await loadBlocking(db, blogId, named.ready) : () => [],
    pastRun,
    inBin,
    atOnce,
  };
}

interface Format {
  id: number;
  fields: FormatField[];
  retired: boolean;
}

async function idsAmong(
  db: Queryable,
  blogId: number,
  ids: readonly number[],
  table: string,
): Promise<Set<number>> {
  if (ids.length === 0) return new Set();
  const found = await db(table)
    .where({ blog_id: blogId })
    .whereRaw('id = any(?)', [ids.filter((id) => id < 2 ** 31)])
    .pluck<number[]>('id');
  return new Set(found);
}

async function membersAmong(db: Queryable, blogId: number, ids: readonly number[]): Promise<Set<number>> {
  if (ids.length === 0) return new Set();
  const found = await db('memberships')
    .where({ blog_id: blogId })
    .whereNot({ role: 'reader' })
    .whereRaw('person_id = any(?)', [[...ids]])
    .pluck<number[]>('person_id');
  return new Set(found);
}

/** From so many default addresses on, all addresses of the blog are read at once. */
const MANY = 20;

/** Who stands, or once stood, at the addresses that are set, and at those that a default may run into. */
async function slugOwners(
  db: Queryable,
  blogId: number,
  { slugs, ready }: Named,
  preview: boolean,
): Promise<Map<string, SlugOwner>> {
  const all = slugs === 'all';
  const wanted = all ? [] : slugs;
  const prefixes = ready
    .filter((p) => p.slug === null)
    .map((p) => `${contentWords(p.title, 1)[0] ?? 'post'}%`);
  if (!all && wanted.length + prefixes.length === 0) return new Map();
  // Two posts getting the same address at once: the second waits for the first to be decided.
  if (!preview && (all || prefixes.length > 0))
    await db.raw('select pg_advisory_xact_lock(4310, ?)', [blogId]);
  const like = all || prefixes.length > MANY ? ['%'] : prefixes;
  const { rows } = await db.raw<{ rows: (SlugOwner & { slug: string })[] }>(
    `
      select
        slug,
        id,
        title,
        false as formerly
      from
        all_posts
      where
        blog_id = :blogId
        and (slug = any (:wanted) or slug like any (:like))
      union all
      select
        o.slug,
        p.id,
        p.title,
        true
      from
        old_slugs o
        join all_posts p on p.id = o.post_id
      where
        o.blog_id = :blogId
        and (o.slug = any (:wanted) or o.slug like any (:like))
      union all
      -- Another blog that stands under this one.
      select
        substr(b.path, 2) as slug,
        0 as id,
        b.title,
        false as formerly
      from
        blogs b
        join blogs own on own.host is not distinct from b.host
        and own.path = ''
      where
        own.id = :blogId
        and b.path <> ''
        and (substr(b.path, 2) = any (:wanted) or substr(b.path, 2) like any (:like))
    `,
    { blogId, wanted, like },
  );
  const owners = new Map<string, SlugOwner>();
  // Where a post stands counts before where one once stood.
  for (const { slug, ...owner } of rows) if (!owners.has(slug)) owners.set(slug, owner);
  return owners;
}
