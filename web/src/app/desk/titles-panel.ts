import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { TitleTrialView } from '@keyroster/contract';
import { SIGNAL_NAMES, formatDate, type LikeTitles, type ScoredTitle } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { Messages } from '../ui/messages.service';
import { TextField } from '../ui/fields';
import { MeasureService } from './measure.service';
import { PostService } from './post.service';

type Scored = ScoredTitle & { ahead: number | null; like: LikeTitles | null };
interface Row {
  title: string;
  trial: TitleTrialView | null;
  scored: Scored | null;
  chosen: boolean;
}

const TYPING_MS = 120;
/** Below this a rank says more about chance than about the title. */
const FEWEST = 10;

/**
 * Title trials side by side: each measured signal by signal, ranked against the blog's published titles, and
 * kept.
 */
@Component({
  selector: 'kr-titles',
  imports: [MatButton, TextField],
  templateUrl: './titles-panel.html',
  styleUrl: './titles-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TitlesPanel {
  protected readonly posts = inject(PostService);
  private readonly measure = inject(MeasureService);
  private readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  protected readonly names = SIGNAL_NAMES;
  protected readonly Math = Math;
  protected readonly round = (n: number) => Math.round(n).toLocaleString('en-GB');
  protected readonly error = signal('');
  protected readonly open = signal('');
  protected readonly typed = signal('');
  protected readonly me = computed(() => this.session.me()?.id);
  protected readonly mayTry = computed(() => {
    const r = this.posts.post()?.rights;
    return !!r && (r.write || r.note);
  });
  private readonly trials = signal<TitleTrialView[]>([]);
  private readonly scores = signal<ReadonlyMap<string, Scored>>(new Map());
  private readonly published = signal<number | null>(null);
  private readonly aim = signal(30);
  private timer: ReturnType<typeof setTimeout> | undefined;

  protected readonly rows = computed((): Row[] => {
    const title = this.posts.post()?.title ?? '';
    const trials = this.trials();
    const titles = trials.some((t) => t.title === title)
      ? trials.map((t) => t.title)
      : [title, ...trials.map((t) => t.title)];
    const rows = titles.map((t): Row => ({
      title: t,
      trial: trials.find((x) => x.title === t) ?? null,
      scored: this.scores().get(t) ?? null,
      chosen: t === title,
    }));
    return rows.sort((a, b) => (b.scored?.score ?? 0) - (a.scored?.score ?? 0));
  });
  protected readonly draft = computed((): Row | null => {
    const t = this.typed();
    return t && !this.rows().some((r) => r.title === t)
      ? { title: t, trial: null, scored: this.scores().get(t) ?? null, chosen: false }
      : null;
  });
  protected readonly rankLine = computed(() => {
    const n = this.published();
    if (n === null) return 'Reading the blog’s titles …';
    return n < FEWEST
      ? `The blog has ${n} published titles; with ${FEWEST} there is something to compare with.`
      : `Ahead of this share of your ${n.toLocaleString('en-GB')} published titles. The aim ` +
          `is the top ${this.aim()}%.`;
  });

  constructor() {
    const id = computed(() => this.posts.post()?.id);
    effect(() => {
      if (id() !== undefined)
        untracked(() => {
          this.open.set(this.posts.post()?.title ?? '');
          void this.refresh();
          void this.learn();
        });
    });
    effect(() => {
      this.rows();
      this.measure.keyWords();
      this.published();
      untracked(() => void this.score());
    });
    inject(Live).whenever(['note'], () => void this.refresh());
  }

  protected percent(row: Row): string {
    const ahead = row.scored?.ahead;
    return ahead === null || ahead === undefined || (this.published() ?? 0) < FEWEST
      ? ''
      : `${Math.round(ahead * 100)}%`;
  }
  protected good(row: Row): boolean {
    return (row.scored?.ahead ?? 0) >= 1 - this.aim() / 100;
  }
  protected by(row: Row): string {
    return row.trial
      ? `Tried by ${row.trial.by.name}, ${formatDate(row.trial.at)}.`
      : 'The title as it stands.';
  }

  protected later(words: string): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      this.typed.set(words.trim());
      void this.score();
    }, TYPING_MS);
  }

  protected async keep(event: Event, field: TextField): Promise<void> {
    event.preventDefault();
    const title = field.value().trim();
    if (title === '') return;
    await this.act(async () => {
      this.trials.set(await this.api.call('trials.keep', { id: this.posts.post()!.id, body: { title } }));
      field.value.set('');
      this.typed.set('');
      this.open.set(title);
    });
  }

  protected async choose(title: string): Promise<void> {
    const before = this.posts.post()!.title;
    await this.act(async () => {
      // The title that goes is kept among the trials, so that nothing that was tried is lost.
      await this.api.call('trials.keep', { id: this.posts.post()!.id, body: { title: before } });
      await this.posts.change({ title });
      await this.refresh();
      this.messages.done(`The title is “${title}”.`, async () => {
        await this.posts.change({ title: before });
      });
    });
  }

  protected async remove(trial: TitleTrialView): Promise<void> {
    await this.act(async () => {
      await this.api.call('trials.remove', { id: trial.id });
      await this.refresh();
    });
  }

  private async act(what: () => Promise<void>): Promise<void> {
    try {
      await what();
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  private async refresh(): Promise<void> {
    const id = this.posts.post()?.id;
    if (id === undefined) return;
    const trials = await this.api.call('trials.list', { id }).catch(() => null);
    if (trials && this.posts.post()?.id === id) this.trials.set(trials);
  }

  private async learn(): Promise<void> {
    const used = await this.api.call('titles.list', {}).catch(() => null);
    if (used) this.aim.set(used.aim);
    this.published.set(await this.measure.ask('titles', used?.titles ?? []).catch(() => 0));
  }

  private async score(): Promise<void> {
    const post = this.posts.post();
    if (!post || this.published() === null) return;
    const titles = [
      ...new Set([...this.rows().map((r) => r.title), ...(this.typed() ? [this.typed()] : [])]),
    ];
    const scores = await this.measure
      .ask('scores', { titles, keyWords: this.measure.keyWords(), postId: post.id })
      .catch(() => null);
    if (!scores) return;
    const next = new Map(titles.map((t, i) => [t, scores[i]!]));
    if (JSON.stringify([...next]) !== JSON.stringify([...untracked(this.scores)])) this.scores.set(next);
  }
}
