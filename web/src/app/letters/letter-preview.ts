import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { DomSanitizer } from '@angular/platform-browser';
import { catchError, of, switchMap } from 'rxjs';
import { Api, sentenceOf } from '../api/api';
import { ErrorLine } from '../ui/error-line';
import { SwitchField } from '../ui/fields';
import { SectionHead } from '../ui/section-head';

/** A letter as its recipients get it: on a desk, on a phone, and in plain words. */
@Component({
  selector: 'kr-letter-preview',
  imports: [ErrorLine, SectionHead, SwitchField],
  template: `
    <section>
      <kr-section name="As it arrives" />
      <kr-error [of]="error()" />
      <kr-switch label="Shown" [options]="ways" [value]="way()" (changed)="way.set($event)" />
      @if (preview(); as p) {
        <p class="subject"><span class="soft">Subject</span> {{ p.subject || 'none yet' }}</p>
        @if (way() === 'text') {
          <pre tabindex="0" aria-label="The letter in plain words">{{ p.text }}</pre>
        } @else {
          <iframe
            title="The letter as it arrives"
            sandbox=""
            [class.phone]="way() === 'phone'"
            [srcdoc]="html()"
          ></iframe>
        }
      }
    </section>
  `,
  styles: `
    .subject {
      margin: 8px 0;
      font: 560 17px/1.3 var(--serif);
      overflow-wrap: anywhere;
    }
    .subject .soft {
      font: 600 12px var(--sans);
    }
    iframe,
    pre {
      display: block;
      box-sizing: border-box;
      width: 100%;
      height: 560px;
      margin: 0;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: #fff;
    }
    .phone {
      width: min(100%, 390px);
    }
    pre {
      padding: 14px;
      overflow: auto;
      white-space: pre-wrap;
      overflow-wrap: anywhere;
      background: var(--sheet);
      font-size: 12.5px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LetterPreview {
  private readonly api = inject(Api);
  private readonly sanitizer = inject(DomSanitizer);
  readonly letterId = input.required<number>();
  /** Checked again when it changes. */
  readonly version = input.required<number>();
  protected readonly error = signal('');
  protected readonly way = signal<'desk' | 'phone' | 'text'>('desk');
  protected readonly ways = [
    { value: 'desk' as const, label: 'Desk' },
    { value: 'phone' as const, label: 'Phone' },
    { value: 'text' as const, label: 'Plain text' },
  ];
  private readonly asked = computed(() => ({ id: this.letterId(), version: this.version() }));
  protected readonly preview = toSignal(
    toObservable(this.asked).pipe(
      switchMap(({ id }) =>
        this.api.request('letters.preview', { id }).pipe(
          catchError((error: unknown) => {
            this.error.set(sentenceOf(error));
            return of(null);
          }),
        ),
      ),
    ),
    { initialValue: null },
  );
  /** Shown in a frame that runs nothing and leads nowhere, so that it may keep its styles. */
  protected readonly html = computed(() =>
    this.sanitizer.bypassSecurityTrustHtml(this.preview()?.html ?? ''),
  );
}
