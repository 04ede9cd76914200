import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, type MatDialogRef } from '@angular/material/dialog';
import { firstValueFrom } from 'rxjs';

export interface Question {
  heading: string;
  /** What will happen, and how it can be undone. */
  text: string;
  /** What the button says that does it. */
  act: string;
  /** It takes something away from others. */
  grave?: boolean;
}

/** Asks before something is done that others notice. */
@Component({
  selector: 'kr-confirm',
  imports: [MatButton, MatDialogModule],
  template: `
    <div class="dialog">
      <h2>{{ data.heading }}</h2>
      <p>{{ data.text }}</p>
      <div class="ends">
        <button matButton="outlined" type="button" [mat-dialog-close]="false" cdkFocusInitial>Cancel</button
        ><button
          [matButton]="!data.grave ? 'filled' : 'outlined'"
          [class.refuse]="data.grave"
          [mat-dialog-close]="true"
        >
          {{ data.act }}
        </button>
      </div>
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
class Confirm {
  protected readonly data = inject<Question>(MAT_DIALOG_DATA);
}

/** True when the person said yes. */
export async function confirm(dialogs: MatDialog, data: Question): Promise<boolean> {
  const dialog: MatDialogRef<Confirm, boolean> = dialogs.open(Confirm, {
    data,
    role: 'alertdialog',
    ariaLabel: data.heading,
    width: '440px',
    maxWidth: '94vw',
  });
  return (await firstValueFrom(dialog.afterClosed())) ?? false;
}
