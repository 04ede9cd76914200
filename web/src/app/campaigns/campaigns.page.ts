import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { Router } from '@angular/router';
import type { CampaignLine, CampaignView } from '@keyroster/contract';
import { formatCount, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { Saving } from '../changes/saving.service';
import { confirm } from '../ui/confirm';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { TextField, isReady, must, textControl } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { PageHead } from '../ui/page-head';
import { CampaignForm } from './campaign-form';
import { CampaignTime } from './campaign-time';

/** Campaigns: posts and pieces that belong to one push, in time; what is missing, and what came of it. */
@Component({
  imports: [
    CampaignForm,
    CampaignTime,
    EmptyState,
    ErrorLine,
    MatButton,
    PageHead,
    ReactiveFormsModule,
    TextField,
  ],
  templateUrl: './campaigns.page.html',
  styleUrl: '../planner/side-page.scss',
  styles: `
    .columns {
      grid-template-columns: minmax(180px, 230px) minmax(0, 1fr);
    }
    .slots span {
      display: block;
    }
    .whole {
      display: grid;
      grid-template-columns: minmax(0, 5fr) minmax(0, 3fr);
      gap: 26px;
      align-items: start;
    }
    @media (max-width: 900px) {
      .columns,
      .whole {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CampaignsPage {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly dialogs = inject(MatDialog);
  private readonly messages = inject(Messages);
  private readonly router = inject(Router);
  private readonly session = inject(SessionService);
  /** From the address: the campaign that is open. */
  readonly campaign = input<string>();
  protected readonly error = signal('');
  protected readonly lines = signal<readonly CampaignLine[] | null>(null);
  protected readonly view = signal<CampaignView | null>(null);
  protected readonly openId = computed(() => Number(this.campaign()) || (this.lines()?.[0]?.id ?? 0));
  protected readonly form = new FormGroup({
    name: textControl(
      '',
      must((name: string) => name.trim() !== '', 'Give it a name.'),
    ),
  });

  constructor() {
    void this.refresh();
    inject(Live).whenever(['outlet', 'post', 'release'], () => this.refresh());
  }

  protected facts({ posts, out, lacks }: CampaignLine): string {
    return [
      formatCount(posts, 'post'),
      `${out} out`,
      ...(lacks > 0 ? [`${formatCount(lacks, 'thing')} missing`] : []),
    ].join(', ');
  }
  protected days({ from, until }: CampaignLine): string {
    const day = (date: string) => formatShortDate(date, this.session.today());
    if (from && until) return `${day(from)} to ${day(until)}`;
    return from ? `from ${day(from)}` : until ? `until ${day(until)}` : '';
  }

  protected async refresh(): Promise<void> {
    await this.attempt(async () => {
      this.lines.set(await this.api.call('campaigns.list', {}));
      await this.show(this.openId());
    });
  }
  private async show(id: number): Promise<void> {
    this.view.set(id === 0 ? null : await this.api.call('campaigns.see', { id }));
  }

  protected async open(id: number): Promise<void> {
    await this.router.navigate([], { queryParams: { campaign: id } });
    await this.attempt(() => this.show(id));
  }

  protected async begin(): Promise<void> {
    if (!isReady(this.form)) return;
    const name = this.form.controls.name.value.trim();
    await this.attempt(async () => {
      const made = await this.api.call('campaigns.add', { body: { name } });
      this.form.reset();
      await this.router.navigate([], { queryParams: { campaign: made.id } });
      await this.refresh();
    });
  }

  protected async kept(view: CampaignView): Promise<void> {
    this.view.set(view);
    this.messages.done('Saved.');
    await this.refresh();
  }

  protected async put(postId: number, campaign: string): Promise<void> {
    await this.attempt(async () => {
      const { version } = await this.api.call('posts.see', { id: postId });
      await this.api.call('posts.change', { id: postId, body: { campaign }, ifMatch: version });
      await this.refresh();
    });
  }

  protected async remove(campaign: CampaignView): Promise<void> {
    const { name } = campaign;
    const sure = await confirm(this.dialogs, {
      heading: `Delete “${name}”?`,
      text: 'Its posts stay as they are and are in no campaign then; pieces that were made stay.',
      act: 'Delete the campaign',
      grave: true,
    });
    if (!sure) return;
    await this.attempt(async () => {
      await this.saving.remove('campaigns.remove', campaign);
      await this.router.navigate([], { queryParams: {} });
      this.view.set(null);
      this.lines.set(await this.api.call('campaigns.list', {}));
      await this.show(this.lines()?.[0]?.id ?? 0);
      this.messages.done(`“${name}” is deleted; its posts are in no campaign now.`);
    });
  }

  private async attempt(act: () => Promise<void>): Promise<void> {
    try {
      await act();
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
