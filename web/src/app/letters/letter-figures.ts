import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { LetterView } from '@keyroster/contract';
import { formatCount, formatWhen } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { SectionHead } from '../ui/section-head';
import { STATE_NAMES, deliveredOf, shareOf } from './words';

/** What became of a letter that went out, or is going. */
@Component({
  selector: 'kr-letter-figures',
  imports: [MatButton, SectionHead],
  template: `
    <kr-section name="What became of it" />
    @if (letter().counts.unsure > 0) {
      <div class="doubt" role="alert">
        <p>
          {{ doubt() }} may or may not have it: the newsroom stopped, or the mail server did not answer, while
          it was being sent.
        </p>
        <p class="row">
          <button matButton="outlined" type="button" (click)="settled.emit(true)">
            Send it to them, perhaps again
          </button>
          <button matButton="outlined" type="button" (click)="settled.emit(false)">Leave it</button>
        </p>
      </div>
    }
    <dl>
      @for (row of rows(); track row.name) {
        <div>
          <dt>{{ row.name }}</dt>
          <dd>
            {{ row.value }} <span class="soft">{{ row.note }}</span>
          </dd>
        </div>
      }
    </dl>
    @if (letter().clicks.length > 0) {
      <kr-section name="Clicks" [count]="letter().counts.clicked" />
      <ul>
        @for (c of letter().clicks; track c.url) {
          <li>
            <span class="url">{{ c.url }}</span> <b>{{ c.clicks }}</b>
          </li>
        }
      </ul>
    }
    <kr-section name="Posts" [count]="letter().posts.length" />
    <ol>
      @for (p of letter().posts; track p.id) {
        <li>{{ p.title }}</li>
      }
    </ol>
  `,
  styles: `
    dl {
      margin: 0 0 16px;
    }
    dl div {
      display: flex;
      justify-content: space-between;
      gap: 12px;
      padding: 5px 0;
      border-bottom: 1px solid var(--hair);
    }
    dd {
      margin: 0;
      font-weight: 600;
      text-align: right;
    }
    dd .soft {
      font-weight: 400;
    }
    ul,
    ol {
      margin: 0 0 16px;
      padding: 0;
      list-style: none;
    }
    li {
      display: flex;
      justify-content: space-between;
      gap: 12px;
      padding: 4px 0;
      border-bottom: 1px solid var(--hair);
    }
    .url {
      overflow-wrap: anywhere;
    }
    .doubt {
      background: var(--brass-wash);
      padding: 10px 12px;
      margin-bottom: 10px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LetterFigures {
  private readonly session = inject(SessionService);
  readonly letter = input.required<LetterView>();
  /** Whether those in doubt get it again. */
  readonly settled = output<boolean>();
  protected readonly doubt = computed(() => formatCount(this.letter().counts.unsure, 'subscriber'));
  protected readonly rows = computed(() => {
    const { counts, state, begunAt, endedAt, by, nextTryAt } = this.letter();
    const of = (n: number) => shareOf(n, counts.sent);
    const row = (name: string, n: number | null, note = '') =>
      n === null || (n === 0 && note === '') ? [] : [{ name, value: String(n), note }];
    return [
      { name: 'State', value: STATE_NAMES[state], note: '' },
      ...(begunAt ? [{ name: 'Begun', value: this.when(begunAt), note: by ? `by ${by.name}` : '' }] : []),
      ...(endedAt ? [{ name: 'Ended', value: this.when(endedAt), note: '' }] : []),
      { name: 'Delivered', value: deliveredOf(counts), note: '' },
      ...row('Waiting', counts.waiting - counts.deferred),
      ...row(
        'Deferred by their mail server',
        counts.deferred,
        nextTryAt ? `next try ${this.when(nextTryAt)}` : ' ',
      ),
      ...row('Refused by their mail server', counts.failed, ' '),
      ...row('Undelivered after three days', counts.undelivered),
      ...row('Opened', counts.opened, of(counts.opened ?? 0)),
      ...row('Clicks', counts.clicked, ' '),
      ...row('Unsubscribed', counts.unsubscribed, of(counts.unsubscribed) || ' '),
      ...row('Came back', counts.bounced, ' '),
      ...row('Left the list before it was their turn', counts.left),
    ];
  });

  private readonly when = (at: string): string =>
    formatWhen(this.session.local(at).slice(0, 16), this.session.today());
}
