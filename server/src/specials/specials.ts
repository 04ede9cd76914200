import type {
  FieldValues,
  NewSpecial,
  SpecialDraft,
  SpecialLine,
  SpecialPublished,
  SpecialView,
} from '@keyroster/contract';
import { FIRST_LOOK, lookOf, proposeSlug, publishRefusal, specialNotes } from '@keyroster/core';
import { saveAddition, saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import type { Settings } from '../settings.js';
import { homeOf, type Place } from '../pages/places.js';
import { partsOf, specialHome, specialRows, type SpecialRow } from '../pages/special-store.js';

type At = Pick<Settings, 'publicUrl'>;

/** Specials that a blog can have. */
const MAX_SPECIALS = 200;

async function homeOfBlog(db: Queryable, blogId: number, { publicUrl }: At): Promise<string> {
  const place = await db('blogs').where({ id: blogId }).first<Pick<Place, 'host' | 'path'>>('host', 'path');
  return homeOf(place!, publicUrl);
}

export async function listSpecials(db: Queryable, { blogId }: CurrentPerson, at: At): Promise<SpecialLine[]> {
  const home = await homeOfBlog(db, blogId, at);
  const lines: SpecialLine[] = [];
  for (const special of await specialRows(db, blogId)) {
    const parts = await partsOf(db, blogId, special.postIds);
    const count = (state: (typeof parts)[number]['state']) => parts.filter((p) => p.state === state).length;
    lines.push({
      id: special.id,
      title: special.title,
      home: specialHome(special, home, at.publicUrl),
      publishedAt: special.publishedAt,
      posts: parts.length,
      readable: count('readable'),
      withdrawn: count('withdrawn'),
    });
  }
  return lines;
}

/** A special of the blog, or a refusal. */
export async function findSpecial(db: Queryable, blogId: number, id: number): Promise<SpecialRow> {
  const [special] = await specialRows(db, blogId, { id });
  if (!special) throw notFound('That special');
  return special;
}

export async function seeSpecial(
  db: Queryable,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  id: number,
  at: At,
): Promise<SpecialView> {
  const { postIds, ...special } = await findSpecial(db, blogId, id);
  const parts = await partsOf(db, blogId, postIds);
  return {
    ...special,
    home: specialHome(special, await homeOfBlog(db, blogId, at), at.publicUrl),
    parts: parts.map(({ id: postId, title, stage, state }) => ({ id: postId, title, stage, state })),
    notes: specialNotes({ intro: special.intro, hasCover: special.coverId !== null, parts }),
  };
}

/** Begins a special in the blog's own look, at an address made of its title. */
export async function addSpecial(
  trx: Trx,
  person: CurrentPerson,
  { title }: NewSpecial,
  at: At,
): Promise<SpecialView> {
  const blog = (await trx('blogs')
    .where({ id: person.blogId })
    .forNoKeyUpdate()
    .first<{ look: unknown }>('look'))!;
  const slugs = await trx('specials').where({ blog_id: person.blogId }).pluck<string[]>('slug');
  if (slugs.length >= MAX_SPECIALS)
    throw new ProblemError('too-large', `At most ${MAX_SPECIALS} specials fit on a blog.`);
  const [row] = await trx('specials')
    .insert({
      blog_id: person.blogId,
      title,
      slug: proposeSlug(title, (slug) => slugs.includes(slug)),
      look: JSON.stringify(blog.look === null ? FIRST_LOOK : lookOf(blog.look)),
    })
    .returning<{ id: number }[]>('id');
  await saveAddition({ trx, person }, changedSpecial(trx, person, row!.id));
  return seeSpecial(trx, person, row!.id, at);
}

const changedSpecial = (trx: Trx, { blogId }: CurrentPerson, id: number) => ({
  kind: 'special' as const,
  id,
  read: async (): Promise<SpecialRow & SpecialPublished & FieldValues> => {
    const special = await findSpecial(trx, blogId, id);
    return { ...special, published: special.publishedAt !== null };
  },
  name: ({ title }: SpecialRow) => title,
});

const refused = (code: 'taken' | 'invalid', field: string, sentence: string) =>
  new ProblemError(code, sentence, { fields: [{ field, sentence }] });

/** Throws a sentence where a special cannot stand. */
async function mustBeFree(
  trx: Trx,
  blogId: number,
  id: number,
  { slug, host }: Pick<SpecialDraft, 'slug' | 'host'>,
  { publicUrl }: At,
): Promise<void> {
  const named = await trx('specials')
    .where({ blog_id: blogId, slug })
    .whereNot({ id })
    .first<{ title: string } | undefined>('title');
  if (named) throw refused('taken', 'slug', `The special “${named.title}” has this address.`);
  if (host === null) return;
  if (host === new URL(publicUrl).hostname || host === new URL(publicUrl).host)
    throw refused('taken', 'host', 'That is the newsroom’s own address: leave the host empty.');
  const blog = await trx('blogs')
    .where({ host })
    .orWhereRaw(`around -> 'mount' ->> 'host' = ?`, [host])
    .first<{ title: string } | undefined>('title');
  if (blog) throw refused('taken', 'host', `“${blog.title}” has that address.`);
  const special = await trx('specials').where({ host }).whereNot({ id }).first('id');
  if (special) throw refused('taken', 'host', 'Another special has that address.');
}

/** Throws a sentence where posts or a picture are not on the blog. */
async function mustBeOnBlog(
  db: Queryable,
  blogId: number,
  { postIds, coverId }: Pick<SpecialDraft, 'postIds' | 'coverId'>,
): Promise<void> {
  const known = await db('all_posts')
    .where({ blog_id: blogId })
    .whereIn('id', [...postIds])
    .pluck<number[]>('id');
  if (known.length < postIds.length)
    throw new ProblemError('invalid', 'One of those posts is not on this blog.');
  if (coverId === null) return;
  const picture = await db('media').where({ blog_id: blogId, id: coverId, binned_at: null }).first('id');
  if (!picture) throw refused('invalid', 'coverId', 'That picture is not in the library.');
}

/** Changes what is given of a special. */
export async function changeSpecial(
  change: Change,
  id: number,
  changes: Partial<SpecialDraft>,
  at: At,
): Promise<SpecialView> {
  const { trx, person } = change;
  // Addresses are given out one after another, among blogs and specials alike.
  if (changes.host) await trx.raw('lock table blogs in share row exclusive mode');
  await trx('blogs').where({ id: person.blogId }).forNoKeyUpdate().first('id');
  await saveChange(change, changedSpecial(trx, person, id), (before) =>
    writeSpecial(change, id, { ...before, ...changes }, at),
  );
  return seeSpecial(trx, person, id, at);
}

async function writeSpecial(
  { trx, person }: Change,
  id: number,
  { postIds, look, coverId, coverAlt, title, intro, slug, host, published }: SpecialDraft & SpecialPublished,
  at: At,
): Promise<void> {
  await mustBeFree(trx, person.blogId, id, { slug, host }, at);
  await mustBeOnBlog(trx, person.blogId, { postIds, coverId });
  if (published) await mustShow(trx, person.blogId, postIds);
  await trx('specials')
    .where({ id })
    .update({
      ...{ title, intro, slug, host, cover_media_id: coverId, cover_alt: coverAlt },
      look: JSON.stringify(look),
    });
  await trx('special_posts').where({ special_id: id }).delete();
  if (postIds.length > 0)
    await trx('special_posts').insert(
      postIds.map((post_id, position) => ({ special_id: id, post_id, position })),
    );
}

async function mustShow(trx: Trx, blogId: number, postIds: readonly number[]): Promise<void> {
  const refusal = publishRefusal({ parts: await partsOf(trx, blogId, postIds) });
  if (refusal !== null) throw new ProblemError('demands', refusal);
}

/** Shows it to readers, or takes it from them. */
export async function publishSpecial(
  change: Change,
  id: number,
  { published }: SpecialPublished,
  at: At,
): Promise<SpecialView> {
  const { trx, person } = change;
  await saveChange(change, changedSpecial(trx, person, id), async ({ postIds, publishedAt }) => {
    if (published) await mustShow(trx, person.blogId, postIds);
    await trx('specials')
      .where({ id })
      .update({ published_at: published ? (publishedAt ?? trx.raw('clock_timestamp()')) : null });
  });
  return seeSpecial(trx, person, id, at);
}

export async function removeSpecial(change: Change, id: number): Promise<null> {
  const { trx, person } = change;
  await saveRemoval(change, changedSpecial(trx, person, id), () => trx('specials').where({ id }).delete());
  return null;
}

/** A special as it would be with other settings, for trying. */
export async function draftOf(
  db: Queryable,
  { blogId }: CurrentPerson,
  id: number,
  draft: SpecialDraft,
): Promise<SpecialRow> {
  const special = await findSpecial(db, blogId, id);
  await mustBeOnBlog(db, blogId, draft);
  return { ...special, ...draft };
}
