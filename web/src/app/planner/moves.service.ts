import { DestroyRef, Injectable, effect, inject, signal } from '@angular/core';
import type { MoveDone, PlannerCard } from '@keyroster/contract';
import { formatCount, formatDate } from '@keyroster/core';
import { fromEvent, interval, merge } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError } from '../api/api';
import { Live } from '../api/live';
import { Messages } from '../ui/messages.service';
import type { MoveTarget } from './plan-view';
import { PlannerService, withSeconds, type TakenCard } from './planner.service';

/** Where a card is put: a day and time, with another writer perhaps; or back into the tray. */
export type Place =
  { to: 'day'; date: string; time?: string; byline?: PlannerCard['byline'] } | { to: 'tray' };

/** A move that the server has not confirmed. It is a value: drawn, kept on this device, sent again. */
interface Move {
  post: Pick<PlannerCard, 'id' | 'title' | 'version' | 'stage' | 'runLocal' | 'byline'>;
  target: MoveTarget;
}

const RETRY_MS = 4000;

/**
 * Moves cards: drawn at once, sent, confirmed or given back; without a connection kept until there is one.
 */
@Injectable()
export class MovesService {
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly planner = inject(PlannerService);
  private readonly session = inject(SessionService);
  private readonly live = inject(Live);
  private readonly moves = new Map<number, Move>();
  /** Ids of posts whose move waits for a connection. */
  readonly waiting = signal<ReadonlySet<number>>(new Set());
  private sending = false;

  constructor() {
    const again = merge(fromEvent(window, 'online'), interval(RETRY_MS)).subscribe(() => void this.retry());
    inject(DestroyRef).onDestroy(() => again.unsubscribe());
    effect(() => {
      if (this.live.connected()) void this.retry();
    });
    this.recall();
  }

  /**
   * Puts a pitch or a dated post somewhere. Returns what stands afterwards; null when nothing was to do, it
   * was refused (and said so), or it waits for a connection (and said so).
   */
  async put(post: PlannerCard, place: Place): Promise<MoveDone | null> {
    const target = this.targetAt(post, place);
    if (target.runLocal === post.runLocal && target.byline?.id === post.byline?.id) return null;
    const move: Move = { post, target };
    this.draw(move);
    try {
      const done = await this.send(move);
      this.settle(post.id, done.post);
      return done;
    } catch (error) {
      if (error instanceof ApiError && error.code === 'unreachable') this.keep(move);
      else await this.giveBack(move, error);
      return null;
    }
  }

  /** Undoes a move that was made: back to the tray, or to the time and writer it had. */
  undo(
    before: Pick<PlannerCard, 'id' | 'stage' | 'runLocal' | 'byline'>,
    done: MoveDone,
  ): () => Promise<void> {
    return async () => {
      let back = await this.send({
        post: done.post,
        target: { stage: before.stage, runLocal: before.runLocal, byline: before.byline },
      });
      // From the tray a post comes back commissioned; one that was being written is being written again.
      if (before.stage === 'drafting' && back.post.stage === 'commissioned')
        back = await this.api.call('posts.move', {
          id: before.id,
          ifMatch: back.post.version,
          body: { to: 'drafting' },
        });
      this.planner.receive(back.post);
    };
  }

  /** Puts every hopeless post back into the tray, as one; its undo puts each back where it was. */
  async sweep(): Promise<void> {
    const before = this.planner.hopeless();
    try {
      const { sentence, batchId } = await this.api.call('planner.sweep', {
        body: { postIds: before.map((p) => p.id) },
      });
      await this.planner.refresh();
      this.messages.done(sentence, async () => {
        await this.api.call('batches.undo', { id: batchId, body: {} });
        await this.planner.refresh();
      });
    } catch (error) {
      await this.planner.refresh();
      this.messages.failed(error);
    }
  }

  private targetAt(post: PlannerCard, place: Place): MoveTarget {
    if (place.to === 'tray') return { stage: 'pitch', runLocal: null, byline: post.byline };
    const time = place.time ?? this.planner.timeOn(place.date, post);
    return {
      stage: post.stage === 'pitch' ? 'commissioned' : post.stage,
      runLocal: `${place.date}T${withSeconds(time)}`,
      byline: place.byline === undefined ? post.byline : place.byline,
    };
  }

  private async send({ post, target }: Move): Promise<MoveDone> {
    const { id, version } = post;
    const runAt = target.runLocal;
    const byline = target.byline?.id === post.byline?.id ? {} : { bylineId: target.byline?.id ?? null };
    if (target.stage === 'pitch') {
      const back = await this.api.call('posts.move', { id, ifMatch: version, body: { to: 'pitch' } });
      return 'bylineId' in byline
        ? this.api.call('posts.change', { id, ifMatch: back.post.version, body: byline })
        : back;
    }
    if (post.stage !== 'pitch')
      return this.api.call('posts.change', {
        id,
        ifMatch: version,
        body: { ...byline, ...(runAt === post.runLocal ? {} : { runAt }) },
      });
    const done = await this.api.call('posts.move', {
      id,
      ifMatch: version,
      body: { to: 'commissioned', ...(runAt ? { runAt } : {}) },
    });
    return 'bylineId' in byline
      ? this.api.call('posts.change', { id, ifMatch: done.post.version, body: byline })
      : done;
  }

  private draw(move: Move): void {
    this.moves.set(move.post.id, move);
    this.show();
  }

  private settle(id: number, post?: TakenCard): void {
    this.moves.delete(id);
    if (post) this.planner.receive(post);
    this.show();
    this.remember();
  }

  private show(): void {
    this.planner.underWay.set(new Map([...this.moves].map(([id, { target }]) => [id, target])));
  }

  private keep(move: Move): void {
    this.waiting.update((ids) => new Set([...ids, move.post.id]));
    this.remember();
    const where = move.target.runLocal ? `on ${formatDate(move.target.runLocal)}` : 'in the tray';
    this.messages.done(
      `The newsroom cannot be reached. “${move.post.title}” is kept ${where} here and stored when it can be.`,
      () => this.forget(move.post.id),
    );
  }

  private forget(id: number): void {
    this.waiting.update((ids) => new Set([...ids].filter((other) => other !== id)));
    this.settle(id);
  }

  private async giveBack({ post }: Move, error: unknown): Promise<void> {
    this.forget(post.id);
    await this.planner.refresh();
    const conflict = error instanceof ApiError && error.code === 'version-conflict';
    const sentence =
      error instanceof ApiError
        ? `“${post.title}” was not moved. ` +
          `${error.message}${conflict ? ' You see the card where they put it.' : ''}`
        : null;
    this.messages.failed(sentence ? new ApiError((error as ApiError).problem, sentence) : error);
  }

  /** Sends what waits, in the order it was made. The first that finds nobody ends the round. */
  private async retry(): Promise<void> {
    if (this.sending || this.waiting().size === 0) return;
    this.sending = true;
    let stored = 0;
    try {
      for (const id of this.waiting()) {
        const move = this.moves.get(id);
        if (!move) continue;
        try {
          const done = await this.send(move);
          this.forget(id);
          this.planner.receive(done.post);
          stored++;
        } catch (error) {
          if (error instanceof ApiError && error.code === 'unreachable') break;
          await this.giveBack(move, error);
        }
      }
    } finally {
      this.sending = false;
    }
    if (stored > 0)
      this.messages.done(
        `${formatCount(stored, 'move')} that waited ${stored === 1 ? 'is' : 'are'} stored now.`,
      );
  }

  private key(): string {
    return `key-roster.moves.${this.session.me()?.id ?? 0}`;
  }

  private remember(): void {
    const kept = [...this.waiting()].flatMap((id) => this.moves.get(id) ?? []);
    if (kept.length > 0)
      localStorage.setItem(
        this.key(),
        JSON.stringify(
          kept.map(({ post: { id, title, version, stage, runLocal, byline }, target }) => ({
            post: { id, title, version, stage, runLocal, byline },
            target,
          })),
        ),
      );
    else localStorage.removeItem(this.key());
  }

  /** What waited when this page was left is drawn and sent again. */
  private recall(): void {
    try {
      for (const move of JSON.parse(localStorage.getItem(this.key()) ?? '[]') as Move[]) {
        this.moves.set(move.post.id, move);
        this.waiting.update((ids) => new Set([...ids, move.post.id]));
      }
      this.show();
    } catch {
      localStorage.removeItem(this.key());
    }
  }
}
