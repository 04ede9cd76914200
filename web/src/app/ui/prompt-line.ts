import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { firstValueFrom } from 'rxjs';
import { TextField, isReady, must, textControl } from './fields';
import { watchDialog } from './unsaved';

export interface LinePrompt {
  /** Heading of the dialog. */
  about: string;
  /** Name of the field. */
  label: string;
  value: string;
  max: number;
  /** Words on the button. */
  done: string;
  hint?: string;
}

/** Asks for one line of text. */
@Component({
  imports: [MatButton, MatDialogModule, ReactiveFormsModule, TextField],
  template: `
    <form class="dialog" [formGroup]="form" (ngSubmit)="close()" novalidate>
      <h2>{{ data.about }}</h2>
      <kr-text first [label]="data.label" [hint]="data.hint ?? ''" [max]="data.max" formControlName="line" />
      <div class="ends">
        <button type="button" matButton="outlined" mat-dialog-close>Cancel</button
        ><button matButton="filled" type="submit">{{ data.done }}</button>
      </div>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PromptLine {
  protected readonly data = inject<LinePrompt>(MAT_DIALOG_DATA);
  private readonly dialog = inject<MatDialogRef<PromptLine, string>>(MatDialogRef);
  protected readonly form = new FormGroup({
    line: textControl(
      this.data.value,
      must((line: string) => line.trim() !== '', `${this.data.label} is empty.`),
    ),
  });

  constructor() {
    watchDialog(this.dialog, () => this.form.dirty);
  }

  protected close(): void {
    if (!isReady(this.form)) return;
    this.form.markAsPristine();
    this.dialog.close(this.form.getRawValue().line.trim());
  }
}

/** The line that was typed, trimmed and not empty; undefined when the dialog was left. */
export function promptLine(dialogs: MatDialog, data: LinePrompt): Promise<string | undefined> {
  return firstValueFrom(
    dialogs
      .open<PromptLine, LinePrompt, string>(PromptLine, {
        data,
        width: '440px',
        maxWidth: '94vw',
        ariaLabel: data.about,
      })
      .afterClosed(),
  );
}
