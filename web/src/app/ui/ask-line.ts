import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { firstValueFrom } from 'rxjs';
import { TextField } from './fields';

export interface LineAsked {
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
  imports: [MatButton, MatDialogModule, TextField],
  template: `
    <form class="dialog" (submit)="close($event, line.value().trim())" novalidate>
      <h2>{{ data.about }}</h2>
      @if (error()) {
        <p class="error" role="alert">{{ error() }}</p>
      }
      <kr-text #line [label]="data.label" [hint]="data.hint ?? ''" [max]="data.max" [value]="data.value" />
      <div class="ends">
        <button type="button" matButton="outlined" mat-dialog-close>Cancel</button
        ><button matButton="filled" type="submit">{{ data.done }}</button>
      </div>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AskLine {
  protected readonly data = inject<LineAsked>(MAT_DIALOG_DATA);
  private readonly dialog = inject<MatDialogRef<AskLine, string>>(MatDialogRef);
  protected readonly error = signal('');

  protected close(event: Event, line: string): void {
    event.preventDefault();
    if (line === '') this.error.set(`${this.data.label} is empty.`);
    else this.dialog.close(line);
  }
}

/** The line that was typed, trimmed and not empty; undefined when the dialog was left. */
export function askLine(dialogs: MatDialog, data: LineAsked): Promise<string | undefined> {
  return firstValueFrom(
    dialogs
      .open<AskLine, LineAsked, string>(AskLine, {
        data,
        width: '440px',
        maxWidth: '94vw',
        ariaLabel: data.about,
      })
      .afterClosed(),
  );
}
