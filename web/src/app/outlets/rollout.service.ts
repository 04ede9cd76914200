import { Injectable, computed, inject, signal } from '@angular/core';
import type {
  ApprovedRollout,
  NewPieces,
  OutletView,
  PieceChanges,
  PieceTimes,
  PieceView,
  PiecesMade,
  Rebuild,
  RolloutView,
} from '@keyroster/contract';
import { formatCount, type Timing } from '@keyroster/core';
import { Subject, lastValueFrom, takeUntil } from 'rxjs';
import { Api, ApiError, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { Queue } from '../api/queue';
import { Messages } from '../ui/messages.service';

/**
 * Did what a piece stands on change, and is it not out yet? A change elsewhere in the post does not put it
 * behind.
 */
export const isBehind = (p: PieceView) =>
  (p.moved.what === 'used' || p.moved.what === 'title') && p.send?.state !== 'sent';

/**
 * The pieces of one post, and what is done with them. Every answer of the server is the whole rollout, so
 * nothing is guessed here.
 */
@Injectable()
export class RolloutService {
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  readonly view = signal<RolloutView | null>(null);
  readonly outlets = signal<OutletView[]>([]);
  readonly error = signal('');
  readonly busy = signal(false);
  readonly postId = computed(() => this.view()?.post.id ?? 0);
  readonly pieces = computed(() => this.view()?.pieces ?? []);
  readonly behind = computed(() => this.pieces().filter(isBehind).length);
  readonly drafts = computed(
    () => this.pieces().filter((p) => p.send === null || p.send.state === 'stopped').length,
  );
  /** A rebuild that waits for leave to write over a person's words. */
  readonly waiting = signal<{ pieceId: number; ask: Rebuild } | null>(null);
  /** What was asked for before is older than what is shown, whenever it comes. */
  private readonly overtaken = new Subject<void>();
  /** What is asked for and not answered yet. */
  private asked = 0;
  /** One's own changes follow each other, each upon what the one before left. */
  private readonly edits = new Queue();

  constructor() {
    inject(Live).gathered(['outlet', 'post'], (events) => {
      const id = this.postId();
      if (id && events.some((e) => e.postId === null || e.postId === id)) void this.open(id);
    });
    void this.api.call('outlets.list', {}).then(
      (outlets) => this.outlets.set(outlets),
      () => undefined,
    );
  }

  readonly outlet = (id: number) => this.outlets().find((o) => o.id === id) ?? null;

  async open(id: number): Promise<void> {
    this.overtaken.next();
    this.asked++;
    try {
      const asked = this.api.request('rollout.see', { id }).pipe(takeUntil(this.overtaken));
      const view = await lastValueFrom(asked, { defaultValue: null });
      if (view === null) return;
      this.view.set(view);
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    } finally {
      this.asked--;
    }
  }

  /** Makes pieces; returns what could not be made, in sentences, or null when the asking itself failed. */
  async make(body: NewPieces): Promise<PiecesMade | null> {
    const made = await this.act(() => this.api.call('pieces.make', { id: this.postId(), body }));
    if (made) await this.open(this.postId());
    return made;
  }

  async usePattern(patternId: number): Promise<PiecesMade | null> {
    const made = await this.act(() =>
      this.api.call('rollout.use', { id: this.postId(), body: { patternId } }),
    );
    if (made) {
      await this.open(this.postId());
      this.messages.done([`${formatCount(made.made.length, 'piece')} made.`, ...made.refused].join(' '));
    }
    return made;
  }

  async saveAsPattern(name: string, formatId: number | null, categoryId: number | null): Promise<void> {
    if (
      await this.act(() =>
        this.api.call('patterns.from', { body: { postId: this.postId(), name, formatId, categoryId } }),
      )
    ) {
      await this.open(this.postId());
      this.messages.done(`The pattern “${name}” is kept.`);
    }
  }

  /** Changes a piece, upon the version that is newest when the change has its turn, or another. */
  change(
    piece: PieceView,
    body: PieceChanges,
    version = (): number => this.versionOf(piece),
  ): Promise<boolean> {
    return this.attempt(() => this.api.call('pieces.change', { id: piece.id, body, ifMatch: version() }));
  }

  /** Builds a piece again. False when it would write over a person's words, which is asked about first. */
  async rebuild(piece: PieceView, body: Rebuild): Promise<'built' | 'edited' | 'failed'> {
    this.busy.set(true);
    try {
      this.show(
        await this.edits.run(() =>
          this.api.call('pieces.rebuild', { id: piece.id, body, ifMatch: this.versionOf(piece) }),
        ),
      );
      this.error.set('');
      this.waiting.set(null);
      this.messages.done(
        body.another
          ? 'Another version. The earlier ones are kept.'
          : 'Built again from the post as it is now. The earlier version is kept.',
      );
      return 'built';
    } catch (error) {
      if (error instanceof ApiError && error.code === 'demands') {
        this.waiting.set({ pieceId: piece.id, ask: body });
        return 'edited';
      }
      this.error.set(sentenceOf(error));
      return 'failed';
    } finally {
      this.busy.set(false);
    }
  }

  restore(piece: PieceView, version: number): Promise<boolean> {
    return this.attempt(() =>
      this.api.call('pieces.restore', { id: piece.id, body: { version }, ifMatch: this.versionOf(piece) }),
    );
  }
  keep(piece: PieceView): Promise<boolean> {
    return this.attempt(() => this.api.call('pieces.keep', { id: piece.id, body: {} }), 'Kept as it is.');
  }
  remove(piece: PieceView): Promise<boolean> {
    return this.attempt(() => this.api.call('pieces.remove', { id: piece.id }), 'The piece is removed.');
  }
  approve(piece: PieceView, approved: boolean): Promise<boolean> {
    return this.attempt(
      () => this.api.call('pieces.approve', { id: piece.id, body: { approved } }),
      approved ? 'It goes out when it is due.' : 'It is held.',
    );
  }
  /** Has all go out that may. Gives those that stay, with why; null when it could not be asked. */
  async approveAll(): Promise<ApprovedRollout['staying'] | null> {
    let staying: ApprovedRollout['staying'] = [];
    const done = await this.attempt(async () => {
      const rollout = await this.setAll(true);
      ({ staying } = rollout);
      return rollout;
    });
    return done ? staying : null;
  }
  holdAll(): Promise<boolean> {
    return this.attempt(() => this.setAll(false), 'All that had not gone is held.');
  }
  private setAll(approved: boolean): Promise<ApprovedRollout> {
    return this.api.call('rollout.approve', { id: this.postId(), body: { approved } });
  }
  spread(): Promise<boolean> {
    return this.attempt(
      () => this.api.call('rollout.spread', { id: this.postId(), body: {} }),
      'What clashed has free times now.',
    );
  }

  /** Gives pieces the times at which they would do better, with the way back. */
  async useBetter(): Promise<void> {
    const times = (this.view()?.better ?? []).map(({ pieceId, timing }) => ({ pieceId, timing }));
    const before = this.pieces()
      .filter((p) => times.some((t) => t.pieceId === p.id))
      .map((p) => ({ pieceId: p.id, timing: p.timing }));
    if (await this.setTimes(times))
      this.messages.done('They go out when their outlets’ pieces are seen most.', async () => {
        await this.setTimes(before);
      });
  }
  private setTimes(times: PieceTimes['times']): Promise<boolean> {
    return this.attempt(() => this.api.call('rollout.times', { id: this.postId(), body: { times } }));
  }

  /** Gives a piece another time, with the way back. */
  async move(piece: PieceView, timing: Timing): Promise<void> {
    const before = piece.timing;
    if (!(await this.change(piece, { timing }))) return;
    this.messages.done('It has another time.', async () => {
      const now = this.pieces().find((p) => p.id === piece.id);
      if (now) await this.change(now, { timing: before });
    });
  }

  /**
   * What a change was answered with. What was asked for meanwhile may be older than that, or newer (the piece
   * went out before the answer came): it is asked for again.
   */
  private show(view: RolloutView): void {
    const again = this.asked > 0;
    this.overtaken.next();
    this.view.set(view);
    if (again) void this.open(view.post.id);
  }

  private async attempt(ask: () => Promise<RolloutView>, said?: string): Promise<boolean> {
    const view = await this.act(async () => {
      const answer = await ask();
      this.show(answer);
      return answer;
    });
    if (view) {
      if (said) this.messages.done(said);
    }
    return view !== null;
  }

  private versionOf(piece: PieceView): number {
    return this.pieces().find((p) => p.id === piece.id)?.version ?? piece.version;
  }

  private async act<T>(ask: () => Promise<T>): Promise<T | null> {
    this.busy.set(true);
    try {
      const answer = await this.edits.run(ask);
      this.error.set('');
      return answer;
    } catch (error) {
      this.error.set(sentenceOf(error));
      // Somebody else's change is fetched, so that the next try is made on what stands.
      if (error instanceof ApiError && error.code === 'version-conflict')
        await this.open(this.postId()).then(() => this.error.set(sentenceOf(error)));
      return null;
    } finally {
      this.busy.set(false);
    }
  }
}
