import {
  ChangeDetectionStrategy,
  Component,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import type { CampaignView, OutletView } from '@keyroster/contract';
import { MAX_CAMPAIGN_ABOUT, MAX_CAMPAIGN_NAME } from '@keyroster/core';
import { Api } from '../api/api';
import { landRefusal } from '../api/refusals';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { DateField, TextField, isReady, must, textControl } from '../ui/fields';
import { SectionHead } from '../ui/section-head';
import { watchUnsaved } from '../ui/unsaved';
import { AtRoot } from '../api/root';
import { Saving } from '../changes/saving.service';

/** What a campaign is: its name, days, outlets that everything in it goes to, and its pictures. */
@Component({
  selector: 'kr-campaign-form',
  imports: [
    AtRoot,
    DateField,
    TwoValues,
    ErrorLine,
    MatButton,
    MatCheckbox,
    ReactiveFormsModule,
    SectionHead,
    TextField,
  ],
  template: `
    <form [formGroup]="form" (ngSubmit)="save()" novalidate>
      <kr-section name="The campaign" />
      <kr-error [of]="error()" />
      <kr-text label="Name" [max]="max.name" formControlName="name" />
      <kr-text label="What it is for" rows="3" [max]="max.about" formControlName="about" />
      <div class="two">
        <kr-date label="First day" formControlName="from" />
        <kr-date label="Last day" formControlName="until" />
      </div>
      <p class="label">Everything in it goes to</p>
      @for (o of outlets(); track o.id) {
        <mat-checkbox [checked]="has(o.id)" (change)="tick(o.id, $event.checked)">{{ o.name }}</mat-checkbox>
      } @empty {
        <p class="soft">There is no outlet yet.</p>
      }
      <kr-two-values [of]="merge" />
      <p class="row">
        <button matButton="filled" type="submit" [disabled]="!form.dirty">Save</button
        ><button matButton="outlined" class="refuse" type="button" (click)="removed.emit()">
          Delete the campaign
        </button>
      </p>
    </form>
    @if (campaign().pictures.length > 0) {
      <kr-section name="Pictures" [count]="campaign().pictures.length" />
      <ul>
        @for (p of campaign().pictures; track p.id) {
          <li><img [src]="'/media/' + p.id | atRoot" [alt]="p.alt || 'A picture without words to it'" /></li>
        }
      </ul>
    }
  `,
  styles: `
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 10px;
    }
    .label {
      font-weight: 600;
      font-size: 12px;
      margin: 0 0 2px;
    }
    mat-checkbox {
      display: block;
    }
    ul {
      list-style: none;
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(90px, 1fr));
      gap: 8px;
      margin: 6px 0 0;
      padding: 0;
    }
    img {
      width: 100%;
      aspect-ratio: 4/3;
      object-fit: cover;
      display: block;
      border: 1px solid var(--line);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CampaignForm {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  readonly campaign = input.required<CampaignView>();
  readonly kept = output<CampaignView>();
  readonly removed = output();
  protected readonly error = signal('');
  protected readonly outlets = signal<readonly OutletView[]>([]);
  protected readonly max = { name: MAX_CAMPAIGN_NAME, about: MAX_CAMPAIGN_ABOUT };
  protected readonly form = new FormGroup({
    name: textControl(
      '',
      must((name: string) => name.trim() !== '', 'A campaign needs a name.'),
    ),
    about: textControl(),
    from: textControl(),
    until: textControl(),
    outletIds: new FormControl<readonly number[]>([], { nonNullable: true }),
  });
  private shown = 0;
  /** What is in the form was made upon this; somebody's change since must not be gone over. */
  protected readonly merge = new FormMerge<ReturnType<typeof this.form.getRawValue>>(this.form, {
    labels: {
      name: 'Name',
      about: 'What it is for',
      from: 'First day',
      until: 'Last day',
      outletIds: 'Outlets',
    },
    say: {
      outletIds: (ids) =>
        ids
          .map((id) => `“${this.outlets().find((o) => o.id === id)?.name ?? 'a closed outlet'}”`)
          .join(', ') || 'none',
    },
  });

  constructor() {
    watchUnsaved(() => this.merge.isUnsaved());
    void this.api.call('outlets.list', {}).then(
      (all) => this.outlets.set(all.filter((o) => !o.closed)),
      () => undefined,
    );
    effect(() => {
      const { id, name, about, from, until, outletIds } = this.campaign();
      untracked(() => {
        const values = { name, about, from: from ?? '', until: until ?? '', outletIds };
        if (id === this.shown) this.merge.meet(values);
        else this.merge.open(values);
        this.shown = id;
      });
    });
  }

  protected has(id: number): boolean {
    return this.form.controls.outletIds.value.includes(id);
  }
  protected tick(id: number, on: boolean): void {
    const { outletIds } = this.form.controls;
    outletIds.setValue(on ? [...outletIds.value, id] : outletIds.value.filter((o) => o !== id));
    outletIds.markAsDirty();
  }

  protected async save(): Promise<void> {
    if (!isReady(this.form)) return;
    if (this.merge.mustChoose()) return;
    const sent = this.form.getRawValue();
    const { name, about, from, until, outletIds } = sent;
    try {
      const body = {
        ...{ name: name.trim(), about: about.trim(), outletIds },
        ...{ from: from || null, until: until || null },
      };
      const saved = await this.saving.save('campaigns.change', this.campaign(), body);
      this.merge.saved(sent);
      this.error.set('');
      this.kept.emit(saved);
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    }
  }
}
