import {
  COMPARED_FIELDS,
  FINDABLE_FIELDS,
  POST_FIELDS,
  topTerms,
  weightsOf,
  type BodyNode,
  type Corpus,
  type PostField,
  type PostValues,
  type TextFieldName,
} from '@keyroster/core';
import type { Db, Queryable, Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { planRelating } from '../jobs/queue.js';
import { textColumn } from '../posts/columns.js';
import { termsOfPosts } from '../work/computing.js';
import type { EffectOn } from '../posts/effects.js';

/** Terms kept of a post; of these, the heaviest ones by which posts are looked for. */
const TERMS = 60;
const LOOKED_FOR = 24;
/** A term that more than this share of posts has leads to too many of them to tell anything. */
const COMMON = 0.03;
const COMMON_FROM = 40;
/** Posts kept with each as like it; pages show fewer, since some may not be everybody's by then. */
const KEPT = 12;
/** Below this, two posts have little more in common than that they are posts of one blog. */
const LEAST = 0.06;
/** Posts whose terms are counted to know how rare each is. */
const SAMPLE = 2000;
/** Of blogs up to so many posts, all are related at a start; in larger ones each once it is read. */
const SMALL = 2000;

/** Fields of text that are compared, beside the text itself. */
type ComparedText = Extract<(typeof COMPARED_FIELDS)[number], TextFieldName>;
const COMPARED_TEXTS = COMPARED_FIELDS.filter((f): f is ComparedText => POST_FIELDS[f].kind === 'text');

interface Source extends Pick<PostValues, ComparedText> {
  body: BodyNode;
  category: string | null;
  tags: string[];
}

/** What readers see of published posts. */
const sources = (db: Queryable) =>
  db('readers_posts as p')
    .leftJoin('categories as c', 'c.id', 'p.category_id')
    .where('p.stage', 'published')
    .select<(Source & { id: number; blogId: number })[]>(
      'p.id',
      'p.blog_id as blogId',
      ...COMPARED_TEXTS.map((f) => `p.${textColumn(f)} as ${f}`),
      'p.body',
      'c.name as category',
      db.raw('array(select t.name from tags t where t.id = any (p.tag_ids)) as tags'),
    );

const termsIn = (posts: readonly Source[]): Promise<Map<string, number>[]> =>
  termsOfPosts(
    posts.map(({ title, body, category, tags, ...texts }) => ({
      text: COMPARED_TEXTS.flatMap((f) => (f === 'title' ? [] : [texts[f]])).join('\n'),
      body,
      names: [title, ...(category ? [category] : []), ...tags],
    })),
  );

/**
 * Finds the posts that are most like a published one, by the cosine of their terms' weights (see `weightsOf` in
 * core), and puts it among those that it is like. A post that is not published loses its terms.
 */
export async function relatePost(db: Db, postId: number): Promise<void> {
  const [post] = await sources(db).where('p.id', postId);
  if (!post) {
    await db('post_terms').where({ post_id: postId }).delete();
    return;
  }
  const [terms] = (await termsIn([post])) as [Map<string, number>];
  const corpus = await corpusOf(db, post.blogId, [...terms.keys()]);
  const top = topTerms(weightsOf(terms, corpus), TERMS);
  await inTransaction(db, async (trx) => {
    await trx('post_terms').where({ post_id: postId }).delete();
    if (top.length > 0)
      await trx('post_terms')
        .insert(
          top.map(([term, weight], at) => ({ post_id: postId, blog_id: post.blogId, at, term, weight })),
        )
        .onConflict()
        .ignore();
    await trx('related_posts').where({ post_id: postId }).orWhere({ other_id: postId }).delete();
    await storeRelated(trx, postId, corpus.posts);
    await trx('all_posts')
      .where({ id: postId })
      .update({ related_version: trx.raw('coalesce(readers_version, version)') });
  });
}

async function storeRelated(trx: Trx, postId: number, posts: number): Promise<void> {
  const common = Math.max(COMMON_FROM, Math.round(posts * COMMON));
  const { rows } = await trx.raw<{ rows: { id: number; likeness: number }[] }>(
    `
      select
        o.post_id as id,
        sum(o.weight * x.weight)::real as likeness
      from
        post_terms x
        left join term_posts t on t.blog_id = x.blog_id
        and t.term = x.term
        join post_terms o on o.blog_id = x.blog_id
        and o.term = x.term
        and o.post_id <> x.post_id
      where
        x.post_id = ?
        and x.at < ?
        and coalesce(t.posts, 0) <= ?
      group by
        o.post_id
      having
        sum(o.weight * x.weight) >= ?
      order by
        2 desc,
        1
      limit
        ?
    `,
    [postId, LOOKED_FOR, common, LEAST, KEPT],
  );
  if (rows.length === 0) return;
  await trx('related_posts')
    .insert(
      rows.flatMap(({ id, likeness }) => [
        { post_id: postId, other_id: id, likeness },
        { post_id: id, other_id: postId, likeness },
      ]),
    )
    .onConflict(['post_id', 'other_id'])
    .merge();
  // A post like many others keeps those most like it.
  await trx.raw(
    `
      delete from related_posts r using (
        select
          post_id,
          other_id,
          row_number() over (
            partition by
              post_id
            order by
              likeness desc,
              other_id
          ) as place
        from
          related_posts
        where
          post_id = any (?)
      ) p
      where
        r.post_id = p.post_id
        and r.other_id = p.other_id
        and p.place > ?
    `,
    [rows.map((r) => r.id), KEPT],
  );
}

/** How rare terms are on a blog; counted again when it has grown or shrunk by a tenth since. */
async function corpusOf(db: Db, blogId: number, terms: readonly string[]): Promise<Corpus> {
  const [{ count } = { count: '0' }] = await db('posts')
    .where({ blog_id: blogId, stage: 'published' })
    .count<{ count: string }[]>('id as count');
  const posts = Number(count);
  const kept = (await db('blogs')
    .where({ id: blogId })
    .first<{ corpus_posts: number; corpus_length: number }>('corpus_posts', 'corpus_length'))!;
  const meanLength =
    Math.abs(posts - kept.corpus_posts) > kept.corpus_posts / 10
      ? await countTerms(db, blogId, posts)
      : kept.corpus_length;
  const rows = await db('term_posts')
    .where({ blog_id: blogId })
    .whereRaw('term = any (?)', [[...terms]])
    .select<{ term: string; posts: number }[]>('term', 'posts');
  const known = new Map(rows.map((r) => [r.term, r.posts]));
  return { posts, postsWith: (term) => known.get(term) ?? 1, meanLength };
}

/** Counts terms over a sample of the posts, always the same ones. Gives how many terms a post has on average. */
async function countTerms(db: Db, blogId: number, posts: number): Promise<number> {
  const counts = new Map<string, number>();
  let [length, seen] = [0, 0];
  const ids = await db('posts')
    .where({ blog_id: blogId, stage: 'published' })
    .orderByRaw('hashint4(id)')
    .limit(SAMPLE)
    .pluck<number[]>('id');
  for (let at = 0; at < ids.length; at += 50) {
    for (const terms of await termsIn(await sources(db).whereIn('p.id', ids.slice(at, at + 50)))) {
      seen++;
      for (const [term, times] of terms) {
        counts.set(term, (counts.get(term) ?? 0) + 1);
        length += times;
      }
    }
  }
  const mean = seen === 0 ? 0 : length / seen;
  const scale = seen === 0 ? 1 : posts / seen;
  // A term that one post of the sample has is as rare as one that none has.
  const rows = [...counts].flatMap(([term, n]) => (n > 1 ? [{ term, posts: Math.round(n * scale) }] : []));
  await inTransaction(db, async (trx) => {
    await trx('blogs').where({ id: blogId }).update({ corpus_posts: posts, corpus_length: mean });
    await trx('term_posts').where({ blog_id: blogId }).delete();
    await trx.raw(
      `
        insert into
          term_posts (blog_id, term, posts)
        select
          ?,
          term,
          posts
        from
          jsonb_to_recordset(?::jsonb) as t (term text, posts int)
      `,
      [blogId, JSON.stringify(rows)],
    );
  });
  return mean;
}

/** What makes a post like other published ones. */
const LIKENESS: readonly PostField[] = [...COMPARED_FIELDS, ...FINDABLE_FIELDS];

/** Relates posts again of which readers see something else by then. */
export async function relateLater(trx: Trx, effects: readonly EffectOn<'pages'>[]): Promise<void> {
  const ids = effects
    .filter(({ on }) => on.changed.some((f) => LIKENESS.includes(f)))
    .map(({ on }) => on.after.id);
  await planRelating(trx, ids);
}

/** Has the posts of small blogs related that never were. */
export async function planUnrelated(db: Db): Promise<void> {
  const ids = await db('posts')
    .where({ stage: 'published', related_version: null })
    .orderBy('id')
    .limit(SMALL)
    .pluck<number[]>('id');
  await inTransaction(db, (trx) => planRelating(trx, ids));
}
