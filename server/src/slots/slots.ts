import type { NewSlot, SlotAnswer, SlotPost, SlotQuestion, SlotView, FieldValues } from '@keyroster/contract';
import {
  addDays,
  nextDates,
  formatSlot,
  formatCount,
  formatShortDate,
  slotDates,
  slotEffects,
  slotError,
  type StandingSlot,
} from '@keyroster/core';
import { saveAddition, saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { clockOf, type BlogClock } from './clock.js';

export function slotsOf(db: Queryable, blogId: number): Promise<SlotView[]> {
  return db('slots')
    .where({ blog_id: blogId })
    .orderBy(['weekday', 'time', 'id'])
    .select<SlotView[]>(
      'id',
      'version',
      'weekday',
      'time',
      'category_id as categoryId',
      'format',
      'from_date as from',
      'until_date as until',
      'every_weeks as everyWeeks',
      db.raw(
        `
          coalesce(
            (
              select
                json_agg(
                  json_build_object('date', e.date, 'movedTo', e.moved_to, 'movedTime', e.moved_time)
                  order by
                    e.date
                )
              from
                slot_exceptions e
              where
                e.slot_id = slots.id
            ),
            '[]'
          ) as exceptions
        `,
      ),
    ) as unknown as Promise<SlotView[]>;
}

async function mustBeSound(trx: Queryable, blogId: number, slot: NewSlot): Promise<void> {
  const error = slotError(slot);
  if (error) throw new ProblemError('invalid', error);
  if (!(await trx('categories').where({ blog_id: blogId, id: slot.categoryId }).first('id')))
    throw new ProblemError('invalid', 'That category is not on this blog.');
}

const rowOf = (slot: NewSlot) => ({
  weekday: slot.weekday,
  time: slot.time,
  category_id: slot.categoryId,
  format: slot.format,
  from_date: slot.from,
  until_date: slot.until,
  every_weeks: slot.everyWeeks,
});

async function storeExceptions(trx: Trx, blogId: number, slotId: number, slot: NewSlot): Promise<void> {
  await trx('slot_exceptions').where({ slot_id: slotId }).delete();
  if (slot.exceptions.length === 0) return;
  await trx('slot_exceptions').insert(
    slot.exceptions.map((e) => ({
      blog_id: blogId,
      slot_id: slotId,
      date: e.date,
      moved_to: e.movedTo,
      moved_time: e.movedTime,
    })),
  );
}

/** Throws when the blog has a slot of the same category that opens at the same moments. */
async function mustBeOnlyOne(
  trx: Trx,
  blogId: number,
  slot: NewSlot,
  today: string,
  but: number | null,
): Promise<void> {
  const own = new Set(datesAhead([{ ...slot, id: -1 }], today).map((d) => `${d.date} ${d.time}`));
  for (const other of await slotsOf(trx, blogId)) {
    if (other.id === but || other.categoryId !== slot.categoryId) continue;
    const same = datesAhead([other], today).find((d) => own.has(`${d.date} ${d.time}`));
    if (same)
      throw new ProblemError(
        'taken',
        `This category already has a standing slot on ${formatShortDate(same.date, today)} at ` +
          `${same.time} (${formatSlot(other, today)}).`,
      );
  }
}

/** How far ahead a change of slots is weighed. */
const WEEKS_AHEAD = 26;
const datesAhead = (slots: readonly StandingSlot[], today: string) =>
  slotDates(slots, today, addDays(today, 7 * WEEKS_AHEAD));

export async function slotOf(db: Queryable, blogId: number, id: number): Promise<SlotView> {
  const slot = (await slotsOf(db, blogId)).find((s) => s.id === id);
  if (!slot) throw notFound('That standing slot');
  return slot;
}

const changedSlot = (trx: Trx, { blogId }: CurrentPerson, id: number) => ({
  kind: 'slot' as const,
  id,
  read: async (): Promise<SlotView & FieldValues> => ({ ...(await slotOf(trx, blogId, id)) }),
  name: (slot: SlotView) => formatSlot(slot, slot.from ?? ''),
});

export async function addSlot(trx: Trx, person: CurrentPerson, slot: NewSlot): Promise<void> {
  await mustBeSound(trx, person.blogId, slot);
  await trx('blogs').where({ id: person.blogId }).forUpdate().first('id');
  await mustBeOnlyOne(trx, person.blogId, slot, (await clockOf(trx, person.blogId)).today, null);
  const [row] = await trx('slots')
    .insert({ blog_id: person.blogId, ...rowOf(slot) })
    .returning<{ id: number }[]>('id');
  await storeExceptions(trx, person.blogId, row!.id, slot);
  await saveAddition({ trx, person }, changedSlot(trx, person, row!.id));
}

/**
 * Puts another rule in the place of a slot’s. Posts keep their run times, whether they still stand in a slot
 * or not.
 */
export async function changeSlot(change: Change, id: number, slot: NewSlot): Promise<void> {
  const { trx, person } = change;
  await mustBeSound(trx, person.blogId, slot);
  await trx('blogs').where({ id: person.blogId }).forUpdate().first('id');
  await saveChange(change, changedSlot(trx, person, id), async () => {
    await mustBeOnlyOne(trx, person.blogId, slot, (await clockOf(trx, person.blogId)).today, id);
    await trx('slots').where({ id }).update(rowOf(slot));
    await storeExceptions(trx, person.blogId, id, slot);
  });
}

export const removeSlot = (change: Change, id: number): Promise<void> =>
  saveRemoval(change, changedSlot(change.trx, change.person, id), () =>
    change.trx('slots').where({ id }).delete(),
  );

/** What storing, changing or removing a slot would do to the coming half year; changes nothing. */
export async function weighSlot(
  db: Queryable,
  person: CurrentPerson,
  { id, slot }: SlotQuestion,
): Promise<SlotAnswer> {
  if (slot) await mustBeSound(db, person.blogId, slot);
  const { today, nowLocal } = await clockOf(db, person.blogId);
  const slots = await slotsOf(db, person.blogId);
  if (id !== null && !slots.some((s) => s.id === id)) throw notFound('That standing slot');
  const after = [...slots.filter((s) => s.id !== id), ...(slot ? [{ ...slot, id: id ?? 0 }] : [])];
  const posts = await db('posts')
    .where({ blog_id: person.blogId })
    .where('run_local', '>=', nowLocal)
    .where('run_local', '<=', `${addDays(today, 7 * WEEKS_AHEAD)}T23:59:59`)
    .whereNotIn('stage', ['withdrawn', 'pitch'])
    .orderBy('run_local')
    .orderBy('id')
    .select<(SlotPost & { categoryId: number | null })[]>(
      'id',
      'title',
      'run_local as runLocal',
      'stage',
      'category_id as categoryId',
    );
  const { effects, openBefore, openAfter } = slotEffects(
    datesAhead(slots, today),
    datesAhead(after, today),
    posts,
  );
  const of = (what: 'loses' | 'gains') =>
    effects
      .filter((e) => e.what === what)
      .map(({ post: { id: postId, title, runLocal, stage } }) => ({ id: postId, title, runLocal, stage }));
  const [loses, gains] = [of('loses'), of('gains')];
  const more = openAfter - openBefore;
  return {
    loses,
    gains,
    dates: slot
      ? nextDates(slot, today, 8).map(({ date, exception }) => ({
          date,
          movedTo: exception?.movedTo ?? null,
          skipped: exception !== null && exception.movedTo === null,
        }))
      : [],
    sentence: [
      loses.length === 0
        ? 'No post loses its slot.'
        : `${formatCount(loses.length, 'post')} would stand in no slot any more.`,
      ...(gains.length > 0 ? [`${formatCount(gains.length, 'post')} would stand in one again.`] : []),
      more === 0
        ? 'As many slots are open as before.'
        : more > 0
          ? `${formatCount(more, 'more slot')} would be open in the next 26 weeks.`
          : `${formatCount(-more, 'open slot')} fewer in the next 26 weeks.`,
    ].join(' '),
  };
}

/** The blog’s own time with its standing slots. */
export interface Clock extends BlogClock {
  slots: StandingSlot[];
}

export const clockAndSlots = async (db: Queryable, blogId: number): Promise<Clock> => ({
  ...(await clockOf(db, blogId)),
  slots: await slotsOf(db, blogId),
});
