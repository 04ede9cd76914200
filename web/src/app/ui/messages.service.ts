import { Injectable, inject } from '@angular/core';
import {
  MatSnackBar,
  type MatSnackBarConfig,
  type MatSnackBarRef,
  type TextOnlySnackBar,
} from '@angular/material/snack-bar';
import { sentenceOf } from '../api/api';

/** How long what can be undone is said, in ms: people without a mouse need longer to get there. */
const UNDO_MS = 20_000;

/** Says in a sentence what was done, with an undo where there is one. */
@Injectable({ providedIn: 'root' })
export class Messages {
  private readonly bar = inject(MatSnackBar);
  private latest: MatSnackBarRef<TextOnlySnackBar> | null = null;
  private undoable: MatSnackBarRef<TextOnlySnackBar> | null = null;

  done(sentence: string, undo?: () => void | Promise<void>): void {
    if (!undo) {
      this.open(sentence, 'Close', { politeness: 'polite' });
      return;
    }
    const shown = this.open(sentence, 'Undo', { duration: UNDO_MS, politeness: 'polite' });
    this.undoable = shown;
    shown.onAction().subscribe(() => {
      // One that is on its way out, because another took its place, can still be pressed: by then it is the
      // other that was meant to be taken back.
      if (this.latest === shown) void Promise.resolve(undo()).catch((error: unknown) => this.failed(error));
    });
    shown.afterDismissed().subscribe(() => {
      if (this.undoable === shown) this.undoable = null;
    });
  }

  /** Presses the Undo that is on the screen. False when there is none. */
  undo(): boolean {
    if (!this.undoable || this.undoable !== this.latest) return false;
    this.undoable.dismissWithAction();
    return true;
  }

  failed(error: unknown): void {
    this.open(sentenceOf(error), 'Close', { duration: 12_000, politeness: 'assertive' });
  }

  private open(
    sentence: string,
    action: string,
    config: MatSnackBarConfig,
  ): MatSnackBarRef<TextOnlySnackBar> {
    return (this.latest = this.bar.open(sentence, action, config));
  }
}
