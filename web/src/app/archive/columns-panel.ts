import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { NARROWEST, TableTaste, WIDEST } from './table-taste.service';

/** Which columns stand in the table, in which order, how wide; and how dense the rows are. */
@Component({
  selector: 'kr-columns',
  template: `
    <section aria-label="Columns">
      <div class="row top"><label><input type="checkbox" [checked]="taste.dense()" (change)="taste.remember({ dense: !taste.dense() })" /> Dense rows</label><label><input type="checkbox" [checked]="taste.excerpts()" (change)="taste.remember({ excerpts: !taste.excerpts() })" /> With excerpts</label><span class="gap"></span><button class="btn small" (click)="taste.asFirst()">As at first</button><button class="btn small" (click)="closed.emit()">Close</button></div>
      <ul>@for (c of taste.columns(); track c.key; let i = $index; let last = $last) {
        <li><label><input type="checkbox" [checked]="c.shown" (change)="taste.change(c.key, { shown: !c.shown })" /> {{ c.name }}</label><input type="range" [min]="least" [max]="most" step="2" [value]="c.width" (input)="taste.change(c.key, { width: +$any($event.target).value })" [attr.aria-label]="'Width of ' + c.name" [disabled]="!c.shown" />
          <button class="btn small" [disabled]="i === 0" (click)="taste.move(c.key, -1)" [attr.aria-label]="c.name + ' further left'">←</button><button class="btn small" [disabled]="last" (click)="taste.move(c.key, 1)" [attr.aria-label]="c.name + ' further right'">→</button></li> }</ul>
    </section>
  `,
  styles: `section { border: 1px solid var(--line); border-radius: 4px; background: var(--sheet); padding: 9px 12px; margin-bottom: 9px; } ul { list-style: none; margin: 8px 0 0; padding: 0; display: grid; grid-template-columns: repeat(auto-fill, minmax(310px, 1fr)); gap: 2px 24px; } li { display: grid; grid-template-columns: 1fr 110px auto auto; gap: 6px; align-items: center; } label { display: flex; gap: 6px; align-items: center; } .gap { flex: 1; } input[type=range] { width: 100%; }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ColumnsPanel {
  protected readonly taste = inject(TableTaste);
  readonly closed = output();
  protected readonly least = NARROWEST;
  protected readonly most = WIDEST;
}
