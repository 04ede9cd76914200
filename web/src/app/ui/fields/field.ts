import {
  Directive,
  afterNextRender,
  booleanAttribute,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
  type OnInit,
  DestroyRef,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import {
  NgControl,
  type ControlValueAccessor,
  type ValidationErrors,
  type ValidatorFn,
} from '@angular/forms';
import type { ErrorStateMatcher } from '@angular/material/core';
import { MatFormFieldControl } from '@angular/material/form-field';
import { formatCount } from '@keyroster/core';
import { FieldSet } from './field-set';

let made = 0;

/** What a form's own rules found, as a sentence. A server's refusal is given as `server` and says itself. */
export function sentenceOfErrors(errors: ValidationErrors | null): string {
  if (!errors) return '';
  if (typeof errors['server'] === 'string') return errors['server'];
  if (typeof errors['sentence'] === 'string') return errors['sentence'];
  if (errors['required']) return 'This is needed.';
  if (errors['maxlength'])
    return `At most ${formatCount((errors['maxlength'] as { requiredLength: number }).requiredLength, 'character')}.`;
  if (errors['min'] || errors['max']) {
    const { min, max } = { ...(errors['min'] as object), ...(errors['max'] as object) } as Record<
      string,
      number
    >;
    return min !== undefined ? `At least ${min}.` : `At most ${max}.`;
  }
  if (errors['email']) return 'That is not an e-mail address.';
  return 'That cannot be read.';
}

/**
 * What all fields have in common: a label above, a hint or an error below, and a value that is bound by `value` and
 * `changed`, or by a form's control. `changed` tells what stands when the field is left or a thing is chosen.
 */
@Directive()
export abstract class Field<T> implements ControlValueAccessor, OnInit {
  protected readonly control = inject(NgControl, { optional: true, self: true });
  private readonly set = inject(FieldSet, { optional: true });
  private readonly destroyed = inject(DestroyRef);
  protected readonly id = `kr-field-${++made}`;
  readonly label = input.required<string>();
  /** The label is there for those who do not see the field, and its place says the rest. */
  readonly quiet = input(false, { transform: booleanAttribute });
  readonly hint = input('');
  readonly placeholder = input('');
  readonly error = input('');
  readonly disabled = input(false, { transform: booleanAttribute });
  /** Has the focus as soon as it is there. */
  readonly first = input(false, { transform: booleanAttribute });
  readonly changed = output<T>();

  private readonly events = signal(0);
  private readonly off = signal(false);
  private readonly wasLeft = signal(false);
  protected readonly isOff = computed(() => this.disabled() || this.off() || (this.set?.isOff() ?? false));
  /** Why what stands in the field is no value, while it is none; told once the field is left. */
  protected readonly unreadable = signal('');
  protected readonly shownError = computed(() => {
    this.events();
    const control = this.control?.control;
    return (
      this.error() ||
      (this.wasLeft() ? this.unreadable() : '') ||
      (control?.touched ? sentenceOfErrors(control.errors) : '')
    );
  });
  protected readonly errorState: ErrorStateMatcher = { isErrorState: () => this.shownError() !== '' };
  private readonly part = viewChild<
    MatFormFieldControl<unknown> & { updateErrorState(): void; focus(): void }
  >(MatFormFieldControl as never);
  private readonly readable: ValidatorFn = () => (this.unreadable() ? { sentence: this.unreadable() } : null);

  private onChange: (value: T) => void = () => undefined;
  private onTouched: () => void = () => undefined;

  constructor() {
    if (this.control) this.control.valueAccessor = this;
    afterNextRender(() => this.first() && this.focus());
    // The library looks at its parts' errors by itself only where the part has a control of its own.
    effect(() => {
      this.shownError();
      const part = this.part();
      untracked(() => part?.updateErrorState());
    });
  }

  ngOnInit(): void {
    const control = this.control?.control;
    if (!control) return;
    control.addValidators(this.readable);
    this.destroyed.onDestroy(() => control.removeValidators(this.readable));
    control.events.pipe(takeUntilDestroyed(this.destroyed)).subscribe(() => this.events.update((n) => n + 1));
  }

  focus(): void {
    this.part()?.focus();
  }

  /** Draws a value that came from outside. */
  abstract writeValue(value: T | null): void;

  registerOnChange(onChange: (value: T) => void): void {
    this.onChange = onChange;
  }
  registerOnTouched(onTouched: () => void): void {
    this.onTouched = onTouched;
  }
  setDisabledState(off: boolean): void {
    this.off.set(off);
  }

  /** Tells what is typed; `why` says why it is no value, and is empty when it is one. */
  protected tell(value: T, why = ''): void {
    this.unreadable.set(why);
    this.wasLeft.set(false);
    this.onChange(value);
  }
  protected left(): void {
    this.wasLeft.set(true);
    this.onTouched();
  }
}
