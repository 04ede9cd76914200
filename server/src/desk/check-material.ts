import {
  CHECKED_FIELDS,
  COPIED_PART,
  pickFields,
  whyNotPublic,
  type Access,
  innerPaths,
  leftoversOf,
  withInnerPaths,
  type CheckFacts,
  type CheckSettings,
  type CopiedPart,
  type FormatField,
  type Post,
} from '@keyroster/core';
import { DELAYED_PARTS, mayReadSql } from '../access/readable.js';
import type { CheckContext } from '@keyroster/contract';
import type { CurrentPerson } from '../http/current-person.js';
import { seenOf } from '../posts/visible.js';
import type { Queryable } from '../db/connect.js';
import { loadPosts } from '../posts/store.js';

interface Linked {
  slug: string;
  stage: string;
  run_at: string | null;
  access: Access;
  delayed: boolean;
}
interface Origin {
  id: number;
  copied_from_id: number | null;
  alike_id: number | null;
  alike_share: number | null;
  alike_title: string | null;
}

/** What checks look at beside the posts themselves, read once for all of them. */
export interface CheckMaterial {
  settings: CheckSettings;
  home: string;
  bytes: ReadonlyMap<number, number>;
  formats: ReadonlyMap<number, { name: string; fields: FormatField[] }>;
  origins: ReadonlyMap<number, Origin>;
  sources: ReadonlyMap<number, Post>;
  linked: ReadonlyMap<string, Linked>;
  /** Former addresses, which lead to a post. */
  led: ReadonlySet<string>;
}

const isSlugPath = (path: string) => /^\/[a-z0-9-]{1,80}$/.test(path);

/** The posts come with their texts. */
export async function loadMaterial(
  db: Queryable,
  blogId: number,
  posts: readonly Post[],
): Promise<CheckMaterial> {
  const { checks: settings, home } = (await db('blogs')
    .where({ id: blogId })
    .first<{ checks: CheckSettings; home: string }>('checks', 'home'))!;
  const ids = posts.map((p) => p.id);
  const { rows: origins } = await db.raw<{ rows: Origin[] }>(
    `
      select
        p.id,
        p.copied_from_id,
        p.alike_id,
        p.alike_share,
        a.title as alike_title
      from
        posts p
        left join posts a on a.id = p.alike_id
      where
        p.id = any (?)
        and (p.copied_from_id is not null or p.alike_id is not null)
    `,
    [ids],
  );
  const sourceIds = [...new Set(origins.flatMap((o) => o.copied_from_id ?? []))];
  const sources = sourceIds.length === 0 ? [] : await loadPosts(db, blogId, sourceIds, { text: true });
  const formats = posts.some((p) => p.formatId !== null)
    ? await db('formats')
        .where({ blog_id: blogId })
        .select<{ id: number; name: string; fields: FormatField[] }[]>('id', 'name', 'fields')
    : [];
  const media = [...new Set(posts.flatMap((p) => p.leadPicture?.media ?? []))];
  const pictures =
    media.length === 0
      ? []
      : await db('media')
          .whereRaw('id = any(?)', [media])
          .select<{ id: number; size: number }[]>('id', 'size');
  const { linked, led } = await linkedPages(db, blogId, posts, home);
  return {
    settings,
    home,
    bytes: new Map(pictures.map((p) => [p.id, p.size])),
    formats: new Map(formats.map((f) => [f.id, f])),
    origins: new Map(origins.map((o) => [o.id, o])),
    sources: new Map(sources.filter((s) => !s.binned).map((s) => [s.id, s])),
    linked,
    led,
  };
}

const pathsOf = (post: Post, home: string) => innerPaths(withInnerPaths(post.body!, home)).filter(isSlugPath);

async function linkedPages(db: Queryable, blogId: number, posts: readonly Post[], home: string) {
  const slugs = [...new Set(posts.flatMap((p) => pathsOf(p, home)).map((path) => path.slice(1)))];
  if (slugs.length === 0) return { linked: new Map<string, Linked>(), led: new Set<string>() };
  const found = await db('posts')
    .where({ blog_id: blogId })
    .whereRaw('slug = any(?)', [slugs])
    .select<Linked[]>('slug', 'stage', 'run_at', 'access', db.raw(`id in (${DELAYED_PARTS}) as delayed`));
  const former = await db('old_slugs')
    .where({ blog_id: blogId })
    .whereRaw('slug = any(?)', [slugs])
    .pluck<string[]>('slug');
  // On another blog it may not be out yet, and until then nothing leads there.
  const elsewhere = await db('moved_away as m')
    .join('posts as p', 'p.id', 'm.post_id')
    .where({ 'm.blog_id': blogId })
    .whereRaw('m.slug = any(?)', [slugs])
    .whereRaw(mayReadSql('p'))
    .pluck<string[]>('m.slug');
  const led = new Set([...former, ...elsewhere]);
  return { linked: new Map(found.map((p) => [p.slug, p])), led };
}

/** What stands at the paths of the blog that a post links to. One that goes out before it counts as published. */
function pagesOf(post: Post, { linked, led, home }: CheckMaterial): CheckContext['pages'] {
  const goesOutBefore = (p: Linked) =>
    p.stage === 'scheduled' &&
    post.run !== null &&
    p.run_at !== null &&
    Date.parse(p.run_at) <= Date.parse(post.run.at);
  const stateOf = (path: string) => {
    const there = linked.get(path.slice(1));
    if (!there) return led.has(path.slice(1)) ? 'published' : 'missing';
    const isOpen =
      whyNotPublic(there.access, there.delayed) === null &&
      (there.stage === 'published' || goesOutBefore(there));
    return isOpen ? 'published' : 'unpublished';
  };
  return Object.fromEntries(pathsOf(post, home).map((path) => [path, stateOf(path)]));
}

const copiedPart = (post: Post): CopiedPart => pickFields({ ...post, body: post.body! }, COPIED_PART);

/** What the desk's own checks of a post need from the server. */
export function checkContext(post: Post, material: CheckMaterial): CheckContext {
  const origin = material.origins.get(post.id);
  const source = origin?.copied_from_id ? material.sources.get(origin.copied_from_id) : undefined;
  const isAlike = origin && origin.alike_title !== null && origin.alike_share !== null;
  return {
    settings: material.settings,
    leadBytes: post.leadPicture === null ? null : (material.bytes.get(post.leadPicture.media) ?? null),
    source: source ? copiedPart(source) : null,
    home: material.home,
    alike: isAlike ? { id: origin.alike_id!, title: origin.alike_title!, share: origin.alike_share! } : null,
    pages: pagesOf(post, material),
  };
}

/** The same for a person: of posts that they may not see, neither text nor title. */
export async function checkContextFor(
  db: Queryable,
  person: CurrentPerson,
  post: Post,
): Promise<CheckContext> {
  const material = await loadMaterial(db, person.blogId, [post]);
  const { source, alike, ...context } = checkContext(post, material);
  const sourceId = material.origins.get(post.id)?.copied_from_id ?? null;
  const seen = await seenOf(
    db,
    person,
    [sourceId, alike?.id ?? null].filter((id) => id !== null),
  );
  return {
    ...context,
    source: sourceId !== null && seen.has(sourceId) ? source : null,
    alike: alike && seen.has(alike.id) ? alike : null,
  };
}

/** Everything that checks of a post look at. */
export function factsFor(post: Post, material: CheckMaterial): CheckFacts {
  const context = checkContext(post, material);
  const values = pickFields({ ...post, body: withInnerPaths(post.body!, material.home) }, CHECKED_FIELDS);
  return {
    ...values,
    leadBytes: context.leadBytes,
    format: post.formatId === null ? null : (material.formats.get(post.formatId) ?? null),
    leftovers: context.source && leftoversOf(copiedPart(post), context.source),
    alike: context.alike,
    pages: context.pages,
  };
}
