import { BreakpointObserver } from '@angular/cdk/layout';
import type { ComponentType } from '@angular/cdk/overlay';
import { Injectable, Injector, inject } from '@angular/core';
import { MatBottomSheet } from '@angular/material/bottom-sheet';
import { MAT_DIALOG_DATA, MatDialog, MatDialogRef } from '@angular/material/dialog';
import { firstValueFrom } from 'rxjs';

/** As wide as a phone is held. */
const PHONE = '(max-width: 700px)';

/** Opens a choice where a thumb reaches it: from below on a phone, as a dialog elsewhere. */
@Injectable({ providedIn: 'root' })
export class LowSheet {
  private readonly screen = inject(BreakpointObserver);
  private readonly dialogs = inject(MatDialog);
  private readonly sheets = inject(MatBottomSheet);
  private readonly injector = inject(Injector);

  /** What was chosen; undefined when it was left. The component speaks with its `MatDialogRef` either way. */
  open<D, R>(component: ComponentType<unknown>, data: D, ariaLabel: string): Promise<R | undefined> {
    if (!this.screen.isMatched(PHONE))
      return firstValueFrom(
        this.dialogs
          .open<unknown, D, R>(component, { data, width: '520px', maxWidth: '94vw', ariaLabel })
          .afterClosed(),
      );
    const close = (result?: R) => sheet.dismiss(result);
    const sheet = this.sheets.open<unknown, D, R>(component, {
      ariaLabel,
      injector: Injector.create({
        providers: [
          { provide: MAT_DIALOG_DATA, useValue: data },
          { provide: MatDialogRef, useValue: { close } },
        ],
        parent: this.injector,
      }),
    });
    return firstValueFrom(sheet.afterDismissed());
  }
}
