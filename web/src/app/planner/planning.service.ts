import { DestroyRef, Injectable, computed, inject, signal } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import {
  NO_WISHES,
  formatList,
  slotKey,
  type ExplainedPlacing,
  type Placing,
  type PlanFacts,
  type PlanTask,
  type SlotDate,
  type Wishes,
} from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { Messages } from '../ui/messages.service';
import { confirm } from '../ui/confirm';
import type { PlanAsked, PlanFound, PlanTold } from './plan-work';
import { PlannerService } from './planner.service';

/** How long a plan is computed before its quality is shown. */
const LOOK_MS = 10_000;
/** Misfits that a question names. */
const MAX_NAMED = 3;

/** Where a plan’s wishes are kept while this tab is open. */
const KEY = 'plan wishes';

const sameTask = (a: PlanTask | null, b: PlanTask | null) => JSON.stringify(a) === JSON.stringify(b);

/** Whether it is the same plan without its first days: those that passed while it was open. */
const isShortened = (before: PlanTask | null, now: PlanTask | null) =>
  before !== null && now !== null && before.from < now.from && sameTask({ ...before, from: now.from }, now);

interface Kept {
  task: PlanTask;
  wishes: Wishes;
}

/** What was pinned and left out for this very plan before the page was reloaded. */
function keptWishes(task: PlanTask): Wishes {
  const text = sessionStorage.getItem(KEY);
  if (text === null) return NO_WISHES;
  const kept = JSON.parse(text) as Kept;
  return sameTask(kept.task, task) || isShortened(kept.task, task) ? kept.wishes : NO_WISHES;
}

/** A plan that is proposed: asked for, drawn as a draft, pinned in parts, accepted in parts. */
@Injectable()
export class PlanningService {
  private readonly api = inject(Api);
  private readonly planner = inject(PlannerService);
  private readonly dialog = inject(MatDialog);
  private readonly messages = inject(Messages);
  private worker: Worker | null = null;
  private facts: PlanFacts | null = null;
  private asked = 0;

  readonly task = signal<PlanTask | null>(null);
  readonly wishes = signal<Wishes>(NO_WISHES);
  readonly found = signal<PlanFound | null>(null);
  readonly gap = signal(1);
  readonly optimal = signal(false);
  readonly busy = signal(false);
  readonly error = signal('');
  /** Posts of the plan that are not to be accepted. */
  private readonly left = signal<ReadonlySet<number>>(new Set());

  readonly placings = computed(() => this.found()?.explanation.placings ?? []);
  private readonly bySlot = computed(() => new Map(this.placings().map((p) => [p.slot, p])));
  private readonly titles = computed(() => {
    this.found();
    return new Map<number, string>(
      [...(this.facts?.pitches ?? []), ...(this.facts?.posts ?? [])].map((p) => [p.id, p.title]),
    );
  });
  private readonly names = computed(() => {
    this.found();
    return new Map((this.facts?.writers ?? []).map((w) => [w.id, w.name]));
  });
  /** What would be accepted: a plan’s placings, or the changes that somebody’s dropping out asks for. */
  readonly places = computed(() => {
    const found = this.found();
    if (!found) return [];
    const changed = new Set(found.changes.flatMap((c) => (c.to ? [c.postId] : [])));
    return this.placings().filter(
      (p) => !this.left().has(p.pitchId) && (this.task()?.kind !== 'without' || changed.has(p.pitchId)),
    );
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => this.stop());
  }

  readonly title = (postId: number): string => this.titles().get(postId) ?? '';
  readonly writer = (id: number | null): string =>
    id === null ? 'nobody' : (this.names().get(id) ?? 'somebody who left');

  /** The draft that is drawn in a slot. */
  draftIn(slot: SlotDate): ExplainedPlacing | null {
    return this.task() === null ? null : (this.bySlot().get(slotKey(slot)) ?? null);
  }

  isTicked(postId: number): boolean {
    return !this.left().has(postId);
  }
  tick(postId: number, ticked: boolean): void {
    this.left.update((left) => {
      const next = new Set(left);
      if (ticked) next.delete(postId);
      else next.add(postId);
      return next;
    });
  }

  /**
   * Asks for a plan; what was pinned or not ticked for another one is not for this one. Null puts the plan away. When a
   * day has passed it is requested again, and keeps both; of a pin that has passed, the plan says so.
   */
  async propose(task: PlanTask | null): Promise<void> {
    const before = this.task();
    this.task.set(task);
    if (!isShortened(before, task)) {
      if (!sameTask(task, before)) this.wishes.set(task ? keptWishes(task) : NO_WISHES);
      this.left.set(new Set());
    }
    if (task === null) {
      this.stop();
      this.found.set(null);
      return;
    }
    const mine = ++this.asked;
    this.error.set('');
    try {
      const facts = await this.api.call('plan.facts', { query: { from: task.from, to: task.to } });
      if (mine !== this.asked) return;
      this.facts = facts;
      this.solve();
    } catch (error) {
      if (mine === this.asked) this.error.set(sentenceOf(error));
    }
  }

  private wish(change: (wishes: Wishes) => Wishes): void {
    this.wishes.update(change);
    const kept: Kept = { task: this.task()!, wishes: this.wishes() };
    sessionStorage.setItem(KEY, JSON.stringify(kept));
  }

  /** Looks for the best plan under the wishes, beside the screen; one look at a time. */
  solve(): void {
    this.stop();
    const task = this.task();
    if (!task || !this.facts) return;
    this.busy.set(true);
    this.optimal.set(false);
    this.gap.set(1);
    const worker = new Worker(new URL('./plan.worker', import.meta.url), { type: 'module' });
    this.worker = worker;
    const start = performance.now();
    worker.addEventListener('message', ({ data }: MessageEvent<PlanTold>) => {
      if (this.worker !== worker) return;
      if (data.found) this.found.set(data.found);
      this.gap.set(data.gap);
      this.optimal.set(data.optimal);
      if (!data.done) return;
      this.stop();
      // Timed from here to the end, for measuring (npm run bench).
      performance.measure('propose a plan', { start });
    });
    worker.addEventListener('error', () => {
      this.error.set('The plan could not be worked out. Nothing was changed; try again.');
      this.stop();
    });
    worker.postMessage({
      facts: this.facts,
      task,
      wishes: this.wishes(),
      ms: LOOK_MS,
    } satisfies PlanAsked);
  }

  /** Keeps what was found so far. */
  stop(): void {
    this.worker?.terminate();
    this.worker = null;
    this.busy.set(false);
  }

  isPinned({ pitchId, slot, writerId }: Placing): boolean {
    return this.wishes().pinned.some(
      (p) => p.pitchId === pitchId && p.slot === slot && p.writerId === writerId,
    );
  }

  /** What is pinned stays as it is when the plan is computed again. */
  pin({ pitchId, slot, writerId }: Placing, pinned: boolean): void {
    this.wish((wishes) => ({
      ...wishes,
      pinned: [
        ...wishes.pinned.filter((p) => p.pitchId !== pitchId && p.slot !== slot),
        ...(pinned ? [{ pitchId, slot, writerId }] : []),
      ],
    }));
  }

  /** Leaves something out and computes the plan again. */
  exclude({ pitchId, slot, writerId }: Placing, what: 'pitch' | 'slot' | 'writer' | 'placing'): void {
    this.wish(({ pinned, excluded }) => ({
      pinned: pinned.filter(
        (p) =>
          !(what === 'pitch' && p.pitchId === pitchId) &&
          !(what === 'slot' && p.slot === slot) &&
          !(what === 'writer' && p.writerId === writerId) &&
          !(what === 'placing' && p.pitchId === pitchId && p.slot === slot),
      ),
      excluded: {
        pitches: what === 'pitch' ? [...excluded.pitches, pitchId] : excluded.pitches,
        slots: what === 'slot' ? [...excluded.slots, slot] : excluded.slots,
        writers: what === 'writer' ? [...excluded.writers, writerId] : excluded.writers,
        placings:
          what === 'placing' ? [...excluded.placings, { pitchId, slot, writerId }] : excluded.placings,
      },
    }));
    this.solve();
  }

  /** Takes all wishes back. */
  reset(): void {
    this.wish(() => NO_WISHES);
    this.solve();
  }

  /** Puts the ticked posts where the plan has them, as one change. */
  async accept(): Promise<void> {
    const task = this.task();
    if (!task) return;
    const places = this.places().map(({ pitchId, slot, writerId }) => ({ postId: pitchId, slot, writerId }));
    this.error.set('');
    try {
      const body = { task, places, leaveMisfits: false };
      let done = await this.api.call('plan.accept', { body });
      if (done.batchId === null && done.misfits.length < places.length) {
        const named = done.misfits.slice(0, MAX_NAMED).map((m) => m.why);
        const more = done.misfits.length - named.length;
        const rest = places.length - done.misfits.length;
        const agreed = await confirm(this.dialog, {
          heading: 'The calendar changed meanwhile',
          text: `${done.sentence} ${named.join(' ')}${more > 0 ? ` And ${more} more.` : ''}`,
          act: `Accept the other ${rest}`,
        });
        if (agreed) done = await this.api.call('plan.accept', { body: { ...body, leaveMisfits: true } });
      }
      const { batchId, sentence, misfits } = done;
      await this.planner.refresh();
      await this.propose(task);
      if (batchId === null) {
        // Said now: requesting the plan again removes the message before.
        if (misfits.length === places.length)
          this.error.set(`${sentence} ${formatList(misfits.slice(0, MAX_NAMED).map((m) => m.why))}`);
        return;
      }
      this.messages.done(sentence, async () => {
        await this.api.call('batches.undo', { id: batchId, body: {} });
        await this.planner.refresh();
        if (this.task()) await this.propose(this.task());
      });
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
