import { DestroyRef, Injectable, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatDialog, type MatDialogRef } from '@angular/material/dialog';
import type { CanDeactivateFn } from '@angular/router';
import { filter, fromEvent, merge } from 'rxjs';
import { confirm } from './confirm';

/** Knows the forms with input that is not saved, and asks before they are left. */
@Injectable({ providedIn: 'root' })
export class Unsaved {
  private readonly dialogs = inject(MatDialog);
  private readonly forms = new Set<() => boolean>();

  constructor() {
    fromEvent<BeforeUnloadEvent>(window, 'beforeunload')
      .pipe(takeUntilDestroyed())
      .subscribe((event) => {
        if (this.any()) event.preventDefault();
      });
  }

  add(isUnsaved: () => boolean): void {
    this.forms.add(isUnsaved);
  }
  remove(isUnsaved: () => boolean): void {
    this.forms.delete(isUnsaved);
  }

  any(): boolean {
    return [...this.forms].some((isUnsaved) => isUnsaved());
  }

  /** True when nothing would be lost, or the person said that it may be. */
  async mayLeave(): Promise<boolean> {
    return (
      !this.any() ||
      confirm(this.dialogs, {
        heading: 'Leave without saving?',
        text: 'What you typed here is not saved. It is lost when you leave.',
        act: 'Leave',
        grave: true,
      })
    );
  }
}

/** Has the page ask before it is left while this holds. Called where a form is made. */
export function watchUnsaved(isUnsaved: () => boolean): void {
  const unsaved = inject(Unsaved);
  unsaved.add(isUnsaved);
  inject(DestroyRef).onDestroy(() => unsaved.remove(isUnsaved));
}

/** For routes: asks before a page with unsaved input is left. */
export const leaveGuard: CanDeactivateFn<unknown> = () => inject(Unsaved).mayLeave();

/** Has a dialog ask before Escape or a click beside it throws away what is typed; Cancel says it already. */
export function watchDialog(dialog: MatDialogRef<unknown>, isUnsaved: () => boolean): void {
  watchUnsaved(isUnsaved);
  const unsaved = inject(Unsaved);
  dialog.disableClose = true;
  merge(dialog.backdropClick(), dialog.keydownEvents().pipe(filter((e) => e.key === 'Escape')))
    .pipe(takeUntilDestroyed())
    .subscribe(() => {
      void unsaved.mayLeave().then((may) => may && dialog.close());
    });
}
