import { originOf, schemaPerson } from './linked-data.js';
import type { Queryable } from '../db/connect.js';
import type { Page } from './cache.js';
import { framed, type Context } from './context.js';
import { readable } from '../access/readable.js';
import type { Listing, WriterRow } from './listed.js';
import { mediaSrc, pictureSources } from '../media/sizes.js';

const writerRows = (db: Queryable, blogId: number) =>
  db('memberships as m')
    .join('people as p', 'p.id', 'm.person_id')
    .where('m.blog_id', blogId)
    .select<WriterRow[]>('p.id', 'p.name', 'm.slug', 'm.biography', 'm.links', 'm.picture_id as pictureId');

/** The person whose page it is; people who have published nothing have none. */
export async function writerAt(db: Queryable, blogId: number, slug: string): Promise<WriterRow | null> {
  const [row] = (await writerRows(db, blogId).where('m.slug', slug)) as WriterRow[];
  return row ?? null;
}

/** What stands on top of a writer's posts, and what search engines read of them. */
export async function writerListing({ db, blog }: Context, writer: WriterRow): Promise<Listing> {
  const sources = writer.pictureId === null ? null : await pictureSources(db, [writer.pictureId], blog.root);
  const base = `/writer/${writer.slug}`;
  return {
    base,
    heading: writer.name,
    about: `Posts by ${writer.name}: ${blog.title}`,
    filter: { writerId: writer.id },
    inSearch: true,
    writer: {
      ...writer,
      picture: (writer.pictureId !== null && sources?.(writer.pictureId)) || null,
    },
    linkedData: {
      '@context': 'https://schema.org',
      '@type': 'ProfilePage',
      url: `${blog.home}${base}`,
      mainEntity: {
        ...schemaPerson(blog, writer),
        ...(writer.biography ? { description: writer.biography } : {}),
        ...(writer.pictureId === null
          ? {}
          : { image: `${originOf(blog.home)}${blog.root}${mediaSrc(writer.pictureId)}` }),
        ...(writer.links.length > 0 ? { sameAs: writer.links.map((l) => l.url) } : {}),
      },
    },
  };
}

/** Everybody who has published something. */
export async function writersPage(context: Context): Promise<Page> {
  const { db, blog } = context;
  const counts = (await readable(db, blog)
    .joinRaw(
      `join lateral (
        select posts.byline_id as person_id
        union
        select unnest(posts.coauthor_ids)
      ) w on w.person_id is not null`,
    )
    .groupBy('w.person_id')
    .select('w.person_id as id', db.raw('count(*)::int as posts'))) as unknown as {
    id: number;
    posts: number;
  }[];
  const posts = new Map(counts.map((c) => [c.id, c.posts]));
  const writers = ((await writerRows(db, blog.id).orderBy('p.name')) as WriterRow[])
    .filter((w) => posts.has(w.id))
    .map((w) => ({ ...w, posts: posts.get(w.id)!, href: `${blog.prefix}/writer/${w.slug}` }));
  return framed(context, 'writers', {
    title: 'Writers',
    writers,
    canonical: `${blog.home}/writers`,
    description: `Who writes for ${blog.title}`,
  });
}
