import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatCheckbox, type MatCheckboxChange } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import type { MembersPage as View, MemberView } from '@keyroster/contract';
import { formatCount, formatShortDate } from '@keyroster/core';
import { catchError, debounceTime, of, switchMap } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { confirm } from '../ui/confirm';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { TextField } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { SectionHead } from '../ui/section-head';
import { SiteHead } from './site-head';
import { SiteService } from './site.service';

const PAUSE_MS = 200;

/** Readers who signed up: whether new ones are taken, who they are, and shutting somebody out. */
@Component({
  imports: [EmptyState, ErrorLine, MatButton, MatCheckbox, SectionHead, SiteHead, TextField],
  providers: [SiteService],
  templateUrl: './members.page.html',
  styleUrl: './menu.page.scss',
  styles: `
    table {
      width: 100%;
      background: var(--sheet);
      border: 1px solid var(--line);
    }
    th {
      text-align: left;
    }
    td small {
      display: block;
    }
    td {
      overflow-wrap: anywhere;
    }
    td:last-child {
      text-align: right;
      white-space: nowrap;
      width: 1%;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MembersPage {
  protected readonly service = inject(SiteService);
  private readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly dialogs = inject(MatDialog);
  private readonly messages = inject(Messages);
  protected readonly words = signal('');
  protected readonly error = signal('');
  private readonly changes = signal(0);
  private readonly asked = computed(() => ({ q: this.words().trim(), changes: this.changes() }));
  protected readonly view = toSignal(
    toObservable(this.asked).pipe(
      debounceTime(PAUSE_MS),
      switchMap(({ q }) =>
        this.api.request('members.list', { query: { q } }).pipe(
          catchError((error: unknown) => {
            this.error.set(sentenceOf(error));
            return of(null);
          }),
        ),
      ),
    ),
    { initialValue: null as View | null },
  );
  protected readonly more = computed(() => {
    const view = this.view();
    const rest = view ? view.count - view.members.length : 0;
    return rest > 0 ? `And ${formatCount(rest, 'more', 'more')}: find them by their address.` : '';
  });
  protected readonly day = (at: string): string =>
    formatShortDate(this.session.local(at).slice(0, 10), this.session.today());

  /** The box shows what is so: it changes once the change is kept. */
  protected async open({ checked, source }: MatCheckboxChange): Promise<void> {
    source.checked = !checked;
    if (await this.service.change({ members: checked }))
      this.messages.done(checked ? 'Readers can sign up now.' : 'Nobody new is taken any more.');
  }

  protected async block({ id, email, blocked }: MemberView): Promise<void> {
    await this.attempt(async () => {
      await this.api.call('members.change', { id, body: { blocked: !blocked } });
      this.messages.done(blocked ? `${email} can sign in again.` : `${email} is signed out and blocked.`);
    });
  }

  protected async remove({ id, email }: MemberView): Promise<void> {
    const sure = await confirm(this.dialogs, {
      heading: 'Delete this member?',
      text: `All that is kept of ${email} goes, and where they are in serials. This cannot be undone; they can sign up again.`,
      act: 'Delete',
      grave: true,
    });
    if (sure)
      await this.attempt(async () => {
        await this.api.call('members.remove', { id });
        this.messages.done(`${email} is deleted.`);
      });
  }

  private async attempt(act: () => Promise<void>): Promise<void> {
    try {
      await act();
      this.error.set('');
      this.changes.update((n) => n + 1);
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
