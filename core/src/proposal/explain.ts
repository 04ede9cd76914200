import { fitting, daysAway } from '../planning/load.js';
import { formatList } from '../text/list.js';
import { formatCount, formatShortDate } from '../time/format.js';
import { startOfWeek } from '../time/week.js';
import { addDays, daysBetween } from '../time/zone.js';
import type { SlotDate } from '../slots/slots.js';
import { Pins, roomIn, type Unmet } from './compile.js';
import { daysThere, deadlinesOf, type Deadlines } from './deadlines.js';
import {
  slotKey,
  type LeadTime,
  type Placing,
  type Problem,
  type ProposalPitch,
  type ProposalWriter,
} from './problem.js';
import { RULES, slotRule, writerRule, type Rule } from './rules.js';
import { valueParts, type ValuePart } from './value.js';

export interface ExplainedPlacing extends Placing, Deadlines {
  date: string;
  time: string;
  pinned: boolean;
  /** Why this one, in words, the weightiest reason first. */
  why: string[];
}

export interface Explanation {
  /** In order of time. */
  placings: ExplainedPlacing[];
  /** Slots that stay open, each with the reason. */
  open: { slot: SlotDate; why: string }[];
  /** Pins that cannot be held, each with the rule that it breaks. */
  unmet: { pin: Placing; why: string }[];
}

/** `9 days (median of 6 posts)`, `7 days (usual; too few of theirs to tell)`. */
export const formatLeadTime = ({ days, count }: LeadTime): string =>
  `${formatCount(days, 'day')} (${count > 0 ? `median of ${formatCount(count, 'post')}` : 'usual; too few to tell'})`;

/** Says why a plan is as it is: each placing, each slot left open, each pin that could not be held. */
export function explain(problem: Problem, placings: readonly Placing[]): Explanation {
  return new Explainer(problem, placings).explanation();
}

class Explainer {
  private readonly slots: ReadonlyMap<string, SlotDate>;
  private readonly pitches: ReadonlyMap<number, ProposalPitch>;
  private readonly writers: ReadonlyMap<number, ProposalWriter>;
  private readonly placings: readonly Placing[];
  private readonly bySlot: ReadonlyMap<string, Placing>;
  private readonly byPitch: ReadonlyMap<number, Placing>;

  constructor(
    private readonly problem: Problem,
    placings: readonly Placing[],
  ) {
    this.slots = new Map(problem.slots.map((s) => [slotKey(s), s]));
    this.pitches = new Map(problem.pitches.map((p) => [p.id, p]));
    this.writers = new Map(problem.writers.map((w) => [w.id, w]));
    // What a plan was made of may be gone meanwhile.
    this.placings = placings.filter(
      (p) => this.slots.has(p.slot) && this.pitches.has(p.pitchId) && this.writers.has(p.writerId),
    );
    this.bySlot = new Map(this.placings.map((p) => [p.slot, p]));
    this.byPitch = new Map(this.placings.map((p) => [p.pitchId, p]));
  }

  explanation(): Explanation {
    return {
      placings: this.problem.slots.flatMap((slot) => {
        const placing = this.bySlot.get(slotKey(slot));
        return placing ? [this.placing(placing, slot)] : [];
      }),
      open: this.problem.slots
        .filter((slot) => !this.bySlot.has(slotKey(slot)))
        .map((slot) => ({ slot, why: this.whyOpen(slot) })),
      unmet: new Pins(this.problem).unmet.map(({ pin, why }) => ({ pin, why: this.whyUnmet(pin, why) })),
    };
  }

  private placing(placing: Placing, slot: SlotDate): ExplainedPlacing {
    const pitch = this.pitches.get(placing.pitchId)!;
    const writer = this.writers.get(placing.writerId)!;
    // What stays as it is has its deadlines already; they may be past.
    const deadlines = deadlinesOf(writer, slot.date, this.problem) ?? {
      copy: this.problem.today,
      cleared: addDays(slot.date, -1),
    };
    return {
      ...placing,
      ...deadlines,
      date: slot.date,
      time: slot.time,
      pinned: this.problem.wishes.pinned.some(
        (p) => p.slot === placing.slot && p.pitchId === placing.pitchId,
      ),
      why: this.reasons(pitch, slot, writer, deadlines),
    };
  }

  private reasons(
    pitch: ProposalPitch,
    slot: SlotDate,
    writer: ProposalWriter,
    deadlines: Deadlines,
  ): string[] {
    const { today } = this.problem;
    const words: Record<ValuePart, () => string> = {
      filled: () => `a slot for ${this.category(slot.categoryId)}`,
      soon: () => '',
      rating: () => (pitch.rating === null || pitch.rating <= 3 ? '' : `rated ${pitch.rating} of 5`),
      waited: () => `has waited ${formatCount(Math.floor(daysBetween(pitch.since, today) / 7), 'week')}`,
      lastChance: () =>
        `its last day is ${formatShortDate(pitch.dateConstraint.mustBeOn ?? pitch.dateConstraint.notAfter!, today)}`,
      itsDay: () => 'it must be on this day',
      own: () =>
        pitch.bylineId === writer.id ? `${writer.name} is credited already` : `${writer.name} pitched it`,
      knows: () => {
        const count = writer.wrote.find((w) => w.categoryId === slot.categoryId)!.count;
        return `${writer.name} has had ${formatCount(count, 'post')} out in ${this.category(slot.categoryId)}`;
      },
      second: () => `fits by its second category, ${this.category(slot.categoryId)}`,
      noCategory: () => `has no category; the slot is for ${this.category(slot.categoryId)}`,
      kept: () => (pitch.stands!.slot === slotKey(slot) ? 'keeps its date' : 'moves to another date'),
    };
    const parts = Object.entries(valueParts(this.problem, pitch, slot, writer)) as [ValuePart, number][];
    parts.sort((a, b) => Math.abs(b[1]) - Math.abs(a[1]));
    return [...parts.map(([part]) => words[part]()).filter(Boolean), this.time(slot, writer, deadlines)];
  }

  private time(slot: SlotDate, writer: ProposalWriter, { copy }: Deadlines): string {
    const { today, absences } = this.problem;
    const days = daysThere(absences, writer.id, today, copy);
    return (
      `copy by ${formatShortDate(copy, today)}: ${writer.name} has ${formatCount(days, 'day')} and takes ` +
      `${formatLeadTime(writer.leadTime)}${this.weekWords(slot, writer)}`
    );
  }

  /** `; 1 of 2 that week`, with what the plan gives them. */
  private weekWords(slot: SlotDate, writer: ProposalWriter): string {
    const { fits, has } = this.week(slot, writer);
    return fits === null ? '' : `; ${has} of ${fits} that week`;
  }

  private week(slot: SlotDate, writer: ProposalWriter): { fits: number | null; has: number; left: number } {
    const { firstWeekday, absences, fixed } = this.problem;
    const from = startOfWeek(slot.date, firstWeekday);
    const to = addDays(from, 6);
    const inWeek = (date: string) => date >= from && date <= to;
    const planned = this.placings.filter(
      (p) => p.writerId === writer.id && inWeek(this.slots.get(p.slot)!.date),
    ).length;
    const stands = fixed.filter((p) => p.bylineId === writer.id && inWeek(p.date)).length;
    return {
      fits:
        writer.capacity === null ? null : fitting(writer.capacity, daysAway(absences, writer.id, from, to)),
      has: stands + planned,
      left: roomIn(this.problem, writer, from) - planned,
    };
  }

  private category(id: number): string {
    return this.problem.categories.find((c) => c.id === id)?.name ?? 'its category';
  }

  /** Why a slot stays open: what keeps the pitches nearest to it out. */
  private whyOpen(slot: SlotDate): string {
    if (this.problem.wishes.excluded.slots.includes(slotKey(slot))) return 'You left this slot out.';
    if (this.problem.writers.length === 0) return 'Nobody is there to write.';
    const rules = this.problem.pitches.map((pitch) => ({ pitch, rule: slotRule(this.problem, pitch, slot) }));
    const near = rules.filter(({ rule }) => rule !== 'category');
    if (near.length === 0) return `No pitch for ${this.category(slot.categoryId)} is in the tray.`;
    const order = (rule: Rule | null) => (rule === null ? RULES.length : RULES.indexOf(rule));
    near.sort((a, b) => order(b.rule) - order(a.rule));
    const clauses = near.slice(0, 3).map(({ pitch, rule }) => this.clause(pitch, slot, rule));
    const others = near.length - clauses.length;
    return `${[...clauses, ...(others > 0 ? [`${formatCount(others, 'other')} likewise`] : [])].join('; ')}.`;
  }

  private clause(pitch: ProposalPitch, slot: SlotDate, rule: Rule | null): string {
    const title = `“${pitch.title}”`;
    const { today } = this.problem;
    if (rule === 'excluded') return `you left ${title} out`;
    if (rule === 'format') return `${title} has another format`;
    if (rule === 'date') {
      const { mustBeOn, notBefore, notAfter } = pitch.dateConstraint;
      if (mustBeOn) return `${title} must be on ${formatShortDate(mustBeOn, today)}`;
      return notBefore && slot.date < notBefore
        ? `${title} must not run before ${formatShortDate(notBefore, today)}`
        : `${title} must not run after ${formatShortDate(notAfter!, today)}`;
    }
    const elsewhere = this.byPitch.get(pitch.id);
    if (elsewhere)
      return `${title} is better placed on ${formatShortDate(this.slots.get(elsewhere.slot)!.date, today)}`;
    return `${title}: ${this.writersWords(pitch, slot)}`;
  }

  private writersWords(pitch: ProposalPitch, slot: SlotDate): string {
    const rules = this.problem.writers
      .filter((w) => pitch.bylineId === null || pitch.bylineId === w.id)
      .map((writer) => ({
        writer,
        rule:
          writerRule(this.problem, pitch, slot, writer) ??
          (this.week(slot, writer).left < 1 ? ('capacity' as const) : null),
      }));
    if (rules.length === 0) return 'its writer is not in the newsroom any more';
    if (rules.some(({ rule }) => rule === null)) return 'it would stand too close to others like it';
    const nearest = Math.max(...rules.map(({ rule }) => RULES.indexOf(rule!)));
    const those = rules.filter(({ rule }) => RULES.indexOf(rule!) === nearest).map(({ writer }) => writer);
    const words = those.slice(0, 2).map((writer) => this.writerWords(RULES[nearest]!, slot, writer));
    return formatList([...words, ...(those.length > 2 ? [`${those.length - 2} more likewise`] : [])]);
  }

  private writerWords(rule: Rule, slot: SlotDate, writer: ProposalWriter): string {
    const { today, absences, review, clearedBy } = this.problem;
    if (rule === 'capacity') {
      const { fits, has } = this.week(slot, writer);
      return `${writer.name} has ${has} of ${fits ?? 0} that week`;
    }
    if (rule === 'no time') {
      const before = addDays(slot.date, -1);
      const cleared = clearedBy !== null && clearedBy < before ? clearedBy : before;
      const copy = addDays(cleared, -review.days);
      const days = daysThere(absences, writer.id, today, copy);
      return `${writer.name} has ${formatCount(days, 'day')} until copy is due and takes ${formatCount(writer.leadTime.days, 'day')}`;
    }
    return rule === 'writes other categories'
      ? `${writer.name} does not write ${this.category(slot.categoryId)}`
      : `you left ${writer.name} out`;
  }

  private whyUnmet(pin: Placing, why: Unmet['why']): string {
    const slot = this.slots.get(pin.slot);
    const pitch = this.pitches.get(pin.pitchId);
    const writer = this.writers.get(pin.writerId);
    const gone = [
      ...(pitch ? [] : ['the pitch is not in the tray any more']),
      ...(slot ? [] : ['the slot is not open any more']),
      ...(writer ? [] : ['the writer is not in the newsroom any more']),
    ];
    if (!slot || !pitch || !writer)
      return `${pitch ? `“${pitch.title}”` : 'A pin'} cannot be held: ${formatList(gone)}.`;
    const what = `“${pitch.title}” on ${formatShortDate(slot.date, this.problem.today)} by ${writer.name}`;
    const reasons: Record<Unmet['why'], () => string> = {
      gone: () => 'it is not there any more',
      'slot pinned twice': () => 'another is to go into the same slot',
      'pitch pinned twice': () => 'it is to go into another slot, too',
      excluded: () => 'it is left out as well',
      category: () => `the slot is for ${this.category(slot.categoryId)}`,
      format: () => 'the slot is for another format',
      date: () => this.clause(pitch, slot, 'date').replace(`“${pitch.title}” `, 'it '),
      byline: () => 'somebody else is credited already',
      'writes other categories': () => this.writerWords('writes other categories', slot, writer),
      'no time': () => this.writerWords('no time', slot, writer),
      capacity: () => this.writerWords('capacity', slot, writer),
    };
    return `${what} cannot be held: ${reasons[why]()}.`;
  }
}
