import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { DomSanitizer } from '@angular/platform-browser';
import { SwitchField } from '../ui/fields';
import { inBlog } from '../api/blog-choice';
import { PageHead } from '../ui/page-head';

/** The post exactly as readers will see it, on a phone and on a desk. */
@Component({
  imports: [SwitchField, PageHead],
  template: `
    <div class="screen">
      <kr-head name="Preview, as readers will see it" [back]="'/posts/' + id()" backName="Back to the post">
        <kr-switch label="Width" [options]="widths" [value]="width()" (changed)="width.set($event)" />
      </kr-head>
      <iframe
        title="The post as readers will see it"
        [src]="src()"
        [style.max-width.px]="width()"
        sandbox="allow-same-origin"
      ></iframe>
    </div>
  `,
  styles: `
    iframe {
      display: block;
      width: 100%;
      height: calc(100vh - 190px);
      min-height: 480px;
      margin: 0 auto;
      border: 1px solid var(--line);
      background: var(--sheet);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PreviewPage {
  private readonly sanitizer = inject(DomSanitizer);
  readonly id = input.required<string>();
  protected readonly widths = [
    { label: 'Desk', value: 1240 },
    { label: 'Phone', value: 390 },
  ];
  protected readonly width = signal(1240);
  protected readonly src = computed(() =>
    this.sanitizer.bypassSecurityTrustResourceUrl(inBlog(`/api/posts/${Number(this.id())}/preview`)),
  );
}
