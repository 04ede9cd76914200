import { Injectable, inject } from '@angular/core';
import { MatSnackBar } from '@angular/material/snack-bar';
import { sentenceOf } from '../api/api';

/** Says in a sentence what was done, with an undo where there is one. */
@Injectable({ providedIn: 'root' })
export class Messages {
  private readonly bar = inject(MatSnackBar);

  done(sentence: string, undo?: () => void | Promise<void>): void {
    const shown = this.bar.open(sentence, undo ? 'Undo' : 'Close', { politeness: 'polite' });
    if (undo)
      shown
        .onAction()
        .subscribe(() => void Promise.resolve(undo()).catch((error: unknown) => this.failed(error)));
  }

  failed(error: unknown): void {
    this.bar.open(sentenceOf(error), 'Close', { duration: 12_000, politeness: 'assertive' });
  }
}
