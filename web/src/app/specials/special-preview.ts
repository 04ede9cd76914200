import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { DomSanitizer } from '@angular/platform-browser';
import type { SpecialDraft, SpecialPartView } from '@keyroster/contract';
import { catchError, combineLatest, debounceTime, map, of, switchMap } from 'rxjs';
import { Api, sentenceOf } from '../api/api';
import { ErrorLine } from '../ui/error-line';
import { ChoiceField, SwitchField } from '../ui/fields';
import { SectionHead } from '../ui/section-head';

/** While somebody changes something, the picture of it follows when they pause. */
const PAUSE_MS = 250;

/** A special as readers would have it, with what is not saved yet. */
@Component({
  selector: 'kr-special-preview',
  imports: [ChoiceField, ErrorLine, SectionHead, SwitchField],
  template: `
    <section>
      <kr-section name="As readers will have it" />
      <kr-error [of]="error()" />
      <div class="row">
        <kr-switch label="Shown" [options]="ways" [value]="way()" (changed)="way.set($event)" />
        <kr-choice
          label="Page"
          [options]="pages()"
          [value]="page() ?? 0"
          (changed)="chosen.set($event === 0 ? null : $event)"
        />
      </div>
      <div class="frame" [class.phone]="way() === 'phone'">
        <iframe title="The special as readers will have it" sandbox="" [srcdoc]="html()"></iframe>
      </div>
      <p class="soft">This changes nothing. Links do not lead anywhere here.</p>
    </section>
  `,
  styles: `
    .row {
      align-items: end;
      gap: 12px;
      margin-bottom: 8px;
    }
    kr-choice {
      flex: 1;
      min-width: 0;
    }
    /* The page is drawn wider than its place, and shown smaller. */
    .frame {
      border: 1px solid var(--line);
      background: var(--sheet);
      overflow: hidden;
      height: 620px;
    }
    .phone {
      width: min(100%, 390px);
    }
    iframe {
      border: 0;
      width: calc(100% / 0.6);
      height: calc(620px / 0.6);
      transform-origin: 0 0;
      transform: scale(0.6);
    }
    .phone iframe {
      width: 100%;
      height: 620px;
      transform: none;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SpecialPreview {
  private readonly api = inject(Api);
  private readonly sanitizer = inject(DomSanitizer);
  readonly specialId = input.required<number>();
  readonly draft = input.required<SpecialDraft>();
  readonly parts = input.required<readonly SpecialPartView[]>();
  protected readonly error = signal('');
  protected readonly way = signal<'desk' | 'phone'>('desk');
  protected readonly ways = [
    { value: 'desk' as const, label: 'Desk' },
    { value: 'phone' as const, label: 'Phone' },
  ];
  protected readonly chosen = signal<number | null>(null);
  /** Null: the cover. */
  protected readonly page = computed(() =>
    this.parts().some((p) => p.id === this.chosen() && p.state === 'readable') ? this.chosen() : null,
  );
  protected readonly pages = computed(() => [
    { value: 0, label: 'Cover' },
    ...this.parts()
      .filter((p) => p.state === 'readable')
      .map((p) => ({ value: p.id, label: p.title })),
  ]);
  private readonly shown = toSignal(
    combineLatest([toObservable(this.specialId), toObservable(this.draft), toObservable(this.page)]).pipe(
      debounceTime(PAUSE_MS),
      switchMap(([id, draft, page]) =>
        this.api.request('specials.try', { id, body: { ...draft, page } }).pipe(
          map(({ html }) => {
            this.error.set('');
            return html;
          }),
          catchError((error: unknown) => {
            this.error.set(sentenceOf(error));
            return of('');
          }),
        ),
      ),
    ),
    { initialValue: '' },
  );
  /** Our own page from our own server, in a frame that runs no script. */
  protected readonly html = computed(() => this.sanitizer.bypassSecurityTrustHtml(this.shown()));
}
