import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ReactiveFormsModule } from '@angular/forms';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatButton } from '@angular/material/button';
import type { NewOutlet, OutletView } from '@keyroster/contract';
import {
  LENGTH_UNITS,
  OUTLET_KINDS,
  SHAPE_NAMES,
  USUAL_LIMITS,
  type OutletKind,
  type OutletLimits,
  type Shape,
} from '@keyroster/core';
import equal from 'fast-deep-equal';
import { pairwise, startWith } from 'rxjs';
import { landRefusal } from '../api/refusals';
import { ChoiceField, ClockField, FieldSet, NumberField, TextField, isReady } from '../ui/fields';
import { watchUnsaved } from '../ui/unsaved';
import { OutletsService } from './outlets.service';
import { PlaceFigures } from '../results/place-figures';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { unitName } from './format-piece';
import {
  PROTOCOLS,
  USUAL_PROTOCOL,
  OUTLET_LABELS,
  flat,
  fresh,
  outletControls,
  partsOf,
  type OutletValues,
} from './outlet-controls';

/** An outlet: what it is, how pieces reach it, what it takes, how it speaks. */
@Component({
  selector: 'kr-outlet-form',
  imports: [
    ChoiceField,
    ClockField,
    FieldSet,
    MatButton,
    MatCheckbox,
    NumberField,
    PlaceFigures,
    TextField,
    TwoValues,
    ErrorLine,
    ReactiveFormsModule,
  ],
  templateUrl: './outlet-form.html',
  styles: `
    form {
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 4px;
      padding: 14px 18px;
    }
    fieldset {
      border: 0;
      margin: 10px 0 0;
      padding: 0;
      min-width: 0;
    }
    .by-length {
      display: contents;
    }
    .grid {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 0 12px;
    }
    .four {
      grid-template-columns: repeat(4, minmax(0, 1fr));
    }
    .wide {
      grid-column: 1 / -1;
    }
    h3 {
      font: 650 12px var(--sans);
      margin: 12px 0 6px;
    }
    .tick {
      display: flex;
      gap: 6px;
      align-items: baseline;
      flex-wrap: wrap;
      cursor: pointer;
    }
    .tick small {
      display: block;
      color: var(--soft);
    }
    .ticks {
      gap: 6px 16px;
      margin-bottom: 10px;
    }
    .grow {
      flex: 1;
    }
    @media (max-width: 620px) {
      .grid,
      .four {
        grid-template-columns: 1fr 1fr;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OutletForm {
  protected readonly outlets = inject(OutletsService);
  readonly outlet = input<OutletView | null>(null);
  readonly manages = input(false);
  readonly closed = output();
  readonly stored = output<OutletView>();
  protected readonly kinds = OUTLET_KINDS;
  protected readonly protocols = PROTOCOLS.map(({ protocol, name }) => ({ value: protocol, label: name }));
  protected readonly units = LENGTH_UNITS.map((value) => ({ value, label: unitName(value) }));
  protected readonly shapes = SHAPE_NAMES;
  protected readonly form = outletControls();
  private readonly now = signal('');
  protected readonly error = signal('');
  protected readonly tried = signal('');
  /** Nothing else is asked while a change is on its way: the answer would be about the outlet as it was. */
  protected readonly busy = signal(false);
  protected readonly changed = computed(() => this.now() !== '' && this.merge.isUnsaved());
  private shown: number | null | undefined;
  protected readonly kept = computed(() => (this.outlet()?.hasCredentials ? 'kept; type to replace' : ''));

  protected readonly merge = new FormMerge<OutletValues>(this.form, { labels: OUTLET_LABELS });

  constructor() {
    watchUnsaved(() => this.manages() && this.changed());
    this.form.valueChanges
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.now.set(JSON.stringify(this.form.getRawValue())));
    // Another kind brings its usual limits and protocol, as long as those were not touched.
    this.form.controls.kind.valueChanges
      .pipe(startWith(this.form.controls.kind.value), pairwise(), takeUntilDestroyed())
      .subscribe(([before, kind]) => this.usual(before, kind));
    effect(() => {
      const o = this.outlet();
      untracked(() => {
        if (this.shown === undefined || (o?.id ?? null) !== this.shown) return this.draw(o ?? fresh());
        // A list that comes again takes nothing away that is being typed.
        if (o) this.merge.meet(flat(o));
      });
    });
  }

  protected how(): (typeof PROTOCOLS)[number] {
    return PROTOCOLS.find((p) => p.protocol === this.form.controls.protocol.value)!;
  }

  private draw(outlet: NewOutlet): void {
    this.shown = this.outlet()?.id ?? null;
    this.merge.open(flat(outlet));
    this.now.set(JSON.stringify(this.form.getRawValue()));
    this.error.set('');
  }

  private usual(before: OutletKind, kind: OutletKind): void {
    const { protocol } = this.form.controls;
    if (equal(this.limits(), USUAL_LIMITS[before])) this.form.patchValue(partsOf(USUAL_LIMITS[kind]));
    if (this.outlet() === null && protocol.value === USUAL_PROTOCOL[before])
      protocol.setValue(USUAL_PROTOCOL[kind]);
  }

  private limits(): OutletLimits {
    const v = this.form.getRawValue();
    return {
      length: v.length === null ? null : { max: v.length, unit: v.unit, linkCost: v.linkCost },
      links: v.links,
      tags: v.tags ?? 0,
      shapes: v.shapes,
      pictureBytes: v.pictureKb === null ? null : v.pictureKb * 1000,
      perHour: v.perHour,
      perDay: v.perDay,
      quiet: v.quietFrom && v.quietUntil ? { from: v.quietFrom, until: v.quietUntil } : null,
    };
  }

  private read(): NewOutlet {
    const { name, kind, protocol, address, host, port, from, voice, knowsKeys, ...v } =
      this.form.getRawValue();
    const mail = protocol === 'mail';
    const credentials = {
      ...(mail && v.user ? { user: v.user.trim() } : {}),
      ...(v.secret && protocol !== 'feed'
        ? mail
          ? { password: v.secret }
          : { token: v.secret.trim() }
        : {}),
    };
    return {
      name: name.trim(),
      kind,
      protocol,
      address: address.trim(),
      settings: mail
        ? { ...(host ? { host: host.trim() } : {}), port: port ?? 587, ...(from ? { from } : {}) }
        : {},
      limits: this.limits(),
      voice,
      knowsKeys,
      ...(Object.keys(credentials).length > 0 ? { credentials } : {}),
    };
  }

  /** Quiet hours have two ends: who gives one is offered the usual other, who takes one away takes both. */
  protected quiet(time: string): void {
    const { quietFrom, quietUntil } = this.form.controls;
    if (time === '') this.form.patchValue({ quietFrom: '', quietUntil: '' });
    else if (!quietFrom.value) quietFrom.setValue('22:00');
    else if (!quietUntil.value) quietUntil.setValue('07:00');
  }

  protected shape(shape: Shape): void {
    const { shapes } = this.form.controls;
    const had = shapes.value;
    shapes.setValue(
      had.includes(shape)
        ? had.filter((s) => s !== shape)
        : SHAPE_NAMES.filter((s) => s === shape || had.includes(s)),
    );
    shapes.markAsTouched();
  }

  protected async try(id: number): Promise<void> {
    this.tried.set('Asking …');
    this.busy.set(true);
    this.tried.set(await this.outlets.try(id));
    this.busy.set(false);
  }

  protected async store(): Promise<void> {
    if (!isReady(this.form)) return;
    if (this.merge.mustChoose()) return;
    this.busy.set(true);
    const sent = this.merge.values();
    try {
      const stored = await this.outlets.store(this.outlet(), this.read());
      this.merge.saved(sent, flat(stored));
      this.now.set(JSON.stringify(this.form.getRawValue()));
      this.error.set('');
      this.tried.set('Saved.');
      this.stored.emit(stored);
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    } finally {
      this.busy.set(false);
    }
  }
}
