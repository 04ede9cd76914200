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
import { formatCount, formatDate } from '@keyroster/core';
import equal from 'fast-deep-equal';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { Messages } from '../ui/messages.service';
import { TextField, textControl } from '../ui/fields';
import { MeasureService } from '../posts/measure.service';
import { PostService } from '../posts/post.service';
import type { TitleFacts } from './title-facts';
import { TitleFactsList } from './title-facts-list';
import { ErrorLine } from '../ui/error-line';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ReactiveFormsModule } from '@angular/forms';
import { debounceTime } from 'rxjs';

interface Row {
  title: string;
  trial: TitleTrialView | null;
  facts: TitleFacts | null;
  chosen: boolean;
}

const TYPING_MS = 120;
/** Writers try a dozen before they choose one (common practice, no published source). */
const DOZEN = 12;

/** Title trials side by side: the facts of each, how titles of its form did here, and who tried it when. */
@Component({
  selector: 'kr-titles',
  imports: [MatButton, TextField, TitleFactsList, ErrorLine, ReactiveFormsModule],
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
  protected readonly error = signal('');
  protected readonly open = signal('');
  protected readonly words = textControl();
  protected readonly typed = signal('');
  protected readonly me = computed(() => this.session.me()?.id);
  protected readonly mayTry = computed(() => {
    const r = this.posts.post()?.rights;
    return !!r && (r.write || r.note);
  });
  private readonly trials = signal<TitleTrialView[]>([]);
  private readonly facts = signal<ReadonlyMap<string, TitleFacts>>(new Map());
  private readonly published = signal<number | null>(null);

  protected readonly rows = computed((): Row[] => {
    const title = this.posts.post()?.title ?? '';
    const trials = this.trials();
    const titles = trials.some((t) => t.title === title)
      ? trials.map((t) => t.title)
      : [title, ...trials.map((t) => t.title)];
    return titles.map((t): Row => ({
      title: t,
      trial: trials.find((x) => x.title === t) ?? null,
      facts: this.facts().get(t) ?? null,
      chosen: t === title,
    }));
  });
  protected readonly draft = computed((): Row | null => {
    const t = this.typed();
    return t && !this.rows().some((r) => r.title === t)
      ? { title: t, trial: null, facts: this.facts().get(t) ?? null, chosen: false }
      : null;
  });
  protected readonly tried = computed(() => {
    const n = this.trials().length;
    return n >= DOZEN
      ? `${n} tried.`
      : `${n === 0 ? 'None tried yet' : `${n} tried`}; writers try a dozen before they choose.`;
  });

  constructor() {
    this.words.valueChanges.pipe(debounceTime(TYPING_MS), takeUntilDestroyed()).subscribe((words) => {
      this.typed.set(words.trim());
      void this.look();
    });
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
      untracked(() => void this.look());
    });
    inject(Live).whenever(['note'], () => this.refresh());
  }

  /** What is seen of a title that is not unfolded. */
  protected readonly short = (title: string) => formatCount([...title].length, 'character');
  protected readonly isAlert = (facts: TitleFacts | null) => facts?.facts.some((f) => f.alert) ?? false;

  protected by(row: Row): string {
    return row.trial
      ? `Tried by ${row.trial.by.name}, ${formatDate(row.trial.at)}.`
      : 'The title as it stands.';
  }

  protected async keep(): Promise<void> {
    const title = this.words.value.trim();
    if (title === '') return;
    await this.act(async () => {
      this.trials.set(await this.api.call('trials.keep', { id: this.posts.post()!.id, body: { title } }));
      this.words.reset();
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
    this.published.set(await this.measure.request('titles', used?.titles ?? []).catch(() => 0));
  }

  private async look(): Promise<void> {
    const post = this.posts.post();
    if (!post || this.published() === null) return;
    const titles = [
      ...new Set([...this.rows().map((r) => r.title), ...(this.typed() ? [this.typed()] : [])]),
    ];
    const facts = await this.measure
      .request('facts', { titles, keyWords: this.measure.keyWords(), postId: post.id })
      .catch(() => null);
    if (!facts) return;
    const next = new Map(facts.map((f) => [f.title, f]));
    if (!equal([...next], [...untracked(this.facts)])) this.facts.set(next);
  }
}
