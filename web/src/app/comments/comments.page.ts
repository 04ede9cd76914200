import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { Router } from '@angular/router';
import type { CommentView } from '@keyroster/contract';
import { COMMENT_STATES, COMMENT_STATE_NAMES, formatCount, type CommentState } from '@keyroster/core';
import { catchError, debounce, of, switchMap, tap, timer } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { SwitchField, TextField } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { PageHead } from '../ui/page-head';
import { CommentLine, type Deed } from './comment-line';
import { CommentRulesForm } from './comment-rules';

const PAUSE_MS = 200;
/** What each deed is called, on one and on many. */
const DEEDS: { to: CommentState; label: string; done: string }[] = [
  { to: 'approved', label: 'Approve', done: 'approved' },
  { to: 'refused', label: 'Refuse', done: 'refused' },
  { to: 'spam', label: 'Spam', done: 'put with the spam' },
  { to: 'held', label: 'Hold', done: 'held again' },
];
const NOTHING: Record<CommentState, string> = {
  held: 'No comments are waiting. Comments by new people appear here until you have read them.',
  approved: 'No approved comments yet. Comments that readers see appear here.',
  refused: 'Nothing was refused.',
  spam: 'No spam. Comments that the filter holds back appear here, so that none is lost.',
};

/** What readers say under posts: read, approved, answered or kept away, one by one or many at once. */
@Component({
  imports: [
    CommentLine,
    CommentRulesForm,
    EmptyState,
    ErrorLine,
    MatButton,
    MatCheckbox,
    PageHead,
    SwitchField,
    TextField,
  ],
  templateUrl: './comments.page.html',
  styles: `
    .columns {
      display: grid;
      grid-template-columns: minmax(0, 3fr) minmax(240px, 1fr);
      gap: 30px;
      align-items: start;
    }
    .bar {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 10px;
      align-items: center;
      min-height: 44px;
      position: sticky;
      top: 0;
      z-index: 2;
      background: var(--paper);
      border-bottom: 2px solid var(--ink);
    }
    .find {
      max-width: 320px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    @media (max-width: 900px) {
      .columns {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CommentsPage {
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly router = inject(Router);
  protected readonly session = inject(SessionService);
  /** From the address: only those under one post. */
  readonly post = input<string>();
  protected readonly state = signal<CommentState>('held');
  protected readonly words = signal('');
  protected readonly error = signal('');
  protected readonly chosen = signal<ReadonlySet<number>>(new Set());
  private readonly older = signal<readonly CommentView[]>([]);
  private readonly ended = signal<boolean | null>(null);
  private readonly changes = signal(0);
  private readonly asked = computed(() => ({
    state: this.state(),
    q: this.words().trim(),
    postId: Number(this.post()) || undefined,
    changes: this.changes(),
  }));
  private typed = '';
  private readonly view = toSignal(
    toObservable(this.asked).pipe(
      // Only who types pauses; what comes in is fetched at once.
      debounce(({ q }) => timer(q === this.typed ? 0 : PAUSE_MS)),
      tap(({ q }) => (this.typed = q)),
      switchMap(({ state, q, postId }) =>
        this.api.request('comments.list', { query: { state, q, postId } }).pipe(
          catchError((error: unknown) => {
            this.error.set(sentenceOf(error));
            return of(null);
          }),
        ),
      ),
    ),
    { initialValue: null },
  );
  protected readonly comments = computed(() => {
    const shown = this.view()?.comments ?? [];
    const last = shown.at(-1)?.id ?? 0;
    return [...shown, ...this.older().filter((c) => c.id < last)];
  });
  protected readonly loaded = computed(() => this.view() !== null);
  protected readonly more = computed(() => this.ended() ?? this.view()?.more ?? false);
  protected readonly states = computed(() =>
    COMMENT_STATES.map((value) => ({
      value,
      label: `${COMMENT_STATE_NAMES[value]} ${this.view()?.counts[value] ?? ''}`.trim(),
    })),
  );
  protected readonly deeds = computed(() => DEEDS.filter((d) => d.to !== this.state()));
  protected readonly nothing = computed(() =>
    this.words() || this.post() ? 'No comment is like this.' : NOTHING[this.state()],
  );
  /** Only what is on the screen counts as chosen. */
  protected readonly selected = computed(() => this.comments().filter((c) => this.chosen().has(c.id)));
  protected readonly ids = computed(() => this.selected().map((c) => c.id));
  protected readonly some = computed(() => formatCount(this.selected().length, 'comment'));

  constructor() {
    inject(Live).whenever(['comment'], () => this.refresh());
  }

  private refresh(): void {
    this.changes.update((n) => n + 1);
  }

  protected show(state: CommentState): void {
    this.state.set(state);
    this.chosen.set(new Set());
    this.older.set([]);
    this.ended.set(null);
  }
  protected everyPost(): void {
    void this.router.navigate(['/comments']);
  }

  protected choose(id: number, on: boolean): void {
    this.chosen.update((before) => new Set(on ? [...before, id] : [...before].filter((c) => c !== id)));
  }
  protected chooseAll(on: boolean): void {
    this.chosen.set(new Set(on ? this.comments().map((c) => c.id) : []));
  }

  protected async deed({ comment, to, answer }: Deed): Promise<void> {
    if (answer === undefined) return this.move([comment.id], to);
    await this.attempt(async () => {
      await this.api.call('comments.answer', { id: comment.id, body: { text: answer } });
      this.refresh();
      this.messages.done(`Your answer stands under ${comment.name}’s comment.`);
    });
  }

  protected async move(ids: readonly number[], to: CommentState): Promise<void> {
    const { done } = DEEDS.find((d) => d.to === to)!;
    await this.attempt(async () => {
      const { moveId, moved } = await this.api.call('comments.move', { body: { ids, to } });
      this.chosen.set(new Set());
      this.older.update((all) => all.filter((c) => !ids.includes(c.id)));
      this.refresh();
      if (moveId === null) this.messages.done('Nothing was left to do: somebody else was quicker.');
      else this.messages.done(`${formatCount(moved, 'comment')} ${done}.`, () => this.undo(moveId));
    });
  }

  private async undo(id: number): Promise<void> {
    const { restored, left } = await this.api.call('comments.undo', { id, body: {} });
    this.refresh();
    const others =
      left > 0 ? ` ${formatCount(left, 'other')} stayed, since they were moved again meanwhile.` : '';
    this.messages.done(`${formatCount(restored, 'comment')} put back.${others}`);
  }

  protected async showMore(): Promise<void> {
    const before = this.comments().at(-1)?.id;
    const { state, q, postId } = this.asked();
    await this.attempt(async () => {
      const next = await this.api.call('comments.list', { query: { state, q, postId, before } });
      this.older.update((all) => [...all, ...next.comments]);
      this.ended.set(next.more);
    });
  }

  private async attempt(act: () => Promise<void>): Promise<void> {
    try {
      await act();
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
