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
  type OutletProtocol,
  type Shape,
} from '@keyroster/core';
import { ChoiceField, ClockField, FieldSet, NumberField, TextField, wordChoices } from '../ui/fields';
import { watchUnsaved } from '../ui/unsaved';
import { OutletsService } from './outlets.service';

const PROTOCOLS: { protocol: OutletProtocol; name: string; address: string; hint: string }[] = [
  {
    protocol: 'micropub',
    name: 'Micropub: we post to it',
    address: 'Micropub endpoint',
    hint: 'https://…, as the outlet’s help or its page’s head names it',
  },
  {
    protocol: 'mail',
    name: 'Mail: it takes letters',
    address: 'The list’s e-mail address',
    hint: 'letters go to the list, which hands them on',
  },
  {
    protocol: 'feed',
    name: 'Feed: it fetches from us',
    address: 'Hub to tell (WebSub)',
    hint: 'may be left empty; then it fetches when it likes',
  },
  {
    protocol: 'webhook',
    name: 'Webhook: we send it a signed message',
    address: 'Address of the webhook',
    hint: 'signed after Standard Webhooks',
  },
];
const USUAL_PROTOCOL: Record<OutletKind, OutletProtocol> = {
  'short-post network': 'micropub',
  'picture network': 'micropub',
  'professional network': 'micropub',
  newsletter: 'mail',
  'partner site': 'feed',
  'shop’s news page': 'webhook',
  special: 'feed',
};
const fresh = (): NewOutlet => ({
  name: '',
  kind: 'short-post network',
  protocol: 'micropub',
  address: '',
  settings: {},
  limits: USUAL_LIMITS['short-post network'],
  voice: '',
  knowsKeys: false,
});

/** An outlet: what it is, how pieces reach it, what it takes, how it speaks. */
@Component({
  selector: 'kr-outlet-form',
  imports: [ChoiceField, ClockField, FieldSet, MatButton, MatCheckbox, NumberField, TextField],
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
  protected readonly kinds = wordChoices(OUTLET_KINDS);
  protected readonly protocols = PROTOCOLS.map(({ protocol, name }) => ({ value: protocol, label: name }));
  protected readonly units = LENGTH_UNITS.map((value) => ({
    value,
    label: value === 'graphemes' ? 'characters' : value,
  }));
  protected readonly shapes = SHAPE_NAMES;
  protected readonly draft = signal<NewOutlet>(fresh());
  private readonly first = signal('');
  protected readonly user = signal('');
  protected readonly secret = signal('');
  protected readonly error = signal('');
  protected readonly tried = signal('');
  /** Nothing else is asked while a change is on its way: the answer would be about the outlet as it was. */
  protected readonly busy = signal(false);
  protected readonly how = computed(() => PROTOCOLS.find((p) => p.protocol === this.draft().protocol)!);
  protected readonly changed = computed(
    () => JSON.stringify(this.draft()) !== this.first() || this.secret() !== '' || this.user() !== '',
  );
  protected readonly kept = computed(() => (this.outlet()?.hasCredentials ? 'kept; type to replace' : ''));

  constructor() {
    watchUnsaved(() => this.manages() && this.changed());
    effect(() => {
      const o = this.outlet();
      untracked(() => {
        const draft: NewOutlet = o
          ? {
              name: o.name,
              kind: o.kind,
              protocol: o.protocol,
              address: o.address,
              settings: o.settings,
              limits: o.limits,
              voice: o.voice,
              knowsKeys: o.knowsKeys,
            }
          : fresh();
        // What is being typed is not lost when the list comes anew.
        if (this.first() !== '' && this.changed() && JSON.stringify(draft) === this.first()) return;
        this.draft.set(draft);
        this.first.set(JSON.stringify(draft));
        this.user.set('');
        this.secret.set('');
        this.error.set('');
      });
    });
  }

  protected set(part: Partial<NewOutlet>): void {
    this.draft.update((d) => ({ ...d, ...part }));
  }
  protected setting(part: NewOutlet['settings']): void {
    this.set({ settings: { ...this.draft().settings, ...part } });
  }
  protected limit(part: Partial<OutletLimits>): void {
    this.set({ limits: { ...this.draft().limits, ...part } });
  }
  protected length(max: number | null): void {
    this.limit({
      length: max === null ? null : { unit: 'graphemes', linkCost: null, ...this.draft().limits.length, max },
    });
  }
  protected quiet(end: 'from' | 'until', time: string): void {
    const now = this.draft().limits.quiet;
    this.limit({ quiet: time === '' ? null : { from: '22:00', until: '07:00', ...now, [end]: time } });
  }
  protected shape(shape: Shape): void {
    const { shapes } = this.draft().limits;
    this.limit({
      shapes: shapes.includes(shape)
        ? shapes.filter((s) => s !== shape)
        : SHAPE_NAMES.filter((s) => s === shape || shapes.includes(s)),
    });
  }

  /** Another kind brings its usual limits and protocol, as long as those were not touched. */
  protected kind(kind: OutletKind): void {
    const { limits, kind: before, protocol } = this.draft();
    const untouched = JSON.stringify(limits) === JSON.stringify(USUAL_LIMITS[before]);
    this.set({
      kind,
      ...(untouched ? { limits: USUAL_LIMITS[kind] } : {}),
      ...(this.outlet() === null && protocol === USUAL_PROTOCOL[before]
        ? { protocol: USUAL_PROTOCOL[kind] }
        : {}),
    });
  }

  protected async try(id: number): Promise<void> {
    this.tried.set('Asking …');
    this.busy.set(true);
    this.tried.set(await this.outlets.try(id));
    this.busy.set(false);
  }

  protected async store(): Promise<void> {
    const d = this.draft();
    if (d.name.trim() === '') return this.error.set('Give it a name.');
    if (d.limits.shapes.length === 0) return this.error.set('Choose at least one picture shape.');
    const credentials =
      d.protocol === 'mail'
        ? {
            ...(this.user() ? { user: this.user().trim() } : {}),
            ...(this.secret() ? { password: this.secret() } : {}),
          }
        : this.secret()
          ? { token: this.secret().trim() }
          : {};
    this.busy.set(true);
    const stored = await this.outlets.store(this.outlet()?.id ?? null, {
      ...d,
      name: d.name.trim(),
      ...(Object.keys(credentials).length > 0 ? { credentials } : {}),
    });
    this.busy.set(false);
    this.error.set(stored ? '' : this.outlets.error());
    this.outlets.error.set('');
    if (!stored) return;
    this.first.set(JSON.stringify(this.draft()));
    this.secret.set('');
    this.user.set('');
    this.tried.set('Saved.');
    this.stored.emit(stored);
  }
}
