import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  output,
  untracked,
} from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatProgressBar } from '@angular/material/progress-bar';
import { RouterLink } from '@angular/router';
import { SessionService } from '../accounts/session.service';
import type { BatchView } from '@keyroster/contract';
import { formatCount, formatDistance, formatLettersAtRelease, formatList } from '@keyroster/core';
import { BatchItems } from './batch-items';
import { BatchService } from './batch.service';
import { ChangeForm } from './change-form';
import { ChosenService } from './chosen.service';
import { ErrorLine } from '../ui/error-line';
import { later } from '../ui/later';
import { MatIcon } from '@angular/material/icon';
import { facts } from '../ui/facts';

const QUIET_MS = 350;
const EARLIER = 4;

/**
 * What to change in the chosen posts: put together, seen before it is written, applied as a whole; and the
 * batches before.
 */
@Component({
  selector: 'kr-batch',
  imports: [
    MatButton,
    MatCheckbox,
    MatProgressBar,
    ChangeForm,
    BatchItems,
    RouterLink,
    ErrorLine,
    MatIconButton,
    MatIcon,
  ],
  templateUrl: './batch-panel.html',
  styleUrl: './batch-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BatchPanel {
  private readonly session = inject(SessionService);
  protected readonly batch = inject(BatchService);
  protected readonly chosen = inject(ChosenService);
  readonly closed = output();
  protected readonly max = EARLIER;
  protected readonly count = (n: number) => formatCount(n, 'post');
  protected readonly heading = computed(() =>
    this.batch.preview()?.reverts !== null && this.batch.preview()
      ? 'Undo'
      : this.chosen.count() === 0
        ? 'Change many posts'
        : `Change ${formatCount(this.chosen.count(), 'post')}`,
  );
  protected readonly hasSince = computed(() =>
    this.batch.items().some((i) => i.sentence.endsWith('changed since and kept')),
  );

  private readonly look = later(QUIET_MS, (ids: readonly number[]) => void this.batch.look(ids));

  constructor() {
    effect(() => {
      const ids = this.chosen.ids();
      this.batch.changes();
      this.batch.atOnce();
      untracked(() => this.batch.chosenAnew());
      this.look(ids);
    });
  }

  protected counts({ counts }: BatchView): string {
    return facts(
      `${counts.changes.toLocaleString('en-GB')} will change`,
      `${counts.same} already so`,
      `${counts.refused} refused`,
      counts.left > 0 && `${counts.left} left out`,
    );
  }
  protected readonly letters = formatLettersAtRelease;
  protected opened(open: readonly { name: string; posts: number }[]): string {
    const posts = open.reduce((sum, o) => sum + o.posts, 0);
    const names = open.map((o) => o.name);
    return (
      `${formatList(names)} ${names.length > 1 ? 'have' : 'has'} ` +
      `${posts === 1 ? 'one of these posts' : `${posts} of these posts`}`
    );
  }
  protected ago(batch: BatchView): string {
    return formatDistance(
      this.session.local(batch.appliedAt ?? batch.madeAt).slice(0, 10),
      this.session.today(),
    );
  }
}
