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
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import type { TemplateView } from '@keyroster/contract';
import { landRefusal } from '../api/refusals';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { FieldSet, TextField, isReady, must, textControl } from '../ui/fields';
import { watchUnsaved } from '../ui/unsaved';
import { Saving } from '../changes/saving.service';

/** A template: its name, and the text that a post begins with. */
@Component({
  selector: 'kr-template-form',
  imports: [TwoValues, ErrorLine, FieldSet, MatButton, ReactiveFormsModule, TextField],
  template: `
    <form [formGroup]="form" (ngSubmit)="store()" novalidate>
      <kr-error [of]="error()" />
      <fieldset [off]="!editable()">
        <kr-text label="Name" [max]="80" formControlName="name" />
        <kr-text label="Text, as Markdown" rows="9" [max]="100000" formControlName="text" />
      </fieldset>
      <kr-two-values [of]="merge" />
      @if (editable()) {
        <p class="row">
          <button matButton="filled" class="small" type="submit">Save</button
          ><button matButton="outlined" class="small refuse" type="button" (click)="removed.emit()">
            Remove
          </button>
        </p>
      }
    </form>
  `,
  styles: `
    fieldset {
      border: 0;
      margin: 0;
      padding: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TemplateForm {
  private readonly saving = inject(Saving);
  readonly of = input.required<TemplateView>();
  readonly editable = input(false);
  readonly stored = output<string>();
  readonly removed = output();
  protected readonly form = new FormGroup({
    name: textControl(
      '',
      must((name: string) => name.trim() !== '', 'A template needs a name.'),
    ),
    text: textControl(),
  });
  protected readonly error = signal('');

  protected readonly merge = new FormMerge<{ name: string; text: string }>(this.form, {
    labels: { name: 'Name', text: 'Text' },
  });
  private shown: number | null = null;

  constructor() {
    watchUnsaved(() => this.merge.isUnsaved());
    effect(() => {
      const { id, name, text } = this.of();
      untracked(() =>
        id === this.shown ? this.merge.meet({ name, text }) : this.merge.open({ name, text }),
      );
      this.shown = id;
    });
  }

  protected async store(): Promise<void> {
    if (!isReady(this.form)) return;
    if (this.merge.mustChoose()) return;
    const sent = this.form.getRawValue();
    const { name, text } = sent;
    const body = { name: name.trim(), text };
    try {
      await this.saving.save('templates.change', this.of(), body);
      this.merge.saved(sent);
      this.error.set('');
      this.stored.emit(body.name);
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    }
  }
}
