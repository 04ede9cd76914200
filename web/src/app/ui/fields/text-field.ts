import {
  ChangeDetectionStrategy,
  Component,
  booleanAttribute,
  input,
  model,
  numberAttribute,
  viewChild,
  type ElementRef,
} from '@angular/core';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { Field } from './field';

/** One line of text, or several with `rows`. */
@Component({
  selector: 'kr-text',
  imports: [MatFormFieldModule, MatInput],
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
  private readonly area = viewChild<ElementRef<HTMLTextAreaElement>>('area');
  private readonly line = viewChild<ElementRef<HTMLInputElement>>('line');

  override writeValue(value: string | null): void {
    this.value.set(value ?? '');
  }
  /** Shows a text in place of what was typed, however soon after it: what is drawn may not have followed yet. */
  show(text: string): void {
    this.value.set(text);
    const box = (this.area() ?? this.line())?.nativeElement;
    if (box) box.value = text;
  }
  protected write(text: string): void {
    this.value.set(text);
    this.tell(text);
  }
}
