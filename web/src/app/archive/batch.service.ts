import { DestroyRef, Injectable, computed, inject, signal } from '@angular/core';
import type { BatchItemView, BatchPreview, BatchView, Reassignment, ItemState } from '@keyroster/contract';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import {
  EMPTY,
  Subject,
  catchError,
  expand,
  finalize,
  ignoreElements,
  last,
  lastValueFrom,
  of,
  switchMap,
  takeUntil,
  tap,
  throwError,
  timer,
  type Observable,
} from 'rxjs';
import { formatChange, formatCount, type BatchChange, type BatchNames } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { ArchiveService } from './archive.service';

const SHOWN = 30;
const LOOK_MS = 700;

/** The batch that is being put together, previewed and applied, and the batches before it. */
@Injectable()
export class BatchService {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly archive = inject(ArchiveService);
  readonly changes = signal<BatchChange[]>([]);
  readonly preview = signal<BatchPreview | null>(null);
  readonly items = signal<BatchItemView[]>([]);
  readonly looking = signal(false);
  /** Texts that a job is looking through. */
  readonly through = signal<BatchPreview | null>(null);
  readonly running = signal<BatchView | null>(null);
  readonly log = signal<BatchView[]>([]);
  readonly error = signal('');
  readonly done = signal('');
  /** Something else was chosen since: what the preview shows is not what would be applied now. */
  readonly outdated = signal(false);
  /**
   * What is previewed, or about to be, is the undoing of a batch or a reassigning, and not of what is put
   * together.
   */
  private isOther = false;
  /** Posts left out of what is put together; they stay out when something is added to it. */
  private leftOut = new Set<number>();
  private readonly destroyed = inject(DestroyRef);
  private readonly stopped = new Subject<void>();
  readonly names = computed<BatchNames>(() => ({
    people: new Map(this.archive.names().people.map((p) => [p.id, p.name])),
    categories: new Map([...this.session.categories()].map(([id, c]) => [id, c.name])),
    tags: new Map(this.archive.names().tags.map((t) => [t.id, t.name])),
    bytes: new Map(),
  }));
  readonly sentences = computed(() => this.changes().map((c) => formatChange(c, this.names())));

  constructor() {
    void this.learnLog();
    this.destroyed.onDestroy(() => this.stopLook());
    inject(Live).whenever(['batch'], () => this.learnLog());
  }

  /** Readers of published posts see it at once, and not once each is updated. */
  readonly atOnce = signal(true);

  add(change: BatchChange): void {
    this.changes.update((all) => [...all, change]);
  }
  remove(index: number): void {
    this.changes.update((all) => all.filter((_, i) => i !== index));
  }

  /**
   * Other posts or changes are chosen: the preview is not to be applied any more, until there is a new one.
   */
  chosenAnew(): void {
    if (this.isOther && this.changes().length === 0) return;
    // What is still on its way is of the choice before.
    this.stopLook();
    this.outdated.set(true);
  }

  /**
   * Asks what the changes would do to these posts. What was asked before and is not answered yet is let go.
   */
  async look(ids: readonly number[]): Promise<void> {
    if (this.isOther && this.changes().length === 0) return;
    this.isOther = false;
    if (ids.length === 0 || this.changes().length === 0) {
      this.leftOut.clear();
      this.stopLook();
      this.preview.set(null);
      this.items.set([]);
      this.outdated.set(false);
      return;
    }
    const chosen = new Set(ids);
    this.leftOut = new Set([...this.leftOut].filter((id) => chosen.has(id)));
    this.done.set('');
    this.error.set('');
    const body = { changes: this.changes(), ids: [...ids], atOnce: this.atOnce() };
    await this.requestPreview(this.api.request('batches.preview', { body }));
  }

  async revert(id: number, force = false): Promise<void> {
    this.beginOther();
    await this.requestPreview(this.api.request('batches.revert', { id, body: { force } }));
  }

  /** Asks what giving somebody’s posts to somebody else would do. */
  async reassign(personId: number, body: Reassignment): Promise<void> {
    this.beginOther();
    this.done.set('');
    this.error.set('');
    await this.requestPreview(this.api.request('people.reassign', { id: personId, body }));
  }

  private beginOther(): void {
    this.changes.set([]);
    this.leftOut.clear();
    this.isOther = true;
  }

  /** Shows a preview once there is one, while a job looks through the texts where that takes its time. */
  private requestPreview(asking: Observable<BatchPreview>): Promise<void> {
    this.stopLook();
    this.looking.set(true);
    this.outdated.set(true);
    const shown = asking.pipe(
      switchMap((preview) => this.going(preview, 'looking')),
      tap((now) => this.through.set(now.state === 'looking' ? now : null)),
      last(),
      switchMap((now) => {
        if (now.state === 'failed') {
          this.preview.set(null);
          this.error.set(now.error);
        }
        // Still looked through: nobody is here any more to see it.
        else if (now.state !== 'looking') return this.show(now);
        return EMPTY;
      }),
      takeUntil(this.stopped),
      catchError((error: unknown) => {
        this.fail(error);
        return EMPTY;
      }),
      finalize(() => this.looking.set(false)),
    );
    return lastValueFrom(shown.pipe(ignoreElements()), { defaultValue: undefined });
  }

  async choose(postId: number, state: ItemState): Promise<void> {
    const preview = this.preview();
    if (!preview) return;
    await this.attempt(async () => {
      this.preview.set(
        await this.api.call('batches.choose', {
          id: preview.id,
          body: state === 'left' ? { leave: [postId] } : { include: [postId] },
        }),
      );
      this.items.update((all) => all.map((i) => (i.postId === postId ? { ...i, state } : i)));
      if (this.isOther) return;
      if (state === 'left') this.leftOut.add(postId);
      else this.leftOut.delete(postId);
    });
  }

  async more(): Promise<void> {
    const preview = this.preview();
    if (!preview || this.looking()) return;
    this.looking.set(true);
    await this.attempt(async () => {
      const more = await this.api.call('batches.items', {
        id: preview.id,
        query: { from: this.items().length, limit: 100 },
      });
      this.items.update((all) => [...all, ...more]);
    });
    this.looking.set(false);
  }

  /** Applies what is previewed, and follows it. It goes on when the page is closed. */
  async apply(): Promise<void> {
    const preview = this.preview();
    if (!preview || this.outdated()) return;
    this.isOther = false;
    await this.attempt(async () => {
      let batch: BatchView = await this.api.call('batches.apply', { id: preview.id, body: {} });
      this.preview.set(null);
      this.items.set([]);
      this.changes.set([]);
      this.leftOut.clear();
      const going = this.going(batch, 'waiting').pipe(tap((b) => this.running.set(b)));
      batch = await lastValueFrom(going, { defaultValue: batch });
      this.running.set(null);
      if (batch.state === 'failed') this.error.set(batch.error);
      else {
        const chores = batch.chores > 0 ? ` and ${formatCount(batch.chores, 'chore')}` : '';
        this.done.set(`${batch.sentence}: done in ${formatCount(batch.counts.changes, 'post')}${chores}.`);
      }
      await this.learnLog();
    });
    this.running.set(null);
  }

  dismiss(): void {
    this.isOther = false;
    this.stopLook();
    this.preview.set(null);
    this.items.set([]);
    this.changes.set([]);
    this.leftOut.clear();
    this.error.set('');
    this.done.set('');
  }

  async learnLog(): Promise<void> {
    this.log.set(await this.api.call('batches.list', {}).catch(() => this.log()));
  }

  /**
   * Ends a look through many texts; what was to be changed stays, and what was previewed before it is gone.
   */
  cancelLook(): void {
    this.stopLook();
    this.preview.set(null);
    this.items.set([]);
    this.done.set('Stopped. Nothing was written.');
  }

  /** What is looked through and is not wanted any more is not looked through any further. */
  private stopLook(): void {
    const through = this.through();
    this.stopped.next();
    this.through.set(null);
    if (through) void this.api.call('batches.cancel', { id: through.id, body: {} }).catch(() => null);
  }

  /**
   * A batch as it goes on, until it leaves a state or nobody waits any more. One that is gone ends it with
   * its error.
   */
  private going<T extends BatchView>(batch: T, state: T['state']): Observable<T> {
    return of(batch).pipe(
      expand((now) =>
        now.state === state
          ? timer(now.done === 0 ? LOOK_MS / 3 : LOOK_MS).pipe(
              switchMap(
                () => this.api.request('batches.see', { id: now.id }) as Observable<unknown> as Observable<T>,
              ),
              catchError((error: unknown) =>
                error instanceof ApiError && error.code === 'not-found' ? throwError(() => error) : of(now),
              ),
            )
          : EMPTY,
      ),
      takeUntilDestroyed(this.destroyed),
    );
  }

  private show(made: BatchPreview): Observable<unknown> {
    const { id } = made;
    const leave = [...this.leftOut];
    const chosen =
      leave.length === 0 ? of(made) : this.api.request('batches.choose', { id, body: { leave } });
    return chosen.pipe(
      switchMap((preview) =>
        this.api.request('batches.items', { id, query: { limit: SHOWN } }).pipe(
          tap((items) => {
            this.items.set(items);
            this.preview.set(preview);
            this.outdated.set(false);
            this.error.set('');
          }),
        ),
      ),
    );
  }

  private async attempt(what: () => Promise<void>): Promise<void> {
    await what().catch((error: unknown) => this.fail(error));
  }

  private fail(error: unknown): void {
    this.error.set(sentenceOf(error));
    this.preview.set(null);
    this.through.set(null);
  }
}
