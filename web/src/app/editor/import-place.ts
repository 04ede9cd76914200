import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule } from '@angular/material/dialog';
import { firstValueFrom } from 'rxjs';

/** Where a document goes in a post that has a text. */
export type ImportPlace = 'replace' | 'append' | 'insert';

@Component({
  selector: 'kr-import-place',
  imports: [MatButton, MatDialogModule],
  template: `
    <div class="dialog">
      <h2>Where does “{{ name }}” go?</h2>
      <p>This post has a text already. Whatever you choose can be undone.</p>
      <div class="ends">
        <button matButton="outlined" type="button" [mat-dialog-close]="null" cdkFocusInitial>Cancel</button>
        <button matButton="outlined" type="button" mat-dialog-close="replace">Replace the text</button>
        <button matButton="outlined" type="button" mat-dialog-close="append">Append at the end</button>
        <button matButton="filled" type="button" mat-dialog-close="insert">Insert at the cursor</button>
      </div>
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
class ImportPlaceDialog {
  protected readonly name = inject<string>(MAT_DIALOG_DATA);
}

/** Asks where a document goes; null when it goes nowhere. */
export async function askImportPlace(dialogs: MatDialog, name: string): Promise<ImportPlace | null> {
  const dialog = dialogs.open<ImportPlaceDialog, string, ImportPlace | null>(ImportPlaceDialog, {
    data: name,
    ariaLabel: `Where does “${name}” go?`,
    width: '560px',
    maxWidth: '94vw',
  });
  return (await firstValueFrom(dialog.afterClosed())) ?? null;
}
