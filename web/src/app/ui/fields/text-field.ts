import {
  ChangeDetectionStrategy,
  Component,
  booleanAttribute,
  input,
  DestroyRef,
  effect,
  inject,
  model,
  numberAttribute,
  signal,
  untracked,
  viewChild,
  type ElementRef,
} from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { MatButton } from '@angular/material/button';
import { watchUnsaved } from '../unsaved';
import { Field } from './field';

/** A save that takes longer is taken for one that was refused, and the words stay. */
const SAVED_WITHIN_MS = 10_000;

/** One line of text, or several with `rows`. */
@Component({
  selector: 'kr-text',
  imports: [MatButton, MatFormFieldModule, MatInput],
  templateUrl: './text-field.html',
  styleUrl: './field.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TextField extends Field<string> {
  readonly value = model('');
  readonly rows = input(1, { transform: numberAttribute });
  /** The most characters it takes. */
  readonly max = input<number>();
  readonly type = input<'text' | 'email' | 'password' | 'search' | 'url'>('text');
  readonly autocomplete = input('off');
  /** To be read and copied: all of it is selected with the focus. */
  readonly readonly = input(false, { transform: booleanAttribute });
  /**
   * The value is kept elsewhere and saved by `changed`: while it is typed, and until it is saved, what comes from outside
   * never takes its place. Another value that comes meanwhile is shown beside it, with a choice.
   */
  readonly guarded = input(false, { transform: booleanAttribute });
  private readonly typed = signal<string | null>(null);
  /** What the field held when typing began. */
  private base = '';
  /** What came from outside meanwhile. */
  protected readonly other = signal<string | null>(null);
  private sent: ReturnType<typeof setTimeout> | undefined;
  private readonly area = viewChild<ElementRef<HTMLTextAreaElement>>('area');
  private readonly line = viewChild<ElementRef<HTMLInputElement>>('line');

  constructor() {
    super();
    effect(() => {
      const value = this.value();
      untracked(() => this.meet(value));
    });
    inject(DestroyRef).onDestroy(() => this.endWait());
    // Two texts that nobody chose from are unsaved input.
    watchUnsaved(() => this.other() !== null);
  }

  override writeValue(value: string | null): void {
    this.forget();
    this.value.set(value ?? '');
  }
  /** Shows a text in place of what was typed, however soon after it: what is drawn may not have followed yet. */
  show(text: string): void {
    this.forget();
    this.value.set(text);
    const box = (this.area() ?? this.line())?.nativeElement;
    if (box) box.value = text;
  }
  protected write(text: string): void {
    if (this.guarded()) {
      if (this.typed() === null || this.sent !== undefined) this.base = this.value();
      this.endWait();
      this.typed.set(text);
    }
    this.value.set(text);
    this.tell(text);
  }

  /** The field is left: what it holds is told, unless somebody else changed the same meanwhile. */
  protected done(text: string): void {
    if (this.other() !== null) return;
    this.changed.emit(text);
    // Who keeps the value answers within this time, with what was told or with what another person saved first.
    this.endWait();
    if (this.guarded()) this.sent = setTimeout(() => this.other() === null && this.forget(), SAVED_WITHIN_MS);
  }

  /** One of two texts is chosen. */
  protected choose(mine: boolean): void {
    const [typed, other] = [this.typed(), this.other()];
    if (typed === null || other === null) return;
    this.forget();
    this.value.set(mine ? typed : other);
    this.tell(this.value());
    if (!mine) return;
    this.base = other;
    this.typed.set(typed);
    this.done(typed);
  }

  /** A value from outside comes upon what is typed. */
  private meet(value: string): void {
    const typed = this.typed();
    if (typed === null || value === typed) return;
    // What was there before says nothing new: the words stay, to be told again.
    if (value !== this.base) this.other.set(value);
    this.value.set(typed);
  }

  private endWait(): void {
    clearTimeout(this.sent);
    this.sent = undefined;
  }
  private forget(): void {
    this.endWait();
    this.typed.set(null);
    this.other.set(null);
  }
}
