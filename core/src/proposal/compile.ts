import type { Choice, Model } from '../assignment/index.js';
import { daysAway, fitting } from '../planning/load.js';
import { startOfWeek } from '../time/week.js';
import { addDays } from '../time/zone.js';
import { slotKey, type Placing, type Problem, type ProposalPitch, type ProposalWriter } from './problem.js';
import { slotRule, writerRule, type Rule } from './rules.js';
import { Crowding } from './crowding.js';
import { sumOf, valueParts } from './value.js';

/** A pin that cannot be held, and what stands against it. */
export interface Unmet {
  pin: Placing;
  why: Rule | 'slot pinned twice' | 'pitch pinned twice' | 'gone';
}

/** The problem as the solver sees it, and the way back. */
export interface Compiled {
  model: Model;
  /** The placing of each choice. */
  placings: readonly Placing[];
  /** Pins that stand; the model is about what is left beside them. */
  pinned: readonly Placing[];
  unmet: readonly Unmet[];
  /** What the pins are worth by themselves, without what crowding costs. */
  base: number;
}

/** Posts that still fit into a writer's week beside those that are fixed; `Infinity` where nobody said. */
export function roomIn(problem: Problem, writer: ProposalWriter, week: string): number {
  if (writer.capacity === null) return Infinity;
  const end = addDays(week, 6);
  const away = daysAway(problem.absences, writer.id, week, end);
  const has = problem.fixed.filter((p) => p.bylineId === writer.id && p.date >= week && p.date <= end);
  // Writers who have more than fits already keep it.
  const stand = problem.pitches.filter(({ stands }) => {
    const date =
      stands?.writerId === writer.id ? problem.slots.find((s) => slotKey(s) === stands.slot)?.date : '';
    return date && date >= week && date <= end;
  });
  return Math.max(0, fitting(writer.capacity, away) - has.length, stand.length);
}

/** Pins that stand, those that do not, and the room that is left in each writer's week beside them. */
export class Pins {
  readonly pinned: Placing[] = [];
  readonly unmet: Unmet[] = [];
  private readonly room = new Map<string, number>();

  constructor(private readonly problem: Problem) {
    const slots = new Map(problem.slots.map((s) => [slotKey(s), s]));
    const pitches = new Map(problem.pitches.map((p) => [p.id, p]));
    const writers = new Map(problem.writers.map((w) => [w.id, w]));
    for (const pin of problem.wishes.pinned) {
      const [pitch, slot, writer] = [
        pitches.get(pin.pitchId),
        slots.get(pin.slot),
        writers.get(pin.writerId),
      ];
      const why = ((): Unmet['why'] | null => {
        if (!pitch || !slot || !writer) return 'gone';
        if (this.pinned.some((p) => p.slot === pin.slot)) return 'slot pinned twice';
        if (this.pinned.some((p) => p.pitchId === pin.pitchId)) return 'pitch pinned twice';
        return (
          slotRule(problem, pitch, slot) ??
          writerRule(problem, pitch, slot, writer) ??
          (this.roomFor(writer, slot.date) < 1 ? 'capacity' : null)
        );
      })();
      if (why !== null) {
        this.unmet.push({ pin, why });
        continue;
      }
      this.pinned.push(pin);
      this.room.set(this.weekKey(writer!, slot!.date), this.roomFor(writer!, slot!.date) - 1);
    }
  }

  /** Names a writer's week. */
  weekKey(writer: ProposalWriter, date: string): string {
    return `${writer.id}|${startOfWeek(date, this.problem.firstWeekday)}`;
  }

  roomFor(writer: ProposalWriter, date: string): number {
    const key = this.weekKey(writer, date);
    const known = this.room.get(key);
    if (known !== undefined) return known;
    const fresh = roomIn(this.problem, writer, startOfWeek(date, this.problem.firstWeekday));
    this.room.set(key, fresh);
    return fresh;
  }
}

/**
 * Lays out what may be: a choice for each pitch, slot and writer that no rule forbids; a limit for each
 * writer's week; soft limits for what should not stand close. Pins come first and take up room.
 */
export function compile(problem: Problem): Compiled {
  const slots = new Map(problem.slots.map((s) => [slotKey(s), s]));
  const pitches = new Map(problem.pitches.map((p) => [p.id, p]));
  const writers = new Map(problem.writers.map((w) => [w.id, w]));
  const pins = new Pins(problem);
  const { pinned, unmet } = pins;

  const takenSlots = new Set(pinned.map((p) => p.slot));
  const takenPitches = new Set(pinned.map((p) => p.pitchId));
  const places = problem.slots.filter((s) => !takenSlots.has(slotKey(s)));
  const items = problem.pitches.filter((p) => !takenPitches.has(p.id));
  const limits: { max: number }[] = [];
  const limitOf = new Map<string, number>();
  const crowding = new Crowding(problem, pinned);
  const choices: Choice[] = [];
  const placings: Placing[] = [];
  for (const [place, slot] of places.entries())
    for (const [item, pitch] of items.entries()) {
      if (slotRule(problem, pitch, slot) !== null) continue;
      for (const writer of problem.writers) {
        if (writerRule(problem, pitch, slot, writer) !== null) continue;
        const left = pins.roomFor(writer, slot.date);
        if (left < 1) continue;
        const key = pins.weekKey(writer, slot.date);
        if (left !== Infinity && !limitOf.has(key)) limitOf.set(key, limits.push({ max: left }) - 1);
        const limit = limitOf.get(key);
        choices.push({
          item,
          place,
          value: sumOf(valueParts(problem, pitch, slot, writer)),
          limits: limit === undefined ? [] : [limit],
          softLimits: crowding.softLimitsOf(pitch, slot, writer),
        });
        placings.push({ pitchId: pitch.id, slot: slotKey(slot), writerId: writer.id });
      }
    }
  return {
    model: { items: items.length, places: places.length, choices, limits, softLimits: crowding.softLimits },
    placings,
    pinned,
    unmet,
    base: pinned.reduce(
      (sum, p) =>
        sum +
        sumOf(
          valueParts(
            problem,
            pitches.get(p.pitchId) as ProposalPitch,
            slots.get(p.slot)!,
            writers.get(p.writerId) as ProposalWriter,
          ),
        ),
      0,
    ),
  };
}
