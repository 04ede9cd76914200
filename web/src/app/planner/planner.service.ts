import { Injectable, computed, inject, signal } from '@angular/core';
import type { MoveDone, PlannerView, PostCard } from '@keyroster/contract';
import { addDays, fillSlots, isHopeless, isoWeek, warningsFor, weekday, MONTHS, type PlanWarning, type PlannedPost, type SlotDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError, sentenceOf } from '../api/api';
import { Say } from '../ui/say.service';

export interface DayView {
  date: string;
  number: number;
  today: boolean;
  past: boolean;
  weekend: boolean;
  /** Cards and open slots in order of time. */
  entries: ({ kind: 'post'; post: PostCard } | { kind: 'slot'; slot: SlotDate; past: boolean })[];
}
export interface WeekView {
  week: number;
  month: string;
  days: DayView[];
}
export interface TrayGroup {
  categoryId: number | null;
  name: string;
  pitches: PostCard[];
}

/** Which of the dated posts are shown; slots and warnings always count all of them. */
export interface PlannerFilter {
  categoryId: number | null;
  personId: number | null;
  stage: string | null;
}

const DEFAULT_TIME = '08:00';

function plannedOf(post: PostCard): PlannedPost {
  return { id: post.id, title: post.title, stage: post.stage, runLocal: post.runLocal!, categoryId: post.categoryId, bylineId: post.byline?.id ?? null };
}

/** The weeks, the tray, and what moves between them. Components show this; they decide nothing. */
@Injectable()
export class PlannerService {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly say = inject(Say);
  readonly view = signal<PlannerView | null>(null);
  readonly fault = signal('');
  readonly filter = signal<PlannerFilter>({ categoryId: null, personId: null, stage: null });
  private span: { from?: string; weeks: number } = { weeks: 4 };

  /** The dated posts that pass the filter, in order of run time. */
  readonly shown = computed(() => {
    const { categoryId, personId, stage } = this.filter();
    return (this.view()?.dated ?? []).filter((p) => (categoryId === null || p.categoryId === categoryId) && (personId === null || p.byline?.id === personId) && (stage === null || p.stage === stage));
  });

  /** What is wrong with each dated post's date, by post. */
  readonly warnings = computed(() => {
    const view = this.view();
    const planned = (view?.dated ?? []).map(plannedOf);
    return new Map(planned.map((p): [number, PlanWarning[]] => [p.id, warningsFor(p, planned, view!.nowLocal)]));
  });

  readonly weeks = computed((): WeekView[] => {
    const view = this.view();
    if (!view) return [];
    const filling = fillSlots(view.slots, view.dated.map((post) => ({ ...post, runLocal: post.runLocal! })));
    const open = filling.slots.filter((f) => f.post === null).map((f) => f.slot);
    const shown = new Set(this.shown().map((p) => p.id));
    const weeks: WeekView[] = [];
    for (let start = view.from; start <= view.to; start = addDays(start, 7)) {
      const days = Array.from({ length: 7 }, (_, i): DayView => {
        const date = addDays(start, i);
        const posts = view.dated.filter((p) => p.runLocal!.startsWith(date));
        const entries: DayView['entries'] = [
          ...posts.filter((p) => shown.has(p.id)).map((post) => ({ kind: 'post' as const, post })),
          ...open.filter((s) => s.date === date).map((slot) => ({ kind: 'slot' as const, slot, past: `${slot.date}T${slot.time}:00` < view.nowLocal })),
        ];
        const at = (e: DayView['entries'][number]) => (e.kind === 'post' ? e.post.runLocal!.slice(11) : `${e.slot.time}:00`);
        return { date, number: Number(date.slice(8)), today: date === view.today, past: date < view.today, weekend: weekday(date) > 5, entries: entries.sort((a, b) => at(a).localeCompare(at(b))) };
      });
      const middle = addDays(start, 3);
      weeks.push({ week: isoWeek(middle).week, month: MONTHS[Number(middle.slice(5, 7)) - 1]!.slice(0, 3), days });
    }
    return weeks;
  });

  readonly tray = computed((): TrayGroup[] => {
    const pitches = [...(this.view()?.pitches ?? [])].sort((a, b) => b.createdAt.localeCompare(a.createdAt));
    const groups = (this.session.blog()?.categories ?? []).map((c): TrayGroup => ({ categoryId: c.id, name: c.name, pitches: pitches.filter((p) => p.categoryId === c.id) }));
    const loose = pitches.filter((p) => p.categoryId === null);
    return loose.length > 0 ? [{ categoryId: null, name: 'No category yet', pitches: loose }, ...groups] : groups;
  });

  /** Slots still to come without a post, over the weeks that are shown. */
  readonly openSlots = computed(() => this.weeks().flatMap((w) => w.days.flatMap((d) => d.entries.flatMap((e) => (e.kind === 'slot' && !e.past ? [e.slot] : [])))));

  async show(from: string | undefined, weeks: number): Promise<void> {
    this.span = { from, weeks };
    await this.refresh();
  }

  async refresh(): Promise<void> {
    const { from, weeks } = this.span;
    try {
      const view = await this.api.call('planner.see', { query: { weeks, ...(from ? { from } : {}) } });
      if (this.span.from === from && this.span.weeks === weeks) this.view.set(view);
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }

  /** Late posts that cannot make their date and that this person may put back. */
  readonly hopeless = computed(() => { const view = this.view(); return (view?.late ?? []).filter((p) => isHopeless(p, view!.nowLocal) && this.mayPlan(p)); });

  /** Puts every hopeless post back into the tray, as one; its undo puts each back where it was. */
  async sweep(): Promise<void> {
    const before = this.hopeless();
    try {
      const { sentence, posts } = await this.api.call('planner.sweep', { body: { postIds: before.map((p) => p.id) } });
      await this.refresh();
      this.say.done(sentence, async () => {
        for (const { id, version } of posts) {
          const { stage, runLocal } = before.find((p) => p.id === id)!;
          const back = await this.api.call('posts.move', { id, ifMatch: version, body: { to: 'commissioned', runAt: runLocal! } });
          if (stage === 'drafting') await this.api.call('posts.move', { id, ifMatch: back.post.version, body: { to: 'drafting' } });
        }
        await this.refresh();
      });
    } catch (error) {
      await this.refresh();
      this.say.failed(error);
    }
  }

  mayPlan(post: PostCard): boolean {
    return post.stage !== 'published' && post.stage !== 'withdrawn' && this.session.isDeskFor(post.categoryId);
  }

  async keepPitch(title: string, categoryId: number | null): Promise<void> {
    await this.api.call('posts.pitch', { body: { title, categoryId } });
  }

  async pitch(title: string, categoryId: number | null): Promise<void> {
    await this.keepPitch(title, categoryId);
    await this.refresh();
  }

  /** The time a post gets on a day: that of an open slot there, its own category's first, else the time it had, else 08:00. */
  timeOn(date: string, post: PostCard): string {
    const open = this.openSlots().filter((s) => s.date === date);
    const slot = open.find((s) => s.categoryId === post.categoryId) ?? open[0];
    return slot?.time ?? post.runLocal?.slice(11, 19) ?? DEFAULT_TIME;
  }

  /** What would be wrong with a post if it were put on a day. */
  warningsAt(post: PostCard, date: string): PlanWarning[] {
    const view = this.view();
    if (!view) return [];
    const time = this.timeOn(date, post);
    const there = plannedOf({ ...post, stage: post.stage === 'pitch' ? 'commissioned' : post.stage, runLocal: `${date}T${time.length === 5 ? `${time}:00` : time}` });
    return warningsFor(there, view.dated.map(plannedOf), view.nowLocal);
  }

  /** Puts a pitch or a dated post on a day. Returns what stands afterwards, or null when it was refused (and said so). */
  async place(post: PostCard, date: string, time = this.timeOn(date, post)): Promise<MoveDone | null> {
    const runAt = `${date}T${time}`;
    if (post.runLocal?.startsWith(runAt)) return null;
    this.showAt(post, date, time);
    try {
      const done = post.stage === 'pitch'
        ? await this.api.call('posts.move', { id: post.id, ifMatch: post.version, body: { to: 'commissioned', runAt } })
        : await this.api.call('posts.change', { id: post.id, ifMatch: post.version, body: { runAt } });
      await this.refresh();
      return done;
    } catch (error) {
      await this.refresh();
      this.refused(error);
      return null;
    }
  }

  /** Undoes a placing: back to the tray, or to the time it had. */
  undoPlace(before: PostCard, done: MoveDone): () => Promise<void> {
    return async () => {
      if (before.stage === 'pitch') await this.api.call('posts.move', { id: before.id, ifMatch: done.post.version, body: { to: 'pitch' } });
      else await this.api.call('posts.change', { id: before.id, ifMatch: done.post.version, body: { runAt: before.runLocal } });
      await this.refresh();
    };
  }

  async toTray(post: PostCard): Promise<void> {
    try {
      const done = await this.api.call('posts.move', { id: post.id, ifMatch: post.version, body: { to: 'pitch' } });
      await this.refresh();
      this.say.done(`“${post.title}” is back in the tray.`, async () => {
        await this.api.call('posts.move', { id: post.id, ifMatch: done.post.version, body: { to: 'commissioned', ...(post.runLocal ? { runAt: post.runLocal } : {}) } });
        await this.refresh();
      });
    } catch (error) {
      await this.refresh();
      this.refused(error);
    }
  }

  private refused(error: unknown): void {
    const somebody = error instanceof ApiError && error.code === 'version-conflict' ? ' You see the card where they put it.' : '';
    this.say.failed(somebody ? new ApiError((error as ApiError).problem, `${(error as ApiError).message}${somebody}`) : error);
  }

  /** Draws the move at once; the server's answer redraws it. */
  private showAt(post: PostCard, date: string, time: string): void {
    const view = this.view();
    if (!view) return;
    const moved: PostCard = { ...post, stage: post.stage === 'pitch' ? 'commissioned' : post.stage, runLocal: `${date}T${time.length === 5 ? `${time}:00` : time}` };
    const without = (list: PostCard[]) => list.filter((p) => p.id !== post.id);
    this.view.set({ ...view, pitches: without(view.pitches), dated: [...without(view.dated), moved].sort((a, b) => a.runLocal!.localeCompare(b.runLocal!)) });
  }
}
