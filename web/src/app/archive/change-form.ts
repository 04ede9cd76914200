import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatOption } from '@angular/material/core';
import { MatSelect } from '@angular/material/select';
import { MatFormField } from '@angular/material/form-field';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatButton } from '@angular/material/button';
import { STAGES, type BatchChange, type ReplacePlace, errorOfValue, formatValueOf } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { ArchiveService } from './archive.service';

type Kind = BatchChange['kind'];
const KINDS: { kind: Kind; name: string }[] = [
  { kind: 'byline', name: 'Byline becomes …' },
  { kind: 'category', name: 'Category becomes …' },
  { kind: 'second category', name: 'Second category becomes …' },
  { kind: 'tags', name: 'Tags gain or lose …' },
  { kind: 'tags become', name: 'Tags become …' },
  { kind: 'tags merge', name: 'Tags merge …' },
  { kind: 'categories merge', name: 'Categories merge …' },
  { kind: 'stage', name: 'Stage becomes …' },
  { kind: 'shift', name: 'Run times move by …' },
  { kind: 'spread', name: 'Run times go to open slots …' },
  { kind: 'access', name: 'Who may read …' },
  { kind: 'comments', name: 'Comments open or close …' },
  { kind: 'spotlight', name: 'Spotlight …' },
  { kind: 'campaign', name: 'Campaign becomes …' },
  { kind: 'format field', name: 'A format’s field becomes …' },
  { kind: 'replace', name: 'Find and replace …' },
  { kind: 'lighten', name: 'Lead pictures lightened …' },
  { kind: 'bin', name: 'To the bin' },
];
const PLACES: ReplacePlace[] = ['title', 'excerpt', 'text', 'slug'];

/** Puts one change together. */
@Component({
  selector: 'kr-change-form',
  imports: [MatOption, MatSelect, MatFormField, MatCheckbox, MatButton],
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
    small {
      color: var(--soft);
      display: block;
    }
    .ticks {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 14px;
      margin-bottom: 8px;
    }
    .ticks label {
      display: flex;
      gap: 5px;
      align-items: center;
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
  protected readonly kinds = KINDS;
  protected readonly places = PLACES;
  protected readonly stages = STAGES.filter((s) => s !== 'published');
  protected readonly now = signal<Kind | null>(null);
  protected readonly first = signal(true);
  protected readonly value = signal('');
  protected readonly other = signal('');
  protected readonly where = signal<ReadonlySet<ReplacePlace>>(new Set(['title', 'text']));
  protected readonly capitals = signal(true);
  protected readonly pattern = signal(false);
  protected readonly error = signal('');
  protected readonly today = signal(this.session.today());
  protected readonly categories = computed(() =>
    (this.session.blog()?.categories ?? []).filter((c) => this.session.isDeskFor(c.id)),
  );

  protected begin(kind: Kind | ''): void {
    this.now.set(kind || null);
    this.value.set(kind === 'spread' ? this.today() : kind === 'lighten' ? '400' : '');
    this.other.set('');
    this.error.set('');
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
    const [kind, value, other] = [this.now()!, this.value(), this.other()];
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
        return value ? { kind, to: value as 'everyone' | 'staff' } : 'Choose who may read.';
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
                places: PLACES.filter((p) => this.where().has(p)),
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
