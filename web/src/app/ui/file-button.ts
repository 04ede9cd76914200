import { ChangeDetectionStrategy, Component, booleanAttribute, input, output } from '@angular/core';
import { MatButton, type MatButtonAppearance } from '@angular/material/button';

/** A button that asks for files. */
@Component({
  selector: 'kr-file-button',
  imports: [MatButton],
  template: `
    <button type="button" [matButton]="look()" [class.small]="small()" (click)="field.click()">
      <ng-content />
    </button>
    <input
      #field
      class="unseen"
      type="file"
      tabindex="-1"
      [multiple]="multiple()"
      [accept]="accept()"
      [attr.aria-label]="label()"
      (change)="choose(field)"
    />
  `,
  styles: `
    :host {
      display: inline-block;
      position: relative;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FileButton {
  readonly label = input.required<string>();
  readonly accept = input.required<string>();
  readonly multiple = input(false, { transform: booleanAttribute });
  readonly small = input(false, { transform: booleanAttribute });
  readonly look = input<MatButtonAppearance>('outlined');
  readonly chosen = output<File[]>();

  protected choose(field: HTMLInputElement): void {
    const files = [...(field.files ?? [])];
    // The same file may be chosen again.
    field.value = '';
    if (files.length > 0) this.chosen.emit(files);
  }
}
