import { ChangeDetectionStrategy, Component, effect, inject, input, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import type { PreviewLinkView } from '@keyroster/contract';
import { formatCount, formatShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { CopyLine } from '../ui/copy-line';
import { ErrorLine } from '../ui/error-line';
import { NumberField, TextField } from '../ui/fields';
import { Messages } from '../ui/messages.service';

const DAYS = 7;

/** Links by which people outside see the post as it stands, before it is out. */
@Component({
  selector: 'kr-preview-links',
  imports: [CopyLine, ErrorLine, MatButton, NumberField, ReactiveFormsModule, TextField],
  template: `
    <div role="group" aria-label="Links for people outside">
      <p class="label">For people outside, before it is out</p>
      <kr-error [of]="error()" />
      <ul>
        @for (link of links(); track link.id) {
          <li>
            <span
              >{{ link.label || 'Somebody' }}
              <small class="soft"
                >until {{ day(link.expiresAt) }}, opened {{ times(link.opened) }}</small
              ></span
            >
            <button
              matButton="outlined"
              class="small"
              type="button"
              [attr.aria-label]="'Revoke the link for ' + (link.label || 'somebody')"
              (click)="revoke(link)"
            >
              Revoke
            </button>
          </li>
        }
      </ul>
      @if (address()) {
        <kr-copy label="The link, shown this once" what="the link" [text]="address()" />
      }
      <form [formGroup]="form" (ngSubmit)="make()" novalidate>
        <kr-text label="For whom" [max]="120" formControlName="label" />
        <kr-number label="Days" [min]="1" [max]="60" formControlName="days" />
        <button matButton="outlined" type="submit">Make a link</button>
      </form>
    </div>
  `,
  styles: `
    :host {
      display: block;
      margin-bottom: 12px;
    }
    .label {
      font-weight: 600;
      font-size: 12px;
      margin: 0 0 4px;
    }
    ul {
      list-style: none;
      margin: 0 0 8px;
      padding: 0;
    }
    li {
      display: flex;
      justify-content: space-between;
      align-items: center;
      gap: 8px;
      border-bottom: 1px solid var(--hair);
      padding: 4px 0;
    }
    small {
      display: block;
    }
    form {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 72px;
      gap: 0 8px;
    }
    form button {
      grid-column: 1 / -1;
      justify-self: start;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PreviewLinks {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly messages = inject(Messages);
  readonly postId = input.required<number>();
  protected readonly links = signal<readonly PreviewLinkView[]>([]);
  protected readonly address = signal('');
  protected readonly error = signal('');
  protected readonly form = new FormGroup({
    label: new FormControl('', { nonNullable: true }),
    days: new FormControl<number | null>(DAYS),
  });
  protected readonly day = (at: string): string =>
    formatShortDate(this.session.local(at).slice(0, 10), this.session.today());
  protected readonly times = (n: number): string => (n === 0 ? 'not yet' : formatCount(n, 'time'));

  constructor() {
    effect(() => {
      const id = this.postId();
      this.address.set('');
      void this.attempt(async () => this.links.set(await this.api.call('previewLinks.list', { id })));
    });
  }

  protected async make(): Promise<void> {
    if (this.form.invalid) return;
    const { label, days } = this.form.getRawValue();
    await this.attempt(async () => {
      const body = { label: label.trim(), days: days ?? DAYS };
      const made = await this.api.call('previewLinks.add', { id: this.postId(), body });
      this.links.update((links) => [...links, made.link]);
      this.address.set(made.address);
      this.form.reset({ label: '', days: DAYS });
    });
  }

  protected async revoke(link: PreviewLinkView): Promise<void> {
    await this.attempt(async () => {
      await this.api.call('previewLinks.remove', { id: link.id });
      this.links.update((links) => links.filter((l) => l.id !== link.id));
      this.address.set('');
      this.messages.done('The link leads nowhere any more.');
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
