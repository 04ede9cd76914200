import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { EMPTY, catchError, switchMap } from 'rxjs';
import { formatDelay, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api } from '../api/api';

/** Of which serial the post is a part, and which pages were told that it links to them. */
@Component({
  selector: 'kr-on-blog',
  imports: [RouterLink],
  template: `
    @if (all(); as known) {
      @if (known.serial; as s) {
        <p>
          Part {{ s.number }} of {{ s.parts }} of the serial
          @if (session.may('manageSerials')) {
            <a routerLink="/planner/serials">{{ s.title }}</a>
          } @else {
            <b>{{ s.title }}</b>
          }
          : each reader gets it {{ delay() }}.
        </p>
      }
      @if (known.mentioned.length > 0) {
        <p class="label" id="mentioned">Told that it links to them</p>
        <ul aria-labelledby="mentioned">
          @for (m of known.mentioned; track m.target) {
            <li>
              <a [href]="m.target" target="_blank" rel="noopener">{{ m.target }}</a>
              <small class="soft">{{ m.status }}, {{ day(m.at) }}</small>
            </li>
          }
        </ul>
      }
    }
  `,
  styles: `
    .label {
      font-weight: 600;
      font-size: 12px;
      margin: 0 0 4px;
    }
    ul {
      list-style: none;
      margin: 0 0 12px;
      padding: 0;
    }
    li {
      overflow-wrap: anywhere;
    }
    small {
      display: block;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OnBlog {
  private readonly api = inject(Api);
  protected readonly session = inject(SessionService);
  readonly postId = input.required<number>();
  /** What is not available is omitted: nothing else waits for it. */
  protected readonly all = toSignal(
    toObservable(this.postId).pipe(
      switchMap((id) => this.api.request('onBlog.see', { id }).pipe(catchError(() => EMPTY))),
    ),
  );
  protected readonly delay = computed(() => {
    const serial = this.all()?.serial;
    return serial ? formatDelay(serial.delay) : '';
  });
  protected readonly day = (at: string): string =>
    formatShortDate(this.session.local(at).slice(0, 10), this.session.today());
}
