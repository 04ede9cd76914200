import { Injectable, inject } from '@angular/core';
import {
  MatSnackBar,
  type MatSnackBarConfig,
  type MatSnackBarRef,
  type TextOnlySnackBar,
} from '@angular/material/snack-bar';
import { sentenceOf } from '../api/api';

/** Says in a sentence what was done, with an undo where there is one. */
@Injectable({ providedIn: 'root' })
export class Messages {
  private readonly bar = inject(MatSnackBar);
  private latest: MatSnackBarRef<TextOnlySnackBar> | null = null;

  done(sentence: string, undo?: () => void | Promise<void>): void {
    const shown = this.open(sentence, undo ? 'Undo' : 'Close', { politeness: 'polite' });
    if (undo)
      shown.onAction().subscribe(() => {
        // One that is on its way out, because another took its place, can still be pressed: by then it is the
        // other that was meant to be taken back.
        if (this.latest === shown) void Promise.resolve(undo()).catch((error: unknown) => this.failed(error));
      });
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
