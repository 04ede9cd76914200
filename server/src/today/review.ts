import type { ReviewItem, ReviewView } from '@keyroster/contract';
import {
  inReviewOrder,
  isLate,
  missingOf,
  reviewKind,
  suggestionsIn,
  wallTimeOf,
  type BodyNode,
} from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import type { Queryable } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import { factsOf, postRows, type PostRow } from '../posts/store.js';
import { onlyVisible } from '../posts/visible.js';
import { clockAndSlots } from '../slots/slots.js';
import { REVIEWER } from './reviewer.js';

type Row = PostRow & {
  suggested: BodyNode | null;
  reviewer_id: number | null;
  by_id: number | null;
  by_name: string | null;
  word: string | null;
  since: string;
};

/** Who brought it to where it waits, when, and what they said with it. */
const LAST = `
  left join lateral (
    select
      m.person_id,
      m.at,
      m.note
    from
      stage_moves m
    where
      m.post_id = posts.id
      and posts.stage <> 'published'
      and m.to_stage = posts.stage
    order by
      m.id desc
    limit
      1
  ) moved on true
  left join lateral (
    select
      v.person_id,
      v.at
    from
      post_versions v
    where
      v.post_id = posts.id
      and v.version > posts.readers_version
    order by
      v.version
    limit
      1
  ) changed on true
  left join people as who on who.id = coalesce(moved.person_id, changed.person_id)
`;

/** What waits for a person to read it, the soonest first, each with who brought it, since when, and what is missing. */
export async function reviewView(db: Queryable, person: CurrentPerson): Promise<ReviewView> {
  const { zone, nowLocal } = await clockAndSlots(db, person.blogId);
  const rows = (await onlyVisible(postRows(db), person)
    .where('posts.blog_id', person.blogId)
    .where((w) =>
      w
        .whereIn('posts.stage', ['in review', 'cleared'])
        .orWhere((out) => out.where('posts.stage', 'published').whereNotNull('posts.readers_version')),
    )
    .joinRaw(LAST)
    .select(
      'posts.suggested',
      'who.id as by_id',
      'who.name as by_name',
      'moved.note as word',
      db.raw(`${REVIEWER} as reviewer_id`),
      db.raw('coalesce(moved.at, changed.at, posts.stage_since) as since'),
    )) as unknown as Row[];
  const items = rows.flatMap((row): ReviewItem[] => {
    const facts = { ...factsOf(row), editorId: row.reviewer_id, readersVersion: row.readers_version };
    const kind = reviewKind(person, facts);
    return kind ? [itemOf(row, kind, zone, nowLocal)] : [];
  });
  return { items: items.sort(inReviewOrder) };
}

function itemOf(row: Row, kind: ReviewItem['kind'], zone: string, nowLocal: string): ReviewItem {
  const counts = {
    checks: { blocks: row.check_blocks, warns: row.check_warns },
    openNotes: row.open_notes,
    suggestions: row.suggested ? suggestionsIn(row.suggested).length : 0,
    runLocal: row.run_local,
  };
  // What is out already has no time to come.
  const isOut = kind === 'update';
  return {
    kind,
    postId: row.id,
    title: row.title,
    categoryId: row.category_id,
    words: row.words,
    by: row.by_id === null ? null : personRef({ id: row.by_id, name: row.by_name! }),
    since: wallTimeOf(row.since, zone),
    word: row.word ?? '',
    runLocal: isOut ? null : row.run_local,
    late: isLate({ stage: row.stage, runLocal: row.run_local, copyDate: row.copy_date }, nowLocal),
    missing: missingOf(counts),
  };
}
