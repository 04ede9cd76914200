import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { debounce, filter, firstValueFrom, of, timeout, timer } from 'rxjs';
import { DestroyRef, Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import type { CheckContext, FormatView } from '@keyroster/contract';
import {
  CHECKED_FIELDS,
  countChecks,
  pickFields,
  type BodyNode,
  type Check,
  type CheckCounts,
  type Leftovers,
} from '@keyroster/core';
import { Api } from '../api/api';
import type { Answered, Asked, MeasureKind, Measures } from './measure';
import { PostService } from './post.service';

/** How long a move waits for the first look at a text; the server looks, too. */
const PATIENCE_MS = 4000;
const QUIET_MS = 160;

/** Measures the open post in a worker: its checks as one types, how it reads, and its titles. */
@Injectable()
export class MeasureService {
  private readonly api = inject(Api);
  private readonly posts = inject(PostService);
  private worker: Worker | null = null;
  private readonly waiting = new Map<
    number,
    { done: (answer: never) => void; failed: (error: Error) => void }
  >();
  private asked = 0;

  /** The text as it stands on the screen; the editor tells. */
  readonly body = signal<BodyNode | null>(null);
  /** The title as it is being typed. */
  readonly title = signal<string | null>(null);
  readonly context = signal<CheckContext | null>(null);
  readonly formats = signal<FormatView[]>([]);
  readonly checks = signal<Check[] | null>(null);
  private readonly known = toObservable(this.checks);
  readonly leftovers = signal<Leftovers | null>(null);
  readonly words = signal<number | null>(null);
  readonly keyWords = signal<string[]>([]);
  readonly counts = computed<CheckCounts>(() => countChecks(this.checks() ?? []));

  constructor() {
    void this.api.call('formats.list', {}).then(
      (formats) => this.formats.set(formats),
      () => undefined,
    );
    // What only the server knows is asked again when the post there has changed.
    const known = computed(() => {
      const p = this.posts.post();
      return p && `${p.id}.${p.version}.${p.checks.warns}`;
    });
    effect(() => {
      if (known()) untracked(() => void this.refresh());
    });
    // The first look is not waited for; each next one, until a pause in typing.
    toObservable(
      computed(() => [this.posts.post(), this.body(), this.context(), this.title(), this.formats()] as const),
    )
      .pipe(
        filter(([post, body, context]) => !!post && !!body && !!context),
        debounce(() => timer(this.checks() ? QUIET_MS : 0)),
        takeUntilDestroyed(),
      )
      .subscribe(() => void this.measure());
    inject(DestroyRef).onDestroy(() => this.worker?.terminate());
  }

  /** Begun when there is something to measure, so that the text is drawn before. */
  private begin(): Worker {
    const worker = new Worker(new URL('./measure.worker', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<Answered>) => {
      const asked = this.waiting.get(data.id);
      this.waiting.delete(data.id);
      if (data.error === undefined) asked?.done(data.answer as never);
      else asked?.failed(new Error(data.error));
    });
    return worker;
  }

  /** The checks, waited for while the text is being looked at for the first time. */
  settled(): Promise<Check[]> {
    return firstValueFrom(
      this.known.pipe(
        filter((checks) => checks !== null),
        timeout({ first: PATIENCE_MS, with: () => of([]) }),
      ),
    );
  }

  request<K extends MeasureKind>(kind: K, ask: Measures[K]['ask']): Promise<Measures[K]['answer']> {
    const id = ++this.asked;
    const start = performance.now();
    return new Promise((done, failed) => {
      // Timed from here to the answer, for measuring (npm run bench).
      const timed = (answer: Measures[K]['answer']) => {
        performance.measure(`measure ${kind}`, { start });
        done(answer);
      };
      this.waiting.set(id, { done: timed as (answer: never) => void, failed });
      this.worker ??= this.begin();
      this.worker.postMessage({ id, kind, ask } satisfies Asked);
    });
  }

  private async refresh(): Promise<void> {
    const id = this.posts.post()?.id;
    if (id === undefined) return;
    const context = await this.api.call('checks.see', { id }).catch(() => null);
    if (context && this.posts.post()?.id === id) this.context.set(context);
  }

  private async measure(): Promise<void> {
    const [post, body, context] = [this.posts.post(), this.body(), this.context()];
    if (!post || !body || !context) return;
    const title = this.title() ?? post.title;
    const format = this.formats().find((f) => f.id === post.formatId);
    const values = { ...post, title, body, tagIds: post.tags.map((t) => t.id) };
    const facts: Measures['post']['ask']['facts'] = {
      ...pickFields(values, CHECKED_FIELDS),
      leadBytes: context.leadBytes,
      format: format ? { name: format.name, fields: format.fields } : null,
      alike: context.alike,
      pages: context.pages,
    };
    const answer = await this.request('post', {
      facts,
      source: context.source,
      settings: context.settings,
      home: context.home,
    }).catch(() => null);
    if (!answer || this.posts.post()?.id !== post.id) return;
    this.checks.set(answer.checks);
    this.leftovers.set(answer.leftovers);
    this.words.set(answer.words);
    this.keyWords.set(answer.keyWords);
  }
}
