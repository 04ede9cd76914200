import { Directive, booleanAttribute, inject, input, computed } from '@angular/core';

/** Switches all fields in it off at once, those of the library too, which look at no fieldset by themselves. */
@Directive({ selector: 'fieldset[off]', host: { '[disabled]': 'isOff()' } })
export class FieldSet {
  private readonly around: FieldSet | null = inject(FieldSet, { optional: true, skipSelf: true });
  readonly off = input(false, { transform: booleanAttribute });
  readonly isOff = computed((): boolean => this.off() || (this.around?.isOff() ?? false));
}
