import { Directive, effect, model, untracked } from '@angular/core';
import { Field } from './field';

/** A value that is typed as people type it, or picked, and drawn by the library's own part; empty while it is none. */
@Directive()
export abstract class PickedField extends Field<string> {
  readonly value = model('');
  /** The last value emitted: a value is not drawn again while it is typed. */
  private told = '';

  constructor() {
    super();
    effect(() => {
      const value = this.value();
      if (value === this.told) return;
      this.told = value;
      untracked(() => {
        this.draw(value);
        this.unreadable.set('');
      });
    });
  }

  /** Shows a value that came from outside. */
  protected abstract draw(value: string): void;

  override writeValue(value: string | null): void {
    this.value.set(value ?? '');
  }

  /** Tells what the typed text was read as; `ask` says how to type it, where it is no value. */
  protected read(value: string, text: string, ask: string): void {
    this.told = value;
    this.value.set(value);
    this.tell(value, value === '' && text.trim() !== '' ? ask : '');
  }

  protected done(): void {
    if (!this.unreadable()) this.changed.emit(this.told);
  }
}
