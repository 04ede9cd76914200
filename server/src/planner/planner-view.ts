import type { Knex } from 'knex';
import {
  CARD_TEXTS,
  PACKED_CARD,
  unpackPlanner,
  type CardText,
  type PackedCards,
  type PackedValues,
  type PersonRef,
  type PlannerAnswer,
  type PlannerQuery,
  type PlannerView,
  type WriterRef,
} from '@keyroster/contract';
import { addDays, roleMay, slotDates, startOfWeek } from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { textColumn } from '../posts/columns.js';
import { onlyVisible } from '../posts/visible.js';
import { absencesIn } from './absences.js';
import { onTopIn } from '../pages/spotlight.js';
import { clockOf } from '../slots/clock.js';
import { clockAndSlots } from '../slots/slots.js';

/** Everybody who may be credited, by name. */
async function writersOf(db: Queryable, blogId: number): Promise<WriterRef[]> {
  const rows = await db('memberships as m')
    .join('people as p', 'p.id', 'm.person_id')
    .where('m.blog_id', blogId)
    .where('p.active', true)
    .whereIn('m.role', ['managing editor', 'editor', 'contributor'])
    .orderBy('p.name')
    .select<{ id: number; name: string; capacity: number | null }[]>('p.id', 'p.name', 'm.capacity');
  return rows.map((row) => ({ ...personRef(row), capacity: row.capacity }));
}

async function peopleOf(db: Queryable, blogId: number): Promise<PersonRef[]> {
  return (
    await db('memberships as m')
      .join('people as p', 'p.id', 'm.person_id')
      .where('m.blog_id', blogId)
      .select<{ id: number; name: string }[]>('p.id', 'p.name')
  ).map(personRef);
}

/** Late posts that are listed; a newsroom with more has other problems. */
const MAX_LATE = 500;

/** How often a published post was read. */
const READS = `
  case when stage = 'published' then (
    select coalesce(sum(r.reads), 0)::int from post_reads r where r.post_id = posts.id
  ) end
`;

/** What stands for each value of a card. */
const cardSql = (person: CurrentPerson): Record<keyof PackedValues, string> => ({
  id: 'posts.id',
  version: 'version',
  stage: 'stage',
  ...(Object.fromEntries(CARD_TEXTS.map((f) => [f, textColumn(f)])) as Record<CardText, string>),
  categoryId: 'category_id',
  bylineId: 'byline_id',
  runLocal: 'run_local',
  copyDate: 'copy_date',
  words: 'words',
  notBefore: 'not_before',
  notAfter: 'not_after',
  mustBeOn: 'must_be_on',
  rating: 'rating',
  openNotes: 'coalesce(n.open, 0)',
  createdAt: 'created_at',
  blocks: 'check_blocks',
  warns: 'check_warns',
  openChores: `coalesce(ch.open, '[]')`,
  doneChores: 'coalesce(ch.done, 0)',
  reads: roleMay(person.role, 'seeResults') ? READS : 'null',
});

/**
 * Cards as JSON text that PostgreSQL has built, each a row of values in the order of `PackedCard`: with
 * thousands in a span, making objects of rows only to make text of them again would take longer than
 * everything else.
 */
async function cardsText(
  db: Queryable,
  person: CurrentPerson,
  which: (query: Knex.QueryBuilder) => unknown,
): Promise<string> {
  const values = cardSql(person);
  const cards = onlyVisible(
    db('posts')
      .joinRaw(
        `
          left join (
            select
              post_id,
              count(*) as open
            from
              notes
            where
              blog_id = ?
              and parent_id is null
              and settled_at is null
            group by
              post_id
          ) n on n.post_id = posts.id
          left join (
            select
              post_id,
              json_agg(text order by days_before desc, id) filter (where done_at is null) as open,
              count(*) filter (where done_at is not null) as done
            from
              chores
            where
              blog_id = ?
            group by
              post_id
          ) ch on ch.post_id = posts.id
        `,
        [person.blogId, person.blogId],
      )
      .where('posts.blog_id', person.blogId)
      .select(
        db.raw(
          `
            json_build_array(
              ${PACKED_CARD.map((name) => values[name]).join(', ')}
            ) as card
          `,
        ),
      ),
    person,
  )
    .orderBy('posts.run_local')
    .orderBy('posts.id');
  which(cards);
  const { rows } = await db.raw<{ rows: { cards: string }[] }>(
    `select coalesce(json_agg(c.card), '[]')::text as cards from (?) c`,
    [cards],
  );
  return rows[0]!.cards;
}

/** The answer of the planner’s main route, as JSON text of a `PlannerAnswer`. */
export async function plannerText(
  db: Queryable,
  person: CurrentPerson,
  query: PlannerQuery,
): Promise<string> {
  const clock = await clockAndSlots(db, person.blogId);
  const from = startOfWeek(query.from ?? clock.today, clock.firstWeekday);
  const to = addDays(from, (query.weeks ?? 4) * 7 - 1);
  const [cards, late, absences, writers, people, onTop] = await Promise.all([
    cardsText(db, person, (q) =>
      q.where((w) =>
        w
          .where('stage', 'pitch')
          .orWhere((d) =>
            d
              .whereNot('stage', 'withdrawn')
              .whereBetween('run_local', [`${from}T00:00:00`, `${to}T23:59:59`]),
          ),
      ),
    ),
    cardsText(db, person, (q) =>
      q
        .whereIn('stage', ['commissioned', 'drafting', 'in review', 'cleared'])
        .where((w) => w.where('copy_date', '<', clock.today).orWhere('run_local', '<', clock.nowLocal))
        .limit(MAX_LATE),
    ),
    absencesIn(db, person.blogId, from < clock.today ? from : clock.today, to),
    writersOf(db, person.blogId),
    peopleOf(db, person.blogId),
    onTopIn(db, person.blogId, from, to),
  ]);
  const rest: Omit<PlannerAnswer, 'cards' | 'late'> = {
    from,
    to,
    today: clock.today,
    nowLocal: clock.nowLocal,
    slots: slotDates(clock.slots, from, to),
    absences,
    writers,
    people,
    onTop,
  };
  return `${JSON.stringify(rest).slice(0, -1)},"cards":${cards},"late":${late}}`;
}

export async function plannerView(
  db: Queryable,
  person: CurrentPerson,
  query: PlannerQuery,
): Promise<PlannerView> {
  return unpackPlanner(JSON.parse(await plannerText(db, person, query)) as PlannerAnswer);
}

export async function plannerCards(
  db: Queryable,
  person: CurrentPerson,
  ids: readonly number[],
): Promise<PackedCards> {
  const { nowLocal } = await clockOf(db, person.blogId);
  return {
    nowLocal,
    people: await peopleOf(db, person.blogId),
    cards: JSON.parse(
      await cardsText(db, person, (q) => q.whereIn('posts.id', [...ids])),
    ) as PackedCards['cards'],
  };
}
