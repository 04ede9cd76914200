import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButtonToggleModule } from '@angular/material/button-toggle';
import { choicesFrom, type Offered } from './choices';

/** One of a few ways to look at something, all of them in sight. */
@Component({
  selector: 'kr-switch',
  imports: [MatButtonToggleModule],
  template: `
    <mat-button-toggle-group
      hideSingleSelectionIndicator
      [attr.aria-label]="label()"
      [value]="value()"
      (change)="changed.emit($event.value)"
    >
      @for (choice of choices(); track choice.value) {
        <mat-button-toggle [value]="choice.value">{{ choice.label }}</mat-button-toggle>
      }
    </mat-button-toggle-group>
  `,
  styles: `
    :host {
      display: inline-flex;
      max-width: 100%;
    }
    mat-button-toggle-group {
      flex-wrap: wrap;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SwitchField<T> {
  readonly label = input.required<string>();
  readonly options = input.required<readonly Offered<T>[]>();
  /** What words are called that do not say themselves. */
  readonly names = input<Readonly<Record<string, string>>>();
  readonly value = input.required<T>();
  readonly changed = output<T>();
  protected readonly choices = computed(() => choicesFrom(this.options(), this.names()));
}
