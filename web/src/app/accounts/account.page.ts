import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule, type ValidatorFn } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { MeChanges, TokenView } from '@keyroster/contract';
import { TOKEN_SCOPES, formatShortDate, type TokenScope } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { confirm } from '../ui/confirm';
import { ErrorLine } from '../ui/error-line';
import { TextField, isReady, must, textControl } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { PageHead } from '../ui/page-head';
import { CopyLine } from '../ui/copy-line';
import { PersonBadge } from '../ui/person-badge';
import { PasswordForm } from './password-form';
import { SessionService } from './session.service';
import { SessionsList } from './sessions-list';

const LABELS: Record<TokenScope, string> = {
  create: 'Bring new drafts',
  update: 'Change posts',
  delete: 'Put posts in the bin, and take them out',
  media: 'Add pictures',
};
const box = (on: boolean) => new FormControl(on, { nonNullable: true });
const someScope: ValidatorFn = ({ value }) =>
  TOKEN_SCOPES.some((s) => (value as Record<string, boolean>)[s])
    ? null
    : { sentence: 'Tick at least one thing that the key may do.' };

/** What a person decides for themselves: mail, and keys for programs that bring drafts. */
@Component({
  imports: [
    MatButton,
    MatCheckbox,
    ReactiveFormsModule,
    TextField,
    CopyLine,
    ErrorLine,
    PageHead,
    PersonBadge,
    PasswordForm,
    RouterLink,
    SessionsList,
  ],
  templateUrl: './account.page.html',
  styleUrl: '../planner/side-page.scss',
  styles: `
    .sheet > .soft {
      margin-bottom: 10px;
    }
    .wrong {
      color: var(--madder);
    }
    fieldset mat-checkbox {
      display: block;
    }
    legend {
      font-weight: 600;
      padding: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AccountPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly dialogs = inject(MatDialog);
  protected readonly scopes = TOKEN_SCOPES.map((scope) => ({ scope, label: LABELS[scope] }));
  protected readonly endpoint = signal('');
  protected readonly tokens = signal<TokenView[]>([]);
  /** Known only for the key that was just made here. */
  protected readonly secret = signal('');
  protected readonly error = signal('');
  protected readonly form = new FormGroup(
    {
      name: textControl(
        '',
        must((name: string) => name.trim() !== '', 'Say what the key is for.'),
      ),
      create: box(true),
      update: box(false),
      delete: box(false),
      media: box(true),
    },
    someScope,
  );
  protected readonly short = (at: string) => formatShortDate(this.session.local(at), this.session.today());

  constructor() {
    void this.refresh();
  }

  protected wishMail(mailMentions: boolean): Promise<void> {
    return this.wish({ mailMentions });
  }
  protected wishComments(mailComments: boolean): Promise<void> {
    return this.wish({ mailComments });
  }
  private wish(body: MeChanges): Promise<void> {
    return this.tried(async () => {
      await this.api.call('me.change', { body });
      await this.session.refresh();
    });
  }

  protected async make(): Promise<void> {
    if (!isReady(this.form)) return;
    const { name, ...ticked } = this.form.getRawValue();
    await this.tried(async () => {
      const scopes = TOKEN_SCOPES.filter((s) => ticked[s]);
      const made = await this.api.call('tokens.make', { body: { name: name.trim(), scopes } });
      this.secret.set(made.secret);
      this.form.reset();
    });
    await this.refresh();
  }

  protected async end(token: TokenView): Promise<void> {
    const sure = await confirm(this.dialogs, {
      heading: `End the key “${token.name}”?`,
      text: 'A program that uses it can do nothing here any more. Posts that it brought stay.',
      act: 'End the key',
      grave: true,
    });
    if (!sure) return;
    await this.tried(async () => {
      await this.api.call('tokens.revoke', { id: token.id });
      if (token.mine) this.secret.set('');
      this.messages.done(`The key “${token.name}” has ended.`);
    });
    await this.refresh();
  }

  private async tried(what: () => Promise<void>): Promise<void> {
    try {
      this.error.set('');
      await what();
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  private async refresh(): Promise<void> {
    const list = await this.api.call('tokens.list', {}).catch(() => null);
    if (!list) return;
    this.endpoint.set(list.endpoint);
    this.tokens.set(list.tokens);
  }
}
