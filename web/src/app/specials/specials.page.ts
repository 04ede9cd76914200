import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { SpecialLine } from '@keyroster/contract';
import { MAX_SPECIAL_TITLE, formatCount, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { landRefusal } from '../api/refusals';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { TextField, isReady, must, textControl } from '../ui/fields';
import { PageHead } from '../ui/page-head';

/** Specials: small sites of their own, built from chosen posts. */
@Component({
  imports: [EmptyState, ErrorLine, MatButton, PageHead, ReactiveFormsModule, RouterLink, TextField],
  templateUrl: './specials.page.html',
  styleUrl: '../planner/side-page.scss',
  styles: `
    .list td:last-child {
      text-align: left;
      white-space: normal;
      overflow-wrap: anywhere;
    }
    td a {
      overflow-wrap: anywhere;
    }
    form {
      display: flex;
      flex-wrap: wrap;
      gap: 0 12px;
      align-items: start;
      max-width: 560px;
    }
    kr-text {
      flex: 1 1 260px;
    }
    form button {
      margin-top: 20px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SpecialsPage {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly session = inject(SessionService);
  protected readonly error = signal('');
  protected readonly specials = signal<readonly SpecialLine[] | null>(null);
  protected readonly max = MAX_SPECIAL_TITLE;
  protected readonly form = new FormGroup({
    title: textControl(
      '',
      must((title: string) => title.trim() !== '', 'A special needs a title.'),
    ),
  });

  constructor() {
    void this.refresh();
    inject(Live).whenever(['special', 'release'], () => this.refresh());
  }

  protected posts({ posts, readable, withdrawn }: SpecialLine): string {
    const others = posts - readable - withdrawn;
    return [
      formatCount(posts, 'post'),
      ...(withdrawn > 0 ? [`${withdrawn} withdrawn`] : []),
      ...(others > 0 ? [`${others} not shown`] : []),
    ].join(', ');
  }
  protected state({ publishedAt }: SpecialLine): string {
    if (publishedAt === null) return 'a draft';
    const day = this.session.local(publishedAt).slice(0, 10);
    return `published ${formatShortDate(day, this.session.today())}`;
  }

  private async refresh(): Promise<void> {
    try {
      this.specials.set(await this.api.call('specials.list', {}));
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  protected async begin(): Promise<void> {
    if (!isReady(this.form)) return;
    try {
      const title = this.form.controls.title.value.trim();
      const { id } = await this.api.call('specials.add', { body: { title } });
      await this.router.navigate(['/archive/specials', id]);
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    }
  }
}
