import type { BlogPlace, NewBlog, NewsroomBlog } from '@keyroster/contract';
import { saveChange, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { emit } from '../live/live.js';
import type { Settings } from '../settings.js';
import { changedBlog } from './blog.js';
import { addressTaken } from './free-address.js';
import { homeOf, storeHomes, type Place } from '../pages/places.js';

/** Blogs that a newsroom can have. */
const MAX_BLOGS = 50;

type At = Pick<Settings, 'publicUrl'>;

export async function listBlogs(
  db: Queryable,
  person: CurrentPerson,
  { publicUrl }: At,
): Promise<NewsroomBlog[]> {
  const rows = await db('blogs as b')
    .leftJoin('memberships as m', (on) => on.on('m.blog_id', 'b.id').andOnVal('m.person_id', '=', person.id))
    .orderBy('b.id')
    .select<Omit<NewsroomBlog, 'home'>[]>(
      'b.id',
      'b.version',
      'b.title',
      'b.host',
      'b.path',
      'm.role',
      db.raw(`(select count(*)::int from posts p where p.blog_id = b.id and p.stage = 'published') as posts`),
      db.raw(
        `(select count(*)::int from memberships o where o.blog_id = b.id and o.role <> 'reader') as people`,
      ),
    );
  return rows.map((row) => ({ ...row, home: homeOf(row, publicUrl) }));
}

/** Throws a sentence where no blog can stand. */
async function mustBeFree(
  trx: Trx,
  person: CurrentPerson,
  { host, path }: BlogPlace,
  blogId: number | null,
  settings: Settings,
): Promise<void> {
  const leaves = (place: Place) => place.id === blogId && !place.mounted;
  const sentence = await addressTaken(trx, person, settings, { host, path, blogId, leaves });
  if (sentence === null) return;
  throw new ProblemError('taken', sentence, {
    fields: [{ field: host === null ? 'path' : 'host', sentence }],
  });
}

/** Creates a blog at an address of its own, with its creator as managing editor. */
export async function addBlog(
  trx: Trx,
  person: CurrentPerson,
  { title, tagline, zone, host, path }: NewBlog,
  at: Settings,
): Promise<NewsroomBlog> {
  await trx.raw('lock table blogs in share row exclusive mode');
  const known = await trx('blogs').pluck<number[]>('id');
  if (known.length >= MAX_BLOGS)
    throw new ProblemError('too-large', `At most ${MAX_BLOGS} blogs fit in a newsroom.`);
  await mustBeFree(trx, person, { host, path }, null, at);
  const [made] = await trx('blogs')
    .insert({ title, tagline, zone, host, path, home: homeOf({ host, path }, at.publicUrl) })
    .returning<{ id: number }[]>('id');
  await trx('memberships').insert({ blog_id: made!.id, person_id: person.id, role: 'managing editor' });
  await emit(trx, { blogId: made!.id, kind: 'blog', personId: person.id });
  return (await listBlogs(trx, person, at)).find((b) => b.id === made!.id)!;
}

/** Puts a blog at another address. Nothing leads there from the one before. */
export async function placeBlog(
  change: Change,
  changes: Partial<BlogPlace>,
  at: Settings,
): Promise<NewsroomBlog> {
  const { trx, person } = change;
  await trx.raw('lock table blogs in share row exclusive mode');
  await saveChange(change, changedBlog(trx, person), async (before) => {
    const place = { host: before.host, path: before.path, ...changes };
    await mustBeFree(trx, person, place, person.blogId, at);
    await trx('blogs').where({ id: person.blogId }).update(place);
    await storeHomes(trx, at.publicUrl);
  });
  return (await listBlogs(trx, person, at)).find((b) => b.id === person.blogId)!;
}
