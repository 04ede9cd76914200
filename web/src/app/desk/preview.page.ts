import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { DomSanitizer } from '@angular/platform-browser';
import { RouterLink } from '@angular/router';

/** The post exactly as readers will see it, on a phone and on a desk. */
@Component({
  imports: [MatButton, RouterLink],
  template: `
    <div class="screen">
      <div class="row bar">
        <a matButton="outlined" [routerLink]="['/posts', id()]">Back to the desk</a>
        <h1>Preview</h1>
        <span class="soft">as readers will see it</span><span style="flex: 1"></span>
        <div class="seg" role="group" aria-label="Width">
          @for (w of widths; track w.label) {
            <button [attr.aria-pressed]="width() === w.px" (click)="width.set(w.px)">{{ w.label }}</button>
          }
        </div>
      </div>
      <iframe
        title="The post as readers will see it"
        [src]="src()"
        [style.max-width.px]="width()"
        sandbox="allow-same-origin"
      ></iframe>
    </div>
  `,
  styles: `
    .bar {
      margin-bottom: 12px;
    }
    iframe {
      display: block;
      width: 100%;
      height: calc(100vh - 190px);
      min-height: 480px;
      margin: 0 auto;
      border: 1px solid var(--line);
      background: var(--sheet);
    }
    .seg {
      display: inline-flex;
      border: 1px solid var(--line);
      border-radius: 4px;
      overflow: hidden;
      background: var(--field);
    }
    .seg button {
      border: 0;
      background: none;
      padding: 5px 11px;
      cursor: pointer;
      outline-offset: -2px;
    }
    .seg [aria-pressed='true'] {
      background: var(--verdigris-wash);
      font-weight: 650;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PreviewPage {
  private readonly sanitizer = inject(DomSanitizer);
  readonly id = input.required<string>();
  protected readonly widths = [
    { label: 'Desk', px: 1240 },
    { label: 'Phone', px: 390 },
  ];
  protected readonly width = signal(1240);
  protected readonly src = computed(() =>
    this.sanitizer.bypassSecurityTrustResourceUrl(`/api/posts/${Number(this.id())}/preview`),
  );
}
