import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { formatCount } from '@keyroster/core';
import { SwitchField } from '../../ui/fields';
import { LOOKS, SuggestionsService } from './suggestions.service';

/** Says above a text that there are suggestions in it, and shows it with them, as it would be, or as it was. */
@Component({
  selector: 'kr-suggestion-bar',
  imports: [MatButton, SwitchField],
  template: `
    @if (suggestions.list().length > 0) {
      <div class="row" role="group" aria-label="Suggestions in the text">
        <button matButton class="small" (click)="listAsked.emit()">
          {{ count(suggestions.list().length, 'suggestion') }}
        </button>
        <kr-switch
          label="How the text is shown"
          [options]="looks"
          [value]="suggestions.look()"
          (changed)="suggestions.look.set($event)"
        />
      </div>
    }
  `,
  styles: `
    .row {
      align-items: center;
      justify-content: space-between;
      gap: 8px;
      margin-bottom: 10px;
      flex-wrap: wrap;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SuggestionBar {
  protected readonly suggestions = inject(SuggestionsService);
  readonly listAsked = output();
  protected readonly looks = LOOKS;
  protected readonly count = formatCount;
}
