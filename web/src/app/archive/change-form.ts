import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatButton } from '@angular/material/button';
import {
  errorOfValue,
  formatValueOf,
  placeLabel,
  REPLACE_PLACES,
  type Access,
  type BatchChange,
  type ReplacePlace,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import {
  ChoiceField,
  DateField,
  NumberField,
  SuggestField,
  TextField,
  choicesFrom,
  type Choice,
} from '../ui/fields';
import { ArchiveService } from './archive.service';
import { CHANGE_KINDS, PARTS, type ChangeKind, type Offer, type Part } from './change-parts';
import { ErrorLine } from '../ui/error-line';

/** Puts one change together. */
@Component({
  selector: 'kr-change-form',
  imports: [ChoiceField, DateField, MatButton, MatCheckbox, NumberField, SuggestField, TextField, ErrorLine],
  templateUrl: './change-form.html',
  styles: `
    :host {
      display: block;
    }
    form {
      border: 1px solid var(--line);
      border-radius: 4px;
      padding: 10px;
      background: var(--field);
      margin-bottom: 8px;
    }
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 8px;
    }
    .ticks {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 14px;
      margin-bottom: 8px;
    }
    .ends {
      margin-top: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChangeForm {
  protected readonly archive = inject(ArchiveService);
  protected readonly session = inject(SessionService);
  readonly added = output<BatchChange>();
  protected readonly kinds = CHANGE_KINDS;
  protected readonly places = REPLACE_PLACES;
  protected readonly placeLabel = placeLabel;
  protected readonly now = signal<ChangeKind | null>(null);
  protected readonly first = signal(true);
  protected readonly values = signal<readonly [string, string]>(['', '']);
  protected readonly where = signal<ReadonlySet<ReplacePlace>>(new Set(['title', 'text']));
  protected readonly capitals = signal(true);
  protected readonly pattern = signal(false);
  protected readonly error = signal('');
  private readonly asked = computed(() => {
    const kind = this.now();
    return kind === null ? null : PARTS[kind];
  });
  protected readonly hint = computed(() => this.asked()?.hint ?? '');
  /** The fields that are asked for, with what stands in them and what they offer to choose. */
  protected readonly parts = computed(() =>
    (this.asked()?.parts ?? [])
      .map((part, at) => ({ ...part, at, value: this.values()[at] ?? '', choices: this.choices(part) }))
      .filter((part) => !part.when || part.when === this.values()[0]),
  );
  protected readonly twoShort = computed(
    () => this.parts().length === 2 && this.parts().every((p) => p.as === 'number' || p.as === 'date'),
  );

  private choices({ offer, none }: Part): Choice<string>[] {
    if (!offer) return [];
    const choices = typeof offer === 'string' ? this.offered(offer) : offer;
    return none ? [...choices, { value: 'none', label: none }] : choices;
  }

  private offered(offer: Offer): Choice<string>[] {
    const byId = (list: readonly { id: number; name: string }[]) =>
      choicesFrom(list).map(({ value, label }) => ({ value: String(value), label }));
    const all = this.session.blog()?.categories ?? [];
    switch (offer) {
      case 'people':
        return byId(this.archive.names().people);
      case 'categories':
        return byId(all.filter((c) => this.session.isDeskFor(c.id)));
      case 'all categories':
        return byId(all);
      case 'tags':
        return byId(this.archive.names().tags);
      case 'campaigns':
        return (this.archive.names().filter['campaign'] ?? []).map((name) => ({ value: name, label: name }));
      case 'format fields':
        return this.archive
          .formats()
          .flatMap((f) =>
            f.fields.map((x) => ({ value: `${f.id} ${x.key}`, label: `${f.name}: ${x.label}` })),
          );
    }
  }

  protected readonly names = (choices: readonly Choice<string>[]) => choices.map((c) => c.label);

  protected begin(kind: ChangeKind | null): void {
    const [a, b] = kind === null ? [] : PARTS[kind].parts;
    const start = (text: string | undefined) => (text === 'today' ? this.session.today() : (text ?? ''));
    this.values.set([start(a?.start), start(b?.start)]);
    this.error.set('');
  }

  protected put(at: number, text: string): void {
    this.values.update(([a, b]) => (at === 0 ? [text, b] : [a, text]));
  }

  protected toggle(place: ReplacePlace): void {
    this.where.update((all) => {
      const next = new Set(all);
      if (!next.delete(place)) next.add(place);
      return next;
    });
  }

  protected done(): void {
    const change = this.change();
    if (typeof change === 'string') return this.error.set(change);
    this.added.emit(change);
    this.now.set(null);
    this.first.set(false);
  }

  /** The change as it stands, or what is missing. */
  private change(): BatchChange | string {
    const kind = this.now()!;
    const [value, other] = this.values();
    const id = value === 'none' ? null : Number(value);
    switch (kind) {
      case 'byline':
        return value ? { kind, to: id } : 'Choose a person.';
      case 'category':
        return value ? { kind, to: Number(value) } : 'Choose a category.';
      case 'second category':
        return value ? { kind, to: id } : 'Choose a category.';
      case 'tags': {
        const [gain, lose] = [this.tagIds(value), this.tagIds(other)];
        if (typeof gain === 'string') return gain;
        if (typeof lose === 'string') return lose;
        return gain.length + lose.length > 0 ? { kind, gain, lose } : 'Type a tag to gain or to lose.';
      }
      case 'tags become': {
        const to = this.tagIds(value);
        return typeof to === 'string' ? to : { kind, to };
      }
      case 'stage':
        return value
          ? { kind, to: value as never, ...(other.trim() ? { note: other.trim() } : {}) }
          : 'Choose a stage.';
      case 'shift': {
        const [days, minutes] = [Math.trunc(Number(value)), Math.trunc(Number(other))];
        return days || minutes ? { kind, days, minutes } : 'Say by how much.';
      }
      case 'spread':
        return value ? { kind, from: value } : 'Choose a first day.';
      case 'access':
        return value ? { kind, to: value as Access } : 'Choose who may read.';
      case 'comments':
        return value ? { kind, to: value === 'open' } : 'Choose open or closed.';
      case 'spotlight': {
        const [from, until] = [value || other, other || value];
        return from === ''
          ? { kind, to: null }
          : from <= until
            ? { kind, to: { from, until } }
            : 'It would end before it begins.';
      }
      case 'campaign':
        return { kind, to: value.trim() };
      case 'format field':
        return this.formatField(value, other);
      case 'replace':
        return value === ''
          ? 'Say what is to be found.'
          : this.where().size === 0
            ? 'Choose where to look.'
            : {
                kind,
                places: REPLACE_PLACES.filter((p) => this.where().has(p)),
                find: value,
                with: other,
                pattern: this.pattern(),
                capitals: this.capitals(),
              };
      case 'tags merge': {
        const [from, into] = [this.tagIds(value), this.tagIds(other)];
        if (typeof from === 'string') return from;
        if (typeof into === 'string') return into;
        return from.length === 0
          ? 'Type the tags to merge.'
          : into.length !== 1
            ? 'Type the one tag they become.'
            : { kind, from: from.filter((t) => t !== into[0]), into: into[0]! };
      }
      case 'categories merge':
        return !value || !other
          ? 'Choose both categories.'
          : value === other
            ? 'A category cannot merge into itself.'
            : { kind, from: [Number(value)], into: Number(other) };
      case 'lighten': {
        const kb = Math.trunc(Number(value));
        return kb >= 50 && kb <= 10_000 ? { kind, max: kb * 1000 } : 'Say between 50 and 10,000 kB.';
      }
      case 'bin':
        return { kind };
    }
  }

  private tagIds(names: string): number[] | string {
    const ids: number[] = [];
    for (const name of names
      .split(',')
      .map((n) => n.trim())
      .filter(Boolean)) {
      const tag = this.archive.names().tags.find((t) => t.name.toLowerCase() === name.toLowerCase());
      if (!tag) return `There is no tag “${name}” on this blog. Make it on a post first.`;
      ids.push(tag.id);
    }
    return [...new Set(ids)];
  }

  private formatField(value: string, typed: string): BatchChange | string {
    const [formatId, key = ''] = [Number(value.split(' ')[0]), value.split(' ')[1]];
    const field = this.archive
      .formats()
      .find((f) => f.id === formatId)
      ?.fields.find((x) => x.key === key);
    if (!field) return 'Choose a field.';
    const to = formatValueOf(field, typed);
    return errorOfValue(field, to ?? undefined) ?? { kind: 'format field', formatId, key, to };
  }
}
