import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatTooltip } from '@angular/material/tooltip';
import { formatClock, formatCount, formatShortDate, type Suggestion } from '@keyroster/core';
import { SessionService } from '../../accounts/session.service';
import { SuggestionsService } from './suggestions.service';

const KINDS: Record<Suggestion['kind'], string> = {
  insert: 'Insert',
  delete: 'Delete',
  replace: 'Replace',
  format: 'Set in another way',
  'insert block': 'Insert the block',
  'delete block': 'Delete the block',
  'replace block': 'Replace the block',
};
const SHORT = 90;

/** Everything that is suggested in the text, in its order, to be accepted or refused. */
@Component({
  selector: 'kr-suggestions',
  imports: [MatButton, MatTooltip],
  templateUrl: './suggestions-list.html',
  styleUrl: './suggestions-list.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SuggestionsList {
  protected readonly suggestions = inject(SuggestionsService);
  private readonly session = inject(SessionService);
  protected readonly kinds = KINDS;
  protected readonly count = formatCount;
  protected readonly short = (text: string) => {
    const plain = text.replace(/\s+/g, ' ');
    return plain.length > SHORT ? `${plain.slice(0, SHORT)} …` : plain;
  };

  /** A suggestion in a few words, for those who hear what a button does. */
  protected readonly inWords = ({ kind, was, becomes }: Suggestion) =>
    `${KINDS[kind]} ${this.short(becomes || was)}`;

  protected when(at: string): string {
    const local = this.session.local(`${at.slice(0, -1)}:00Z`);
    return `${formatShortDate(local, this.session.today())} ${formatClock(local.slice(0, 16))}`;
  }

  protected settleOf(personId: number, how: 'accept' | 'refuse'): void {
    const theirs = this.suggestions.list().filter((s) => s.personId === personId);
    this.suggestions.settle(
      theirs.map((s) => s.key),
      how,
    );
  }
}
