import type { AbsenceChanges, AbsenceView, NewAbsence, FieldValues } from '@keyroster/contract';
import { formatShortDate, type Absence } from '@keyroster/core';
import { mustBelong, personRef } from '../accounts/people.js';
import { saveAddition, saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { clockOf } from '../slots/clock.js';

/** One’s own absences are one’s own to enter; the managing editor enters anybody’s. */
const mayEnter = (person: CurrentPerson, personId: number) =>
  person.role === 'managing editor' || person.id === personId;

const rows = (db: Queryable, blogId: number) =>
  db('absences as a')
    .join('people as p', 'p.id', 'a.person_id')
    .where('a.blog_id', blogId)
    .orderBy('a.from_date')
    .orderBy('a.id');

/** Absences that touch a span. */
export function absencesIn(db: Queryable, blogId: number, from: string, to: string): Promise<Absence[]> {
  return rows(db, blogId)
    .where('a.to_date', '>=', from)
    .where('a.from_date', '<=', to)
    .select<Absence[]>(
      'a.id',
      'a.person_id as personId',
      'a.from_date as from',
      'a.to_date as to',
      'a.note',
    ) as unknown as Promise<Absence[]>;
}

/** A person's absences that are not over. */
export const absencesOf = (
  db: Queryable,
  blogId: number,
  personId: number,
  today: string,
): Promise<Absence[]> =>
  rows(db, blogId)
    .where('a.person_id', personId)
    .where('a.to_date', '>=', today)
    .select<Absence[]>(
      'a.id',
      'a.person_id as personId',
      'a.from_date as from',
      'a.to_date as to',
      'a.note',
    ) as unknown as Promise<Absence[]>;

/** Absences that are not over. */
export async function listAbsences(
  db: Queryable,
  person: CurrentPerson,
  only?: number,
): Promise<AbsenceView[]> {
  const query = rows(db, person.blogId).select<(Absence & { name: string; version: number })[]>(
    'a.id',
    'a.version',
    'a.person_id as personId',
    'a.from_date as from',
    'a.to_date as to',
    'a.note',
    'p.name',
  );
  if (only === undefined) void query.where('a.to_date', '>=', (await clockOf(db, person.blogId)).today);
  else void query.where('a.id', only);
  return (await query).map(({ name, ...absence }) => ({
    ...absence,
    person: personRef({ id: absence.personId, name }),
    mine: mayEnter(person, absence.personId),
  }));
}

function mustEnd({ from, to }: { from: string; to: string }): void {
  if (to < from)
    throw new ProblemError('invalid', `The absence ends on ${formatShortDate(to, from)}, before it begins.`, {
      fields: [{ field: 'to', sentence: 'Choose a last day that is not before the first.' }],
    });
}

/** The same person cannot be away twice on a day. */
async function mustBeApart(
  trx: Trx,
  blogId: number,
  personId: number,
  { from, to }: { from: string; to: string },
  but = 0,
): Promise<void> {
  await trx('memberships').where({ blog_id: blogId, person_id: personId }).forUpdate().first('role');
  const other = await trx('absences')
    .where({ blog_id: blogId, person_id: personId })
    .whereNot({ id: but })
    .where('to_date', '>=', from)
    .where('from_date', '<=', to)
    .first<{ from: string; to: string } | undefined>('from_date as from', 'to_date as to');
  if (other)
    throw new ProblemError(
      'taken',
      `That overlaps an absence from ${formatShortDate(other.from, from)} to ` +
        `${formatShortDate(other.to, from)}. Change that one instead.`,
    );
}

export async function addAbsence(trx: Trx, person: CurrentPerson, input: NewAbsence): Promise<AbsenceView> {
  if (!mayEnter(person, input.personId)) throw notYours('Entering somebody else’s absence');
  await mustBelong(trx, person.blogId, input.personId);
  mustEnd(input);
  await mustBeApart(trx, person.blogId, input.personId, input);
  const [row] = await trx('absences')
    .insert({
      blog_id: person.blogId,
      person_id: input.personId,
      from_date: input.from,
      to_date: input.to,
      note: input.note,
      created_by: person.id,
    })
    .returning<{ id: number }[]>('id');
  return saveAddition({ trx, person }, changedAbsence(trx, person, row!.id));
}

const changedAbsence = (trx: Trx, person: CurrentPerson, id: number) => ({
  kind: 'absence' as const,
  id,
  read: async (): Promise<AbsenceView & FieldValues> => ({ ...(await ownAbsence(trx, person, id)) }),
  name: ({ person: { name }, from, to }: AbsenceView) =>
    `${name}, ${formatShortDate(from, to)} to ${formatShortDate(to, from)}`,
});

async function ownAbsence(trx: Trx, person: CurrentPerson, id: number): Promise<AbsenceView> {
  const [absence] = await listAbsences(trx, person, id);
  if (!absence) throw notFound('That absence');
  if (!absence.mine) throw notYours('Changing somebody else’s absence');
  return absence;
}

export function changeAbsence(change: Change, id: number, changes: AbsenceChanges): Promise<AbsenceView> {
  const { trx, person } = change;
  return saveChange(change, changedAbsence(trx, person, id), async (before) => {
    const absence = { ...before, ...changes };
    mustEnd(absence);
    await mustBeApart(trx, person.blogId, absence.personId, absence, id);
    await trx('absences')
      .where({ id })
      .update({ from_date: absence.from, to_date: absence.to, note: absence.note });
  });
}

export async function removeAbsence(change: Change, id: number): Promise<null> {
  await saveRemoval(change, changedAbsence(change.trx, change.person, id), () =>
    change.trx('absences').where({ id }).delete(),
  );
  return null;
}
