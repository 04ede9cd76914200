import {
  addDays,
  isDesk,
  slotDates,
  wallTimeOf,
  type PlanFacts,
  type PlanPost,
  type ProposalPitch,
  type ProposalWriter,
  type Stage,
} from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { onlyVisible } from '../posts/visible.js';
import { paceOfBlog } from '../posts/turnarounds.js';
import { clockAndSlots } from '../slots/slots.js';
import { absencesIn } from './absences.js';

/** Days on either side of a plan in which posts still count for how close things stand. */
const MARGIN = 13;

interface Row {
  id: number;
  title: string;
  stage: Stage;
  runLocal: string | null;
  copyDate: string | null;
  categoryId: number | null;
  secondCategoryId: number | null;
  format: string | null;
  bylineId: number | null;
  tagIds: number[];
  rating: number | null;
  createdById: number | null;
  createdAt: string;
  notBefore: string | null;
  notAfter: string | null;
  mustBeOn: string | null;
}

/** What a plan is made from, as the person who asks may plan; see `PlanFacts`. */
export async function planFacts(
  db: Queryable,
  person: CurrentPerson,
  { from, to }: { from: string; to: string },
): Promise<PlanFacts> {
  const clock = await clockAndSlots(db, person.blogId);
  const [first, last] = [addDays(from, -MARGIN), addDays(to, MARGIN)];
  const rows = await onlyVisible(db('posts'), person)
    .leftJoin('formats as f', 'f.id', 'posts.format_id')
    .where('posts.blog_id', person.blogId)
    .where((w) =>
      w
        .where('posts.stage', 'pitch')
        .orWhere((dated) =>
          dated
            .whereNot('posts.stage', 'withdrawn')
            .whereBetween('posts.run_local', [`${first}T00:00:00`, `${last}T23:59:59`]),
        ),
    )
    .orderBy('posts.id')
    .select<Row[]>(
      'posts.id',
      'posts.title',
      'posts.stage',
      'posts.run_local as runLocal',
      'posts.copy_date as copyDate',
      'posts.category_id as categoryId',
      'posts.second_category_id as secondCategoryId',
      'f.name as format',
      'posts.byline_id as bylineId',
      'posts.rating',
      'posts.created_by as createdById',
      'posts.created_at as createdAt',
      'posts.not_before as notBefore',
      'posts.not_after as notAfter',
      'posts.must_be_on as mustBeOn',
      db.raw(`array(select t.tag_id from post_tags t where t.post_id = posts.id order by 1) as "tagIds"`),
    );
  const mine = (row: Row) => isDesk(person, row);
  return {
    today: clock.today,
    nowLocal: clock.nowLocal,
    firstWeekday: clock.firstWeekday,
    slots: slotDates(clock.slots, first, last).map((s) => ({ ...s, format: s.format.toLowerCase() })),
    posts: rows.filter((r) => r.stage !== 'pitch').map((row) => postOf(row, mine(row))),
    pitches: rows.filter((r) => r.stage === 'pitch' && mine(r)).map((row) => pitchOf(row, clock.zone)),
    ...(await writersAndPace(db, person, clock.zone)),
    absences: await absencesIn(db, person.blogId, clock.today < first ? clock.today : first, last),
    deskFor: person.role === 'managing editor' ? null : person.categories,
    categories: await db('categories').where({ blog_id: person.blogId }).orderBy('id').select('id', 'name'),
  };
}

const postOf = (row: Row, mine: boolean): PlanPost => ({
  id: row.id,
  title: row.title,
  stage: row.stage,
  runLocal: row.runLocal!,
  copyDate: row.copyDate,
  categoryId: row.categoryId,
  secondCategoryId: row.secondCategoryId,
  format: (row.format ?? '').toLowerCase(),
  bylineId: row.bylineId,
  tagIds: row.tagIds,
  mine,
});

const pitchOf = (row: Row, zone: string): ProposalPitch => ({
  id: row.id,
  title: row.title,
  categoryId: row.categoryId,
  secondCategoryId: row.secondCategoryId,
  format: (row.format ?? '').toLowerCase(),
  tagIds: row.tagIds,
  dateConstraint: { notBefore: row.notBefore, notAfter: row.notAfter, mustBeOn: row.mustBeOn },
  rating: row.rating,
  since: wallTimeOf(row.createdAt, zone).slice(0, 10),
  bylineId: row.bylineId,
  pitchedById: row.createdById,
});

async function writersAndPace(
  db: Queryable,
  { blogId }: CurrentPerson,
  zone: string,
): Promise<Pick<PlanFacts, 'writers' | 'review'>> {
  const rows = await db('memberships as m')
    .join('people as p', 'p.id', 'm.person_id')
    .where('m.blog_id', blogId)
    .where('p.active', true)
    .whereIn('m.role', ['managing editor', 'editor', 'contributor'])
    .orderBy('p.name')
    .select<Pick<ProposalWriter, 'id' | 'name' | 'capacity' | 'categoryIds'>[]>(
      'p.id',
      'p.name',
      'm.capacity',
      db.raw(
        `
          array(
            select
              w.category_id
            from
              writer_categories w
            where
              w.blog_id = m.blog_id
              and w.person_id = p.id
            order by
              1
          ) as "categoryIds"
        `,
      ),
    );
  const wrote = await db('posts')
    .where({ blog_id: blogId, stage: 'published' })
    .whereNotNull('byline_id')
    .whereNotNull('category_id')
    .groupBy('byline_id', 'category_id')
    .select<{ bylineId: number; categoryId: number; count: number }[]>(
      'byline_id as bylineId',
      'category_id as categoryId',
      db.raw('count(*)::int as count'),
    );
  const pace = await paceOfBlog(db, blogId, zone);
  return {
    review: pace.blog.review,
    writers: rows.map((row) => ({
      ...row,
      leadTime: pace.of(row.id).write,
      wrote: wrote
        .filter((w) => w.bylineId === row.id)
        .map(({ categoryId, count }) => ({ categoryId, count })),
    })),
  };
}
