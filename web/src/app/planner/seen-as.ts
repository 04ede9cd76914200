import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { DomSanitizer } from '@angular/platform-browser';
import type { SeenAs as View, SerialView } from '@keyroster/contract';
import { addDays, formatClock, formatShortDate } from '@keyroster/core';
import { catchError, debounceTime, of, switchMap } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { ErrorLine } from '../ui/error-line';
import { ChoiceField, MomentField } from '../ui/fields';
import { SectionHead } from '../ui/section-head';

/**
 * The blog as a reader has it who came first at a time: which parts are due for them and when the others are,
 * and the page.
 */
@Component({
  selector: 'kr-seen-as',
  imports: [ChoiceField, ErrorLine, MomentField, SectionHead],
  template: `
    <section>
      <kr-section name="As a reader has it" />
      <kr-error [of]="error()" />
      <div class="asked">
        <kr-moment label="First visit" [(value)]="first" />
        <kr-choice label="Page" none="the front page" [options]="pages()" [(value)]="page" />
      </div>
      @if (seen(); as s) {
        <ol class="due" aria-label="What comes to this reader when">
          @for (p of s.parts; track p.postId) {
            <li [class.later]="!p.due">
              <b>{{ titles().get(p.postId) }}</b><span
                >{{ p.due ? 'due since' : 'from' }} {{ when(p.at) }}</span
              >
            </li>
          }
        </ol>
        <iframe title="The blog as this reader has it" sandbox="" [srcdoc]="html()"></iframe>
      }
    </section>
  `,
  styles: `
    :host {
      display: block;
      margin-top: 22px;
    }
    .asked {
      display: grid;
      grid-template-columns: minmax(0, 2fr) minmax(0, 3fr);
      gap: 12px;
      max-width: 640px;
    }
    .due {
      display: flex;
      flex-wrap: wrap;
      gap: 0;
      list-style: none;
      margin: 4px 0 14px;
      padding: 0;
      border-top: 3px solid var(--verdigris);
    }
    .due li {
      flex: 1 1 150px;
      padding: 7px 10px 0 0;
    }
    .due .later {
      border-top: 3px dashed var(--line);
      margin-top: -3px;
      color: var(--soft);
    }
    .due b,
    .due span {
      display: block;
    }
    .due span {
      font-size: 12px;
      color: var(--soft);
    }
    iframe {
      width: 100%;
      height: 460px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: #fff;
    }
    @media (max-width: 700px) {
      .asked {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SeenAs {
  private readonly api = inject(Api);
  private readonly sanitizer = inject(DomSanitizer);
  private readonly session = inject(SessionService);
  readonly serial = input.required<SerialView>();
  protected readonly first = signal('');
  protected readonly page = signal<number | null>(null);
  protected readonly error = signal('');
  protected readonly when = (at: string): string => {
    const local = this.session.local(at);
    return `${formatShortDate(local.slice(0, 10), this.session.today())}, ${formatClock(local)}`;
  };
  protected readonly titles = computed(() => new Map(this.serial().parts.map((p) => [p.postId, p.title])));
  protected readonly pages = computed(() =>
    this.serial().parts.map((p) => ({ value: p.postId, label: p.title })),
  );
  private readonly asked = computed(() => ({
    id: this.serial().id,
    version: this.serial().version,
    firstVisit: this.first(),
    postId: this.page(),
  }));
  protected readonly seen = toSignal(
    toObservable(this.asked).pipe(
      debounceTime(150),
      switchMap(({ id, firstVisit, postId }) => {
        if (firstVisit === '') return of(null);
        const body = { firstVisit, page: postId === null ? ('front' as const) : ('part' as const), postId };
        return this.api.request('serials.seenAs', { id, body }).pipe(
          catchError((error: unknown) => {
            this.error.set(sentenceOf(error));
            return of(null);
          }),
        );
      }),
    ),
    { initialValue: null as View | null },
  );
  /** It runs no script: the frame allows none, and the page has none. */
  protected readonly html = computed(() => this.sanitizer.bypassSecurityTrustHtml(this.seen()?.html ?? ''));

  constructor() {
    effect(() => {
      if (this.seen()) this.error.set('');
    });
    // Somebody who came a day ago, until another time is asked for.
    const now = this.session.now();
    this.first.set(`${addDays(now.slice(0, 10), -1)}T${now.slice(11, 16)}:00`);
  }
}
