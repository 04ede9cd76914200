import { escapeHtml, formatCount } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import type { Page } from './cache.js';
import { mayReadSql } from '../access/readable.js';
import { framed, type Context } from './context.js';
import { feedOf, type FeedKind } from './feeds.js';
import { pathIn, type ReaderBlog } from './reader-blog.js';

/** Posts that are ranked against each other: of more, the newest. */
const MAX_RANKED = 500;
const SHOWN = 20;
/** The most characters of what is asked, and of a text that passages are cut from. */
export const MAX_QUERY = 120;
const MAX_CUT = 60_000;
/** Stand around a match until the text between is made safe; no text has them. */
const [OPEN, CLOSE] = ['\ue000', '\ue001'];

/** What is asked, as everybody writes it: without what no text has, one space between words. */
export const plainQuery = (asked: string): string =>
  asked
    .normalize('NFKC')
    .replace(/[\p{C}\p{Co}]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, MAX_QUERY);

export interface Hit {
  title: string;
  href: string;
  runLocal: string;
  category: string | null;
  writers: string[];
  /** Passages with the matches marked, as HTML. */
  passage: string;
  markedTitle: string;
}

interface HitRow {
  title: string;
  slug: string;
  runLocal: string;
  category: string | null;
  writers: string[];
  passage: string;
  marked: string;
  found: number;
}

const marked = (text: string): string =>
  escapeHtml(text).replaceAll(OPEN, '<mark>').replaceAll(CLOSE, '</mark>');

/** Ids of posts that the reader may read and that have all the words, as common table `found`. */
const foundSql = (blog: ReaderBlog) => `
        -- The query is inlined, so that the planner knows how many posts have its words.
        found as (
          (
            select
              p.id,
              p.run_at,
              p.search
            from
              posts p
            where
              p.blog_id = :blog
              and ${mayReadSql('p', blog.rights)}
              and p.readers_version is null
              and p.search @@ websearch_to_tsquery('english', :query)
            order by
              p.run_at desc nulls last,
              p.id desc
            limit
              :ranked
          )
          union all
          select
            p.id,
            p.run_at,
            r.search
          from
            readers_versions r
            join posts p on p.id = r.post_id
          where
            r.blog_id = :blog
            and ${mayReadSql('p', blog.rights)}
            and p.readers_version is not null
            and r.search @@ websearch_to_tsquery('english', :query)
        )`;

/**
 * Posts that the reader may read and that have all the words, by how well they fit, then newest first; of a word
 * that very many have, among the newest of them. Of a post whose update waits, what readers see is searched.
 */
export async function searchPosts(
  db: Queryable,
  blog: ReaderBlog,
  query: string,
): Promise<{ hits: Hit[]; found: number }> {
  if (query === '') return { hits: [], found: 0 };
  const { rows } = await db.raw<{ rows: HitRow[] }>(
    `
      with
        asked as (
          select
            websearch_to_tsquery('english', :query) as q
        ),
        ${foundSql(blog)},
        best as (
          select
            n.id,
            ts_rank_cd(n.search, asked.q, 1) as rank
          from
            found n,
            asked
          order by
            2 desc,
            1 desc
          limit
            :shown
        )
      select
        p.title,
        p.slug,
        p.run_local as "runLocal",
        c.name as category,
        (
          select
            coalesce(array_agg(w.name order by w.id <> p.byline_id, w.name), '{}')
          from
            people w
          where
            w.id = p.byline_id
            or w.id = any (p.coauthor_ids)
        ) as writers,
        ts_headline(
          'english',
          left(coalesce(
            case when p.readers_version is null then d.body_text end,
            (
              select string_agg(t.v #>> '{}', ' ')
              from jsonb_path_query(p.body, 'strict $.**.text') as t (v)
            ),
            ''
          ), :cut),
          asked.q,
          :how
        ) as passage,
        ts_headline('english', p.title, asked.q, :whole) as marked,
        (select count(*)::int from found) as found
      from
        best b
        join readers_posts p on p.id = b.id
        join posts d on d.id = b.id
        left join categories c on c.id = p.category_id,
        asked
      order by
        b.rank desc,
        b.id desc
    `,
    {
      query,
      blog: blog.id,
      ranked: MAX_RANKED,
      shown: SHOWN,
      cut: MAX_CUT,
      how: `StartSel=${OPEN}, StopSel=${CLOSE}, MaxFragments=2, MaxWords=24, MinWords=10, FragmentDelimiter=" … "`,
      whole: `StartSel=${OPEN}, StopSel=${CLOSE}, HighlightAll=true`,
    },
  );
  return {
    found: rows[0]?.found ?? 0,
    hits: rows.map((row) => ({
      title: row.title,
      href: pathIn(blog, row),
      runLocal: row.runLocal,
      category: row.category,
      writers: row.writers,
      passage: marked(row.passage),
      markedTitle: marked(row.marked),
    })),
  };
}

/** The newest posts that have what somebody asked, as a feed; null when nothing is asked. */
export async function searchFeed(context: Context, asked: string, kind: FeedKind): Promise<Page | null> {
  const { db, blog } = context;
  const query = plainQuery(asked);
  if (query === '') return null;
  const { rows } = await db.raw<{ rows: { id: number }[] }>(
    `
      with ${foundSql(blog)}
      select
        id
      from
        found
      order by
        run_at desc nulls last,
        id desc
      limit
        :shown
    `,
    { query, blog: blog.id, ranked: MAX_RANKED, shown: SHOWN },
  );
  return feedOf(
    context,
    {
      base: '/search',
      query: queryString(query),
      heading: `Search: ${query}`,
      filter: { ids: rows.map((row) => row.id) },
    },
    kind,
  );
}
const queryString = (query: string): string => `?${new URLSearchParams({ q: query }).toString()}`;

/** What was found for what somebody asked, or the place to ask. */
export async function searchPage(context: Context, asked: string): Promise<Page> {
  const { db, blog } = context;
  const query = plainQuery(asked);
  const { hits, found } = await searchPosts(db, blog, query);
  const said =
    query === ''
      ? ''
      : found === 0
        ? `Nothing on ${blog.title} has “${query}”. Fewer words, or others, may find more.`
        : found > hits.length
          ? `${found >= MAX_RANKED ? `More than ${MAX_RANKED} posts` : formatCount(found, 'post')}; the ${hits.length} that fit best.`
          : formatCount(found, 'post');
  return framed(context, 'search', {
    title: query === '' ? 'Search' : `Search: ${query}`,
    query,
    hits,
    said,
    ...(query === '' ? {} : { feeds: '/search', feedQuery: queryString(query) }),
    canonical: `${blog.home}/search`,
    noindex: true,
  });
}
