import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatSliderModule } from '@angular/material/slider';
import { MatButton } from '@angular/material/button';
import { NARROWEST, TablePreferences, WIDEST } from './table-preferences.service';

/** Which columns stand in the table, in which order, how wide; and how dense the rows are. */
@Component({
  selector: 'kr-columns',
  imports: [MatSliderModule, MatCheckbox, MatButton],
  templateUrl: './columns-panel.html',
  styles: `
    section {
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
      padding: 9px 12px;
      margin-bottom: 9px;
    }
    ul {
      list-style: none;
      margin: 8px 0 0;
      padding: 0;
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(310px, 1fr));
      gap: 2px 24px;
    }
    li {
      display: grid;
      grid-template-columns: 1fr 110px auto auto;
      gap: 6px;
      align-items: center;
    }
    label {
      display: flex;
      gap: 6px;
      align-items: center;
    }
    .gap {
      flex: 1;
    }
    input[type='range'] {
      width: 100%;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ColumnsPanel {
  protected readonly taste = inject(TablePreferences);
  readonly closed = output();
  protected readonly min = NARROWEST;
  protected readonly max = WIDEST;
}
