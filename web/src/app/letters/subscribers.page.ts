import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatCheckbox, type MatCheckboxChange } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import { MatProgressBar } from '@angular/material/progress-bar';
import type {
  SubscribersImported,
  SubscribersPage as SubscribersAnswer,
  SubscriberView,
} from '@keyroster/contract';
import { SUBSCRIBER_STATE_NAMES, formatCount, formatShortDate, type SubscriberState } from '@keyroster/core';
import { Subject, catchError, debounceTime, of, switchMap } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { TaskService } from '../api/task.service';
import { inBlog } from '../api/blog-choice';
import { Live } from '../api/live';
import { landRefusal } from '../api/refusals';
import { OutletsHead } from '../outlets/outlets-head';
import { OutletsService } from '../outlets/outlets.service';
import { SiteService } from '../site/site.service';
import { confirm } from '../ui/confirm';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { SwitchField, TextField, isReady, must, textControl } from '../ui/fields';
import { FileButton } from '../ui/file-button';
import { Messages } from '../ui/messages.service';
import { SectionHead } from '../ui/section-head';
import { Saving } from '../changes/saving.service';

const PAUSE_MS = 200;
/** Those who get the letter first. */
const SHOWN_STATES: readonly SubscriberState[] = ['active', 'asked', 'left', 'bounced'];
const HOW = { form: 'on the blog', import: 'from a file', newsroom: 'added here' } as const;

/** The people who get the letter: searched, added, imported and exported; with counts. */
@Component({
  imports: [
    EmptyState,
    ErrorLine,
    FileButton,
    MatButton,
    MatCheckbox,
    MatProgressBar,
    OutletsHead,
    ReactiveFormsModule,
    SectionHead,
    SwitchField,
    TextField,
  ],
  providers: [OutletsService, SiteService, TaskService],
  templateUrl: './subscribers.page.html',
  styles: `
    .columns {
      display: grid;
      grid-template-columns: minmax(0, 3fr) minmax(260px, 1fr);
      gap: 30px;
      align-items: start;
    }
    table {
      width: 100%;
      background: var(--sheet);
      border: 1px solid var(--line);
    }
    th {
      text-align: left;
    }
    th,
    td {
      padding: 5px 10px;
    }
    td {
      overflow-wrap: anywhere;
    }
    td small {
      display: block;
    }
    td:last-child {
      text-align: right;
      white-space: nowrap;
      width: 1%;
    }
    .find {
      max-width: 320px;
    }
    /* As wide as the screen at most; what is wider is moved sideways within it. */
    .columns > * {
      min-width: 0;
      overflow-x: auto;
    }
    td button + button {
      margin-left: 6px;
    }
    .reasons {
      margin: 0 0 10px;
      padding: 0;
      list-style: none;
    }
    .reasons li {
      display: flex;
      justify-content: space-between;
      align-items: baseline;
      gap: 12px;
      padding: 5px 10px;
      background: var(--brass-wash);
      overflow-wrap: anywhere;
    }
    .reasons button {
      flex: none;
    }
    .wrong {
      max-height: 160px;
      overflow: auto;
    }
    aside section + section {
      margin-top: 20px;
    }
    @media (max-width: 900px) {
      .columns {
        grid-template-columns: minmax(0, 1fr);
      }
    }
    /* On a phone a person stands in three lines. */
    @media (max-width: 640px) {
      thead {
        display: none;
      }
      tr,
      td {
        display: block;
      }
      tr {
        border-bottom: 1px solid var(--line);
      }
      td,
      td:last-child {
        width: auto;
        text-align: left;
        border: 0;
        padding: 2px 10px;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SubscribersPage {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly dialogs = inject(MatDialog);
  private readonly messages = inject(Messages);
  protected readonly site = inject(SiteService);
  protected readonly task = inject(TaskService);
  private readonly importEnded = new Subject<void>();
  private readonly session = inject(SessionService);
  protected readonly state = signal<SubscriberState>('active');
  protected readonly words = signal('');
  protected readonly error = signal('');
  protected readonly imported = signal<SubscribersImported | null>(null);
  protected readonly csv = inBlog('/api/subscribers.csv');
  protected readonly form = new FormGroup({
    email: textControl(
      '',
      must((email: string) => email.trim() !== '', 'Say the e-mail address.'),
    ),
    name: textControl(),
  });
  private readonly older = signal<readonly SubscriberView[]>([]);
  private readonly ended = signal<boolean | null>(null);
  private readonly changes = signal(0);
  private readonly asked = computed(() => ({
    state: this.state(),
    q: this.words().trim(),
    changes: this.changes(),
  }));
  protected readonly view = toSignal(
    toObservable(this.asked).pipe(
      debounceTime(PAUSE_MS),
      switchMap(({ state, q }) =>
        this.api.request('subscribers.list', { query: { state, q } }).pipe(
          catchError((error: unknown) => {
            this.error.set(sentenceOf(error));
            return of(null);
          }),
        ),
      ),
    ),
    { initialValue: null },
  );
  protected readonly subscribers = computed(() => {
    const shown = this.view()?.subscribers ?? [];
    const last = shown.at(-1)?.id ?? 0;
    return [...shown, ...this.older().filter((s) => s.id < last)];
  });
  protected readonly more = computed(() => this.ended() ?? this.view()?.more ?? false);
  protected readonly states = computed(() =>
    SHOWN_STATES.map((value) => ({
      value,
      label: `${SUBSCRIBER_STATE_NAMES[value]} ${this.view()?.counts[value] ?? ''}`.trim(),
    })),
  );
  protected readonly reasons = computed(() => this.view()?.reasons ?? []);
  protected readonly countOf = (n: number): string => formatCount(n, 'subscriber');
  protected readonly how = HOW;
  protected readonly said = computed(() => {
    const done = this.imported();
    if (!done) return '';
    return [
      `${formatCount(done.added, 'subscriber')} added.`,
      done.known > 0
        ? `${formatCount(done.known, 'address', 'addresses')} already on the list; not changed.`
        : '',
      done.erased > 0
        ? `${formatCount(done.erased, 'address', 'addresses')} skipped: deleted from the list before.`
        : '',
      done.repeated > 0 ? `${formatCount(done.repeated, 'line')} with an address that came before.` : '',
      done.wrongCount > 0
        ? `${formatCount(done.wrongCount, 'line')} skipped, without an address that can be read:`
        : '',
    ]
      .filter(Boolean)
      .join(' ');
  });

  constructor() {
    inject(Live).whenever(['letter'], () => this.refresh());
  }

  protected readonly day = (at: string): string =>
    formatShortDate(this.session.local(at).slice(0, 10), this.session.today());

  protected show(state: SubscriberState): void {
    this.state.set(state);
    this.refresh();
  }
  private refresh(): void {
    this.older.set([]);
    this.ended.set(null);
    this.changes.update((n) => n + 1);
  }
  protected async showMore(): Promise<void> {
    await this.attempt(async () => {
      const query = { state: this.state(), q: this.words().trim(), before: this.subscribers().at(-1)!.id };
      const next = await this.api.call('subscribers.list', { query });
      this.older.update((older) => [...older, ...next.subscribers]);
      this.ended.set(next.more);
    });
  }

  protected async add(): Promise<void> {
    if (!isReady(this.form)) return;
    const { email, name } = this.form.getRawValue();
    try {
      const body = { email: email.trim(), name: name.trim() };
      const added = await this.api.call('subscribers.add', { body });
      this.form.reset();
      this.error.set('');
      this.refresh();
      this.messages.done(`${added.email} is asked by mail, and is on the list once they say yes.`);
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    }
  }

  protected async bring([file]: File[]): Promise<void> {
    if (!file) return;
    const sure = await confirm(this.dialogs, {
      heading: `Import the subscribers in “${file.name}”?`,
      text: 'They get the letter from now on without being asked again: import only people who agreed to it elsewhere. Those who unsubscribed here, or were deleted, stay off the list.',
      act: 'Import',
    });
    if (!sure) return;
    this.imported.set(null);
    await this.attempt(async () => {
      const done = await this.task.run(this.importEnded, 'subscribers.import', { file });
      if (done === null) this.messages.done('The import was cancelled. Nobody was added.');
      else this.imported.set(done);
      this.refresh();
    });
  }
  protected cancelImport(): void {
    this.importEnded.next();
  }

  protected async unsubscribe(subscriber: SubscriberView): Promise<void> {
    const { email } = subscriber;
    const sure = await confirm(this.dialogs, {
      heading: `Unsubscribe ${email}?`,
      text: 'They get no letter any more. Nobody but they themselves can put them back on it.',
      act: 'Unsubscribe',
      grave: true,
    });
    if (!sure) return;
    await this.attempt(async () => {
      const seen = { ...subscriber, left: subscriber.state === 'left' };
      await this.saving.save('subscribers.change', seen, { left: true });
      this.refresh();
      this.messages.done(`${email} is unsubscribed.`);
    });
  }

  protected async restore({ id, email }: SubscriberView): Promise<void> {
    await this.attempt(async () => {
      await this.api.call('subscribers.restore', { body: { ids: [id] } });
      this.refresh();
      this.messages.done(`${email} gets the letter again.`);
    });
  }

  protected async restoreAll({ reason, subscribers }: SubscribersAnswer['reasons'][number]): Promise<void> {
    const who = formatCount(subscribers, 'subscriber');
    const sure = await confirm(this.dialogs, {
      heading: `Restore ${who}?`,
      text: 'They get the next letter again. Two refusals in a row end a subscription.',
      act: `Restore ${who}`,
    });
    if (!sure) return;
    await this.attempt(async () => {
      const { restored } = await this.api.call('subscribers.restore', { body: { reason } });
      this.refresh();
      this.messages.done(`${formatCount(restored, 'subscriber gets', 'subscribers get')} the letter again.`);
    });
  }

  protected async remove(subscriber: SubscriberView): Promise<void> {
    const { email } = subscriber;
    const sure = await confirm(this.dialogs, {
      heading: `Delete all that is kept of ${email}?`,
      text: 'Only a digest of the address is kept, so that an old file does not put it on the list again. This cannot be undone; they can sign up again themselves.',
      act: 'Delete',
      grave: true,
    });
    if (!sure) return;
    await this.attempt(async () => {
      await this.saving.remove('subscribers.remove', subscriber);
      this.refresh();
      this.messages.done(`${email} is deleted, and is skipped by later imports.`);
    });
  }

  /** The box shows what is so: it changes once the change is kept. */
  protected async set(
    what: 'letter' | 'letterOpens' | 'letterClicks',
    { checked, source }: MatCheckboxChange,
  ): Promise<void> {
    source.checked = !checked;
    if (await this.site.change({ [what]: checked })) this.messages.done('Saved.');
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
