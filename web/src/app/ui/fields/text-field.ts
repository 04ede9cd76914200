import { ChangeDetectionStrategy, Component, input, model, numberAttribute } from '@angular/core';
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

  override writeValue(value: string | null): void {
    this.value.set(value ?? '');
  }
  protected write(text: string): void {
    this.value.set(text);
    this.tell(text);
  }
}
