import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { LetterLine } from '@keyroster/contract';
import { formatClock, formatShortDate } from '@keyroster/core';
import { catchError, of, switchMap } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { OutletsHead } from '../outlets/outlets-head';
import { OutletsService } from '../outlets/outlets.service';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { STATE_NAMES, deliveredOf } from './words';

/** Letters to subscribers: drafts, those on their way and those that are out, with what came of each. */
@Component({
  imports: [EmptyState, ErrorLine, MatButton, OutletsHead, RouterLink],
  providers: [OutletsService],
  templateUrl: './letters.page.html',
  styles: `
    table {
      width: 100%;
      background: var(--sheet);
      border: 1px solid var(--line);
    }
    th {
      text-align: left;
    }
    th,
    td {
      padding: 5px 10px;
    }
    .n {
      text-align: right;
      font-variant-numeric: tabular-nums;
    }
    td small {
      display: block;
    }
    td:first-child {
      overflow-wrap: anywhere;
      min-width: 160px;
    }
    .wide {
      overflow-x: auto;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LettersPage {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  protected readonly session = inject(SessionService);
  protected readonly error = signal('');
  private readonly changes = signal(0);
  protected readonly letters = toSignal(
    toObservable(this.changes).pipe(
      switchMap(() =>
        this.api.request('letters.list', {}).pipe(
          catchError((error: unknown) => {
            this.error.set(sentenceOf(error));
            return of(null);
          }),
        ),
      ),
    ),
    { initialValue: null },
  );
  protected readonly counts = computed(() => ({
    opened: (this.letters() ?? []).some((l) => l.counts.opened !== null),
    clicked: (this.letters() ?? []).some((l) => l.counts.clicked !== null),
  }));
  protected readonly stateNames = STATE_NAMES;
  protected readonly deliveredOf = deliveredOf;

  constructor() {
    inject(Live).whenever(['letter'], () => this.changes.update((n) => n + 1));
  }

  protected when(letter: LetterLine): string {
    const local = this.session.local(letter.begunAt ?? letter.madeAt).slice(0, 16);
    return `${formatShortDate(local.slice(0, 10), this.session.today())}, ${formatClock(`${local}:00`)}`;
  }

  protected async begin(): Promise<void> {
    try {
      const { id } = await this.api.call('letters.add', { body: { postIds: [] } });
      await this.router.navigate(['/outlets/letters', id]);
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
