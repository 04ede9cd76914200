import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  output,
  signal,
  untracked,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import {
  meaningOf,
  formatClock,
  formatCount,
  formatWhen,
  type Stage,
  type ZonedChoice,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { ApiError, sentenceOf } from '../api/api';
import { Clock } from '../api/clock';
import { confirm } from '../ui/confirm';
import { LetterAtReleaseService } from '../letters/letter-at-release.service';
import { BittingMark } from '../ui/bitting-mark';
import { Messages } from '../ui/messages.service';
import { MeasureService } from '../posts/measure.service';
import { moveButtons, type Asked } from './move-buttons';
import { NotesService } from '../posts/notes.service';
import { Reassign } from './reassign';
import { PostService } from '../posts/post.service';
import { ReviewService } from './review.service';
import { SuggestionsService } from '../editor/suggestions/suggestions.service';
import { ScheduleForm } from './schedule-form';
import { ErrorLine } from '../ui/error-line';
import { UpdateBar } from './update-bar';
import { WordForm } from './word-form';

/** Where the post stands and where it may go from here. Every button says what it will do. */
@Component({
  selector: 'kr-moves',
  imports: [MatButton, BittingMark, RouterLink, ScheduleForm, ErrorLine, Reassign, WordForm, UpdateBar],
  templateUrl: './moves-panel.html',
  styles: `
    :host {
      display: block;
    }
    .stage {
      margin-bottom: 8px;
    }
    .stage b {
      font: 560 16px var(--serif);
    }
    .done {
      background: var(--verdigris-wash);
      border-radius: 4px;
      padding: 7px 10px;
      margin-bottom: 10px;
      font-weight: 550;
    }
    .letter {
      margin-bottom: 8px;
    }
    .next {
      margin-bottom: 10px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MovesPanel {
  protected readonly posts = inject(PostService);
  protected readonly notes = inject(NotesService);
  private readonly session = inject(SessionService);
  private readonly clock = inject(Clock);
  private readonly messages = inject(Messages);
  private readonly measure = inject(MeasureService);
  private readonly suggestions = inject(SuggestionsService);
  private readonly review = inject(ReviewService);
  private readonly dialogs = inject(MatDialog);
  protected readonly letters = inject(LetterAtReleaseService);
  readonly checksAsked = output();
  /** A move that the checks stopped: what they say, and what to do if it goes on all the same. */
  protected readonly held = signal<{
    sentences: string[];
    blocking: boolean;
    label: string;
    go: () => Promise<string>;
  } | null>(null);
  protected readonly asking = signal<'schedule' | 'note' | 'word' | 'reassign' | null>(null);
  protected readonly error = signal('');
  protected readonly done = signal('');
  /** What to read next, once this post was decided. */
  protected readonly next = computed(() => this.review.next(this.posts.post()?.id));
  protected readonly busy = signal(false);
  protected readonly choices = signal<[ZonedChoice, ZonedChoice] | null>(null);
  private readonly zone = computed(() => this.session.blog()?.zone ?? 'UTC');
  protected readonly when = (local: string) => formatWhen(local, this.today());

  protected readonly buttons = computed(() => {
    const post = this.posts.post();
    return post ? moveButtons(post, this.nowLocal()) : [];
  });

  /** A release may be decided now, or was. */
  protected readonly ahead = computed(() =>
    ['in review', 'cleared', 'scheduled'].includes(this.posts.post()?.stage ?? ''),
  );

  constructor() {
    effect(() => this.letters.of(this.posts.post()));
    // What was said of an earlier stage is true no more once somebody has moved the post on.
    let stage: Stage | undefined;
    effect(() => {
      const now = this.posts.post()?.stage;
      if (now === stage) return;
      stage = now;
      untracked(() => {
        if (!this.busy()) this.done.set('');
        this.held.set(null);
        this.error.set('');
      });
    });
  }

  private nowLocal(): string {
    return this.session.now();
  }
  private today(): string {
    return this.nowLocal().slice(0, 10);
  }

  protected press(asked: Asked): void {
    const does: { [K in Asked['kind']]: (asked: Extract<Asked, { kind: K }>) => unknown } = {
      'clear and schedule': () => this.clearAndSchedule(),
      clear: () => this.clear(),
      schedule: () => this.openSchedule(),
      'release now': () => this.releaseNow(),
      'take the date away': ({ runLocal }) => this.removeDate(runLocal),
      note: () => this.begin('note'),
      word: () => this.begin('word'),
      reassign: () => this.begin('reassign'),
      withdraw: () => this.withdraw(),
      go: ({ to }) => this.go(to),
    };
    void (does[asked.kind] as (asked: Asked) => unknown)(asked);
  }

  private openSchedule(): void {
    this.begin('schedule', 'kr-moves [data-schedule-date] input');
  }

  private begin(what: 'schedule' | 'note' | 'word' | 'reassign', focus?: string): void {
    this.error.set('');
    this.done.set('');
    this.choices.set(null);
    this.asking.set(what);
    if (focus) setTimeout(() => document.querySelector<HTMLElement>(focus)?.focus());
  }

  protected choiceLabel(choice: ZonedChoice, two: [ZonedChoice, ZonedChoice]): string {
    if (two[0].local !== two[1].local) return formatClock(choice.local);
    return `the ${choice === two[0] ? 'earlier' : 'later'} ${formatClock(choice.local)} (UTC${choice.offset})`;
  }

  protected schedule(runAt: string, label: string): Promise<void> {
    if (this.posts.post()!.stage === 'scheduled') return this.act(() => this.posts.change({ runAt }));
    const go = () => this.posts.move({ to: 'scheduled', runAt });
    // A time that does not exist, or exists twice, is asked about before anything else.
    return meaningOf(runAt, this.zone())?.kind === 'exact' || runAt.length > 19
      ? this.checked(label, go)
      : this.act(go);
  }

  private clearAndSchedule(): Promise<void> {
    return this.checked('Clear and schedule', () => this.posts.move({ to: 'scheduled' }));
  }
  private clear(): Promise<void> {
    return this.checked('Clear', () => this.posts.move({ to: 'cleared' }));
  }

  /** Out at once, dated now. */
  private async releaseNow(): Promise<void> {
    const sure = await confirm(this.dialogs, {
      heading: 'Release it now?',
      text: [
        'Readers see it within a few seconds, and it is dated now. It can be withdrawn later.',
        this.letters.sentence(),
      ]
        .filter(Boolean)
        .join(' '),
      act: 'Release now',
    });
    if (sure)
      await this.checked('Release now', () =>
        this.posts.move({ to: 'scheduled', runAt: `${this.clock.now().toISOString().slice(0, 19)}Z` }),
      );
  }

  private async removeDate(runLocal: string): Promise<void> {
    await this.act(async () => {
      const sentence = await this.posts.change({ runAt: null });
      this.messages.done(sentence, () => this.posts.change({ runAt: runLocal }).then(() => undefined));
      return sentence;
    });
  }

  private async withdraw(): Promise<void> {
    const { title } = this.posts.post()!;
    const sure = await confirm(this.dialogs, {
      heading: `Withdraw “${title}”?`,
      text:
        'It leaves the blog and its feeds at once. Readers who follow a link to it read that it ' +
        'may have been withdrawn. What was sent to outlets stays there. You can publish it again at the same address.',
      act: 'Withdraw',
      grave: true,
    });
    if (!sure) return;
    await this.act(async () => {
      const sentence = await this.posts.move({ to: 'withdrawn' });
      this.messages.done(sentence, () => this.go('published'));
      return sentence;
    });
  }

  protected moveWith(to: Stage, note: string): void {
    void this.act(() => this.posts.move({ to, ...(note ? { note } : {}) }));
  }

  protected reassign({ id, name }: { id: number | null; name: string }): void {
    const before = this.posts.post()?.editor?.id ?? null;
    void this.act(async () => {
      await this.posts.change({ editorId: id });
      const sentence = id === null ? 'It waits for the first free editor.' : `It waits for ${name} now.`;
      this.messages.done(sentence, () => this.posts.change({ editorId: before }).then(() => undefined));
      return sentence;
    });
  }

  private go(to: Stage): Promise<void> {
    const before = this.posts.post()!;
    return this.act(async () => {
      const sentence = await this.posts.move({ to });
      if (to === 'cleared' && before.stage === 'scheduled' && before.runLocal) {
        this.messages.done(sentence, () => this.schedule(before.runLocal!, 'Schedule'));
      }
      return sentence;
    });
  }

  /** Clearing and scheduling look at the checks first: what warns is asked about, what blocks is said. */
  private async checked(label: string, go: () => Promise<string>): Promise<void> {
    await this.posts.flush();
    const checks = await this.measure.settled();
    const blocking = checks.filter((c) => c.state === 'blocks');
    const found = blocking.length > 0 ? blocking : checks.filter((c) => c.state === 'warns');
    const open = this.notes.open().length;
    const suggested = this.suggestions.count();
    const sentences = [
      ...(open > 0 ? [`${formatCount(open, 'note')} not resolved.`] : []),
      ...(suggested > 0
        ? [`${formatCount(suggested, 'suggestion')} not settled; without them it goes on.`]
        : []),
      ...found.map((c) => `${c.measure}; wanted: ${c.wanted}.`),
    ];
    if (sentences.length === 0 && !this.letters.isWithheld()) return this.act(go);
    if (this.letters.sentence()) sentences.push(this.letters.sentence());
    this.error.set('');
    this.held.set({
      sentences,
      blocking: blocking.length > 0,
      label,
      go,
    });
    setTimeout(() => document.querySelector<HTMLElement>('[data-all-the-same]')?.focus());
  }

  protected async goOn(go: () => Promise<string>): Promise<void> {
    this.held.set(null);
    await this.act(go);
  }

  protected async act(what: () => Promise<string>): Promise<void> {
    this.busy.set(true);
    this.error.set('');
    this.done.set('');
    this.choices.set(null);
    try {
      this.done.set(await what());
      this.asking.set(null);
    } catch (error) {
      this.error.set(sentenceOf(error));
      if (error instanceof ApiError)
        this.choices.set((error.problem?.choices as [ZonedChoice, ZonedChoice] | undefined) ?? null);
    } finally {
      this.busy.set(false);
    }
  }
}
