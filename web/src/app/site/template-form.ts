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
import { Api } from '../api/api';
import { landRefusal } from '../api/refusals';
import { ErrorLine } from '../ui/error-line';
import { FieldSet, TextField, isReady, must, textControl } from '../ui/fields';
import { watchUnsaved } from '../ui/unsaved';

/** A template: its name, and the text that a post begins with. */
@Component({
  selector: 'kr-template-form',
  imports: [ErrorLine, FieldSet, MatButton, ReactiveFormsModule, TextField],
  template: `
    <form [formGroup]="form" (ngSubmit)="store()" novalidate>
      <kr-error [of]="error()" />
      <fieldset [off]="!editable()">
        <kr-text label="Name" [max]="80" formControlName="name" />
        <kr-text label="Text, as Markdown" rows="9" [max]="100000" formControlName="text" />
      </fieldset>
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
  private readonly api = inject(Api);
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

  constructor() {
    watchUnsaved(() => this.form.dirty);
    effect(() => {
      const { name, text } = this.of();
      // What is being typed is not lost when the list comes anew.
      untracked(() => this.form.dirty || this.form.reset({ name, text }));
    });
  }

  protected async store(): Promise<void> {
    if (!isReady(this.form)) return;
    const { name, text } = this.form.getRawValue();
    const body = { name: name.trim(), text };
    try {
      await this.api.call('templates.change', { id: this.of().id, body });
      this.form.markAsPristine();
      this.error.set('');
      this.stored.emit(body.name);
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    }
  }
}
