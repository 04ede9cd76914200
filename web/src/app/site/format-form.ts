import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { MatOption } from '@angular/material/core';
import { MatSelect } from '@angular/material/select';
import { MatFormField } from '@angular/material/form-field';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatButton } from '@angular/material/button';
import type { FormatView } from '@keyroster/contract';
import {
  FIELD_KINDS,
  FIELD_KIND_NAMES,
  errorOfFields,
  type FieldKind,
  type FormatField,
} from '@keyroster/core';
import equal from 'fast-deep-equal';
import { Api, sentenceOf } from '../api/api';
import { FieldSet, TextField } from '../ui/fields';
import { watchUnsaved } from '../ui/unsaved';

/** One format: its name, its fields with their kinds, and the text posts start from. */
@Component({
  selector: 'kr-format-form',
  imports: [MatOption, MatSelect, MatFormField, MatCheckbox, MatButton, TextField, FieldSet],
  templateUrl: './format-form.html',
  styleUrl: './format-form.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FormatForm {
  private readonly api = inject(Api);
  readonly format = input.required<FormatView | null>();
  readonly editable = input(true);
  readonly stored = output<FormatView>();
  readonly closed = output();
  protected readonly fields = linkedSignal<FormatField[]>(() => this.format()?.fields ?? []);
  protected readonly name = linkedSignal(() => this.format()?.name ?? '');
  protected readonly hint = linkedSignal(() => this.format()?.hint ?? '');
  protected readonly starterText = linkedSignal(() => this.format()?.starterText ?? '');
  protected readonly kinds = FIELD_KINDS;
  protected readonly kindNames: Record<FieldKind, string> = FIELD_KIND_NAMES;
  protected readonly error = signal('');
  protected readonly busy = signal(false);
  private readonly keys = computed(() => new Set(this.fields().map((f) => f.key)));

  constructor() {
    watchUnsaved(() => this.editable() && this.isChanged());
  }

  private isChanged(): boolean {
    const f = this.format();
    return (
      this.name() !== (f?.name ?? '') ||
      this.hint() !== (f?.hint ?? '') ||
      this.starterText() !== (f?.starterText ?? '') ||
      !equal(this.fields(), f?.fields ?? [])
    );
  }

  protected split(text: string): string[] {
    return text
      .split(',')
      .map((c) => c.trim())
      .filter(Boolean);
  }
  protected put(i: number, change: Partial<FormatField>): void {
    this.fields.update((fields) => fields.map((f, at) => (at === i ? { ...f, ...change } : f)));
  }
  protected add(): void {
    let n = this.fields().length + 1;
    while (this.keys().has(`field-${n}`)) n++;
    this.fields.update((fields) => [
      ...fields,
      { key: `field-${n}`, label: '', kind: 'line', required: false, hint: '', choices: [] },
    ]);
    setTimeout(() =>
      document.querySelector<HTMLInputElement>('kr-format-form tbody tr:last-child input')?.focus(),
    );
  }
  protected remove(i: number): void {
    this.fields.update((fields) => fields.filter((_, at) => at !== i));
  }
  protected move(i: number, by: -1 | 1): void {
    this.fields.update((fields) => {
      const next = [...fields];
      [next[i], next[i + by]] = [next[i + by]!, next[i]!];
      return next;
    });
  }

  protected async store(): Promise<void> {
    const [name, hint, starterText] = [this.name(), this.hint(), this.starterText()];
    const fields = this.fields().map((f) => ({
      ...f,
      label: f.label.trim(),
      choices: f.kind === 'choice' ? f.choices : [],
    }));
    const error = name.trim() === '' ? 'A format needs a name.' : errorOfFields(fields);
    if (error) return this.error.set(error);
    const body = { name: name.trim(), hint: hint.trim(), fields, starterText };
    await this.act(() => {
      const f = this.format();
      return f ? this.api.call('formats.change', { id: f.id, body }) : this.api.call('formats.add', { body });
    });
  }

  protected retire(f: FormatView): Promise<void> {
    return this.act(() => this.api.call('formats.change', { id: f.id, body: { retired: !f.retired } }));
  }

  private async act(what: () => Promise<FormatView>): Promise<void> {
    this.busy.set(true);
    try {
      this.stored.emit(await what());
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
