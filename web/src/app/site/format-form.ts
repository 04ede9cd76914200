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
import { FormArray, FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatButton, MatIconButton } from '@angular/material/button';
import type { FormatView } from '@keyroster/contract';
import {
  FIELD_KINDS,
  FIELD_KIND_NAMES,
  errorOfFields,
  type FieldKind,
  type FormatField,
} from '@keyroster/core';
import { Api } from '../api/api';
import { landRefusal } from '../api/refusals';
import { FieldSet, TextField, ChoiceField, isReady, must, textControl } from '../ui/fields';
import { watchUnsaved } from '../ui/unsaved';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import { SectionHead } from '../ui/section-head';
import { Saving } from '../changes/saving.service';

const split = (text: string): string[] =>
  text
    .split(',')
    .map((choice) => choice.trim())
    .filter(Boolean);
const fieldControls = ({ key, label, kind, required, hint, choices }: FormatField) =>
  new FormGroup({
    key: textControl(key),
    label: textControl(label),
    kind: new FormControl<FieldKind>(kind, { nonNullable: true }),
    required: new FormControl(required, { nonNullable: true }),
    hint: textControl(hint),
    choices: textControl(choices.join(', ')),
  });

type FormatValues = ReturnType<FormatForm['form']['getRawValue']>;

/** One format: its name, its fields with their kinds, and the text posts start from. */
@Component({
  selector: 'kr-format-form',
  imports: [
    MatCheckbox,
    MatButton,
    TextField,
    FieldSet,
    TwoValues,
    ErrorLine,
    ChoiceField,
    ReactiveFormsModule,
    MatIconButton,
    MatIcon,
    MatTooltip,
    SectionHead,
  ],
  templateUrl: './format-form.html',
  styleUrl: './format-form.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FormatForm {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  readonly format = input.required<FormatView | null>();
  readonly editable = input(true);
  readonly stored = output<FormatView>();
  readonly closed = output();
  readonly form = new FormGroup({
    name: textControl(
      '',
      must((name: string) => name.trim() !== '', 'A format needs a name.'),
    ),
    hint: textControl(),
    starterText: textControl(),
    fields: new FormArray<ReturnType<typeof fieldControls>>([]),
  });
  protected readonly kinds = FIELD_KINDS;
  protected readonly kindNames: Record<FieldKind, string> = FIELD_KIND_NAMES;
  protected readonly error = signal('');
  protected readonly busy = signal(false);
  /** The number of the field that was just added, which is typed into next. */
  protected readonly newest = signal(0);

  protected readonly merge = new FormMerge<FormatValues>(this.form, {
    labels: { name: 'Name', hint: 'In a sentence', starterText: 'Starter text', fields: 'Fields' },
    draw: { fields: (fields) => this.drawFields(fields) },
    say: { fields: (fields) => fields.map((f) => `“${f.label}”`).join(', ') || 'empty' },
  });

  constructor() {
    watchUnsaved(() => this.editable() && this.merge.isUnsaved());
    effect(() => {
      const f = this.format();
      untracked(() => {
        const values = {
          ...{ name: f?.name ?? '', hint: f?.hint ?? '', starterText: f?.starterText ?? '' },
          fields: (f?.fields ?? []).map((field) => fieldControls(field).getRawValue()),
        };
        // The same format comes again when it was retired, or changed by somebody else.
        if (f && f.id === this.drawn) this.merge.meet(values);
        else this.merge.open(values);
        this.drawn = f?.id;
      });
    });
  }

  private drawn: number | undefined;

  private drawFields(values: FormatValues['fields']): void {
    const { fields } = this.form.controls;
    fields.clear();
    for (const { choices, ...field } of values)
      fields.push(fieldControls({ ...field, choices: split(choices) }));
  }

  protected add(): void {
    const { fields } = this.form.controls;
    const keys = new Set(fields.controls.map((f) => f.value.key));
    let n = fields.length + 1;
    while (keys.has(`field-${n}`)) n++;
    fields.push(
      fieldControls({ key: `field-${n}`, label: '', kind: 'line', required: false, hint: '', choices: [] }),
    );
    this.form.markAsDirty();
    this.newest.set(n);
  }
  protected remove(i: number): void {
    this.form.controls.fields.removeAt(i);
    this.form.markAsDirty();
  }
  protected move(i: number, by: -1 | 1): void {
    const { fields } = this.form.controls;
    const field = fields.at(i);
    fields.removeAt(i, { emitEvent: false });
    fields.insert(i + by, field);
    this.form.markAsDirty();
  }

  protected async store(): Promise<void> {
    if (!isReady(this.form)) return;
    if (this.merge.mustChoose()) return;
    const sent = this.form.getRawValue();
    const { name, hint, starterText, fields: rows } = sent;
    const fields = rows.map(({ choices, ...f }) => ({
      ...f,
      label: f.label.trim(),
      choices: f.kind === 'choice' ? split(choices) : [],
    }));
    const error = errorOfFields(fields);
    if (error) return this.error.set(error);
    const body = { name: name.trim(), hint: hint.trim(), fields, starterText };
    await this.act(async () => {
      const f = this.format();
      const kept = await (f
        ? this.saving.save('formats.change', f, body)
        : this.api.call('formats.add', { body }));
      this.merge.saved(sent);
      return kept;
    });
  }

  protected retire(f: FormatView): Promise<void> {
    return this.act(() => this.saving.save('formats.change', f, { retired: !f.retired }));
  }

  private async act(what: () => Promise<FormatView>): Promise<void> {
    this.busy.set(true);
    try {
      const kept = await what();
      this.error.set('');
      this.stored.emit(kept);
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    } finally {
      this.busy.set(false);
    }
  }
}
