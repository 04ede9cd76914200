import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { DetailDifference } from '@keyroster/contract';

/** Details that differ between two versions, in words. */
@Component({
  selector: 'kr-compared-details',
  template: `
    @if (details().length > 0) {
      <table>
        <caption class="unseen">
          Details that differ
        </caption>
        <tr>
          <th>Detail</th>
          <th>{{ was() }}</th>
          <th>{{ becomes() }}</th>
        </tr>
        @for (d of details(); track d.name) {
          <tr>
            <th scope="row">{{ d.name }}</th>
            <td>{{ d.was }}</td>
            <td>{{ d.becomes }}</td>
          </tr>
        }
      </table>
    }
  `,
  styles: `
    table {
      width: 100%;
      border-collapse: collapse;
      margin-bottom: 12px;
    }
    th,
    td {
      text-align: left;
      padding: 5px 8px;
      border-bottom: 1px solid var(--hair);
      overflow-wrap: anywhere;
      vertical-align: top;
    }
    th:first-child {
      width: 130px;
      overflow-wrap: normal;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ComparedDetails {
  readonly details = input.required<readonly DetailDifference[]>();
  /** What the columns are called. */
  readonly was = input('Was');
  readonly becomes = input('Is then');
}
