import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import type { InviteMade, InviteView } from '@keyroster/contract';
import { ROLES, formatShortDate, type Role } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { landRefusal } from '../api/refusals';
import { Live } from '../api/live';
import { CopyLine } from '../ui/copy-line';
import { ErrorLine } from '../ui/error-line';
import { ChoiceField, TextField } from '../ui/fields';
import { SectionHead } from '../ui/section-head';
import { watchUnsaved } from '../ui/unsaved';

/** Invitations to the newsroom: made here, mailed or copied, taken back. */
@Component({
  selector: 'kr-invites',
  imports: [MatButton, ReactiveFormsModule, CopyLine, ErrorLine, ChoiceField, TextField, SectionHead],
  templateUrl: './invites.html',
  styles: `
    :host {
      display: block;
      margin: 22px 0;
    }
    form {
      display: grid;
      grid-template-columns: repeat(3, minmax(0, 1fr)) auto;
      gap: 0 12px;
      align-items: start;
      button {
        margin-top: 20px;
      }
    }
    ul {
      list-style: none;
      margin: 8px 0;
      padding: 0;
    }
    li {
      display: flex;
      gap: 12px;
      align-items: center;
      border-bottom: 1px solid var(--hair);
      padding: 4px 0;
    }
    li span:nth-last-child(2) {
      margin-left: auto;
    }
    @media (max-width: 900px) {
      form {
        grid-template-columns: minmax(0, 1fr);
      }
      li {
        flex-wrap: wrap;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Invites {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  protected readonly roles = ROLES;
  protected readonly invites = signal<InviteView[]>([]);
  /** Known only for the one that was just made here. */
  protected readonly made = signal<InviteMade | null>(null);
  protected readonly error = signal('');
  protected readonly form = new FormGroup({
    name: new FormControl('', { nonNullable: true }),
    email: new FormControl('', { nonNullable: true }),
    role: new FormControl<Role>('contributor', { nonNullable: true }),
  });
  protected readonly short = (at: string) => formatShortDate(this.session.local(at), this.session.today());

  constructor() {
    watchUnsaved(() => this.form.dirty);
    void this.refresh();
    inject(Live).whenever(['people'], () => this.refresh());
  }

  protected state(invite: InviteView): string {
    if (invite.state === 'used') return 'came in';
    return invite.state === 'expired' ? 'expired' : `open until ${this.short(invite.expiresAt)}`;
  }

  protected async invite(): Promise<void> {
    try {
      this.made.set(
        await this.api.call('invites.make', { body: { ...this.form.getRawValue(), categories: [] } }),
      );
      this.form.reset();
      this.error.set('');
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    }
    await this.refresh();
  }

  protected async revoke(invite: InviteView): Promise<void> {
    try {
      await this.api.call('invites.revoke', { id: invite.id });
      if (this.made()?.id === invite.id) this.made.set(null);
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
    await this.refresh();
  }

  private async refresh(): Promise<void> {
    this.invites.set(await this.api.call('invites.list', {}).catch(() => this.invites()));
  }
}
