import type { SlotDate } from '../slots/slots.js';
import { addDays } from '../time/zone.js';
import { slotKey, type Placing, type Problem, type ProposalPitch, type ProposalWriter } from './problem.js';
import { SPANS, WEIGHTS } from './value.js';

type Group = keyof typeof SPANS;

/**
 * Soft limits for what should not stand close: of one writer, one tag, one category at most so many within
 * any so many days. A window begins on every day, so that a pair costs more the nearer it stands: as many
 * times as there are windows that hold both. Windows that hold the same days of the plan are made one.
 */
export class Crowding {
  readonly softLimits: { max: number; cost: number }[] = [];
  private readonly days: string[];
  /** Dates of posts that stay, by group and thing. */
  private readonly placed = new Map<string, string[]>();
  /** Indexes of the soft limits of a group and thing, by day. */
  private readonly known = new Map<string, Map<string, number[]>>();

  constructor(
    private readonly problem: Problem,
    pinned: readonly Placing[],
  ) {
    this.days = [...new Set(problem.slots.map((s) => s.date))];
    const stand = (
      date: string,
      bylineId: number | null,
      categoryId: number | null,
      tags: readonly number[],
    ) => {
      for (const key of keysOf(bylineId, categoryId, tags))
        this.placed.set(key, [...(this.placed.get(key) ?? []), date]);
    };
    for (const post of problem.fixed) stand(post.date, post.bylineId, post.categoryId, post.tagIds);
    for (const pin of pinned) {
      const pitch = problem.pitches.find((p) => p.id === pin.pitchId)!;
      const slot = problem.slots.find((s) => slotKey(s) === pin.slot)!;
      stand(slot.date, pin.writerId, pitch.categoryId ?? slot.categoryId, pitch.tagIds);
    }
  }

  softLimitsOf(pitch: ProposalPitch, slot: SlotDate, writer: ProposalWriter): number[] {
    return keysOf(writer.id, pitch.categoryId ?? slot.categoryId, pitch.tagIds).flatMap(
      (key) => this.windowsOf(key).get(slot.date) ?? [],
    );
  }

  private windowsOf(key: string): Map<string, number[]> {
    const known = this.known.get(key);
    if (known) return known;
    const byDay = new Map<string, number[]>(this.days.map((d) => [d, []]));
    this.known.set(key, byDay);
    const [group, id] = key.split(' ') as [Group, string];
    const span = SPANS[group];
    const placed = this.placed.get(key) ?? [];
    const wanted = group === 'category' ? this.problem.wanted.filter((s) => s.categoryId === Number(id)) : [];
    const found = new Map<string, { inside: string[]; max: number; times: number }>();
    for (const start of this.starts(span)) {
      const end = addDays(start, span - 1);
      const inside = this.days.filter((d) => d >= start && d <= end);
      const within = (dates: readonly string[]) => dates.filter((d) => d >= start && d <= end).length;
      const allowed = Math.max(1, within(wanted.map((s) => s.date)));
      const max = Math.max(0, allowed - within(placed));
      const name = `${inside.join(' ')} ${max}`;
      const same = found.get(name);
      if (same) same.times++;
      else found.set(name, { inside, max, times: 1 });
    }
    for (const { inside, max, times } of found.values()) {
      // Where there are no more slots than posts allowed, nothing can crowd.
      if (this.problem.slots.filter((s) => inside.includes(s.date)).length <= max) continue;
      const index = this.softLimits.push({ max, cost: WEIGHTS[group] * times }) - 1;
      for (const day of inside) byDay.get(day)!.push(index);
    }
    return byDay;
  }

  /** First days of all windows of so many days that hold a day of the plan. */
  private starts(span: number): string[] {
    return [...new Set(this.days.flatMap((d) => Array.from({ length: span }, (_, i) => addDays(d, -i))))];
  }
}

const keysOf = (bylineId: number | null, categoryId: number | null, tagIds: readonly number[]): string[] => [
  ...(bylineId === null ? [] : [`byline ${bylineId}`]),
  ...(categoryId === null ? [] : [`category ${categoryId}`]),
  ...tagIds.map((t) => `tag ${t}`),
];
