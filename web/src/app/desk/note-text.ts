import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  model,
  numberAttribute,
  signal,
  viewChild,
  type ElementRef,
} from '@angular/core';
import { MatAutocompleteModule, MatAutocompleteTrigger } from '@angular/material/autocomplete';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { callingAt } from '@keyroster/core';
import { Field } from '../ui/fields/field';
import { Staff } from './staff.service';

/** So many names are offered. */
const OFFERED = 6;

/** Text that can mention people: after an @, those whose names begin so are offered. */
@Component({
  selector: 'kr-note-text',
  imports: [MatFormFieldModule, MatInput, MatAutocompleteModule],
  templateUrl: './note-text.html',
  styleUrl: '../ui/fields/field.scss',
  styles: `
    mat-option small {
      margin-left: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NoteText extends Field<string> {
  private readonly staff = inject(Staff);
  readonly value = model('');
  readonly rows = input(1, { transform: numberAttribute });
  readonly max = input<number>();
  private readonly box = viewChild.required<ElementRef<HTMLTextAreaElement | HTMLInputElement>>('box');
  private readonly names = viewChild.required(MatAutocompleteTrigger);
  private readonly caret = signal(0);

  /** Whom one may mean, with the text as it is once they are chosen. */
  protected readonly called = computed(() => {
    const [before, after] = [this.value().slice(0, this.caret()), this.value().slice(this.caret())];
    const calling = callingAt(before)?.toLowerCase();
    if (calling === undefined) return [];
    const begun = before.slice(0, before.length - calling.length);
    return this.staff
      .people()
      .filter((p) => p.name.toLowerCase() !== calling && beginsSo(p.name, calling))
      .slice(0, OFFERED)
      .map((person) => ({ person, text: `${begun}${person.name} ${after.replace(/^ /, '')}` }));
  });

  override writeValue(value: string | null): void {
    this.value.set(value ?? '');
  }

  protected typed(box: HTMLTextAreaElement | HTMLInputElement): void {
    this.value.set(box.value);
    this.tell(box.value);
    this.look(box);
  }

  protected look(box: HTMLTextAreaElement | HTMLInputElement): void {
    this.caret.set(box.selectionStart ?? box.value.length);
    if (callingAt(box.value.slice(0, this.caret())) === null) return;
    // Offered once drawn: until somebody is called, this is a field of text and no list.
    void this.staff.need().then(() => setTimeout(() => this.called().length > 0 && this.names().openPanel()));
  }

  protected mention(text: string): void {
    const after = this.value().slice(this.caret()).replace(/^ /, '');
    this.value.set(text);
    this.tell(text);
    const at = text.length - after.length;
    this.caret.set(at);
    const box = this.box().nativeElement;
    box.value = text;
    box.setSelectionRange(at, at);
  }
}

/** Does a name, or a later word of it, begin with what was typed? */
function beginsSo(name: string, calling: string): boolean {
  const whole = name.toLowerCase();
  return whole.startsWith(calling) || whole.split(' ').some((word) => word.startsWith(calling));
}
