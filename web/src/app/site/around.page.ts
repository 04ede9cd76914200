import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { readTheme, type Surroundings } from '@keyroster/core';
import { EmptyState } from '../ui/empty-state';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { TextField, isReady, must, textControl } from '../ui/fields';
import { FileButton } from '../ui/file-button';
import { Messages } from '../ui/messages.service';
import { SectionHead } from '../ui/section-head';
import { watchUnsaved } from '../ui/unsaved';
import { SiteHead } from './site-head';
import { SiteService } from './site.service';

/** The blog as a part of somebody else's site: its theme file, and where within it the blog stands. */
@Component({
  imports: [
    MatButton,
    ReactiveFormsModule,
    EmptyState,
    TwoValues,
    ErrorLine,
    FileButton,
    TextField,
    SectionHead,
    SiteHead,
  ],
  providers: [SiteService],
  templateUrl: './around.page.html',
  styleUrl: './menu.page.scss',
  styles: `
    .swatches {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 14px;
      margin: 8px 0;
      i {
        display: inline-block;
        width: 18px;
        height: 14px;
        border: 1px solid var(--line);
        vertical-align: -2px;
        margin-right: 5px;
      }
    }
    pre {
      background: var(--sheet);
      border: 1px solid var(--line);
      padding: 9px 11px;
      overflow: auto;
      white-space: pre-wrap;
    }
    dl {
      display: grid;
      grid-template-columns: auto 1fr;
      gap: 3px 12px;
    }
    dt {
      color: var(--soft);
    }
    dd {
      margin: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AroundPage {
  protected readonly service = inject(SiteService);
  private readonly messages = inject(Messages);
  protected readonly form = new FormGroup({
    host: textControl(
      '',
      must(
        (host: string) => /^[a-z0-9.-]{1,253}(?::\d{1,5})?$/i.test(host.trim()),
        'A host, such as shop.example or shop.example:8080.',
      ),
    ),
    path: textControl(
      '',
      must(
        (path: string) => /^(?:\/[a-z0-9]+(?:-[a-z0-9]+)*){0,4}$/.test(path.trim()),
        'A path, such as /journal.',
      ),
    ),
  });
  /** A theme file that was chosen and is not saved yet. */
  private readonly chosen = signal<{ text: string; theme: Surroundings } | null>(null);
  protected readonly misread = signal('');
  protected readonly shown = computed(() => this.chosen()?.theme ?? this.service.site()?.around ?? null);
  protected readonly colours = computed(() => Object.entries(this.shown()?.colours ?? {}));
  protected readonly labels = (links: Surroundings['header']): string =>
    links.map((l) => l.label).join(', ') || 'none';
  protected readonly hint = computed(() => {
    const around = this.service.site()?.around;
    return around
      ? `location ${around.mount.path}/ {\n  proxy_pass ${location.origin};\n  proxy_set_header Host ${around.mount.host};\n}`
      : '';
  });

  protected readonly merge = new FormMerge<{ host: string; path: string }>(this.form, {
    labels: { host: 'Host', path: 'Path' },
  });

  constructor() {
    watchUnsaved(() => this.merge.isUnsaved() || this.chosen() !== null);
    effect(() => {
      const site = this.service.site();
      if (!site) return;
      untracked(() => this.merge.meet(site.around?.mount ?? { host: '', path: '/journal' }));
    });
  }

  protected async openTheme(files: readonly File[]): Promise<void> {
    const text = (await files[0]?.text()) ?? '';
    const read = readTheme(text);
    this.misread.set(read.ok ? '' : read.sentence);
    this.chosen.set(read.ok ? { text, theme: read.theme } : null);
  }

  protected async save(): Promise<void> {
    if (!isReady(this.form)) return;
    if (this.merge.mustChoose()) return;
    const sent = this.form.getRawValue();
    const { host, path } = sent;
    const mount = { host: host.trim().toLowerCase(), path: path.trim() };
    if (!(await this.service.setAround(this.chosen()?.text ?? null, mount))) return;
    this.chosen.set(null);
    this.merge.saved(sent);
    this.messages.done('Saved. The blog stands in that site now.');
  }

  protected async remove(): Promise<void> {
    if (!(await this.service.setAround(null, null))) return;
    this.chosen.set(null);
    this.form.markAsPristine();
    this.messages.done('The blog stands in no other site any more. Its own address is as it was.');
  }
}
