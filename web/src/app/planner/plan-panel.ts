import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatProgressBar } from '@angular/material/progress-bar';
import { MatTooltip } from '@angular/material/tooltip';
import {
  formatCount,
  formatList,
  formatShortDate,
  type CoverDeed,
  type CoverLine,
  type ExplainedPlacing,
  type PlanChange,
  type PlanTask,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { ErrorLine } from '../ui/error-line';
import { ChoiceField, DateField } from '../ui/fields';
import { PlannerService } from './planner.service';
import { PlanningService } from './planning.service';

const HEADINGS: Record<PlanTask['kind'], string> = {
  fill: 'Plan for open slots',
  cover: 'Cover these days',
  without: 'When somebody drops out',
};
const DEEDS: Record<CoverDeed, string> = {
  commission: 'commission',
  'hand in': 'hand in',
  clear: 'clear',
  schedule: 'schedule',
};

/** Days or a person that the panel asks for another plan with. */
export type PlanWish = Partial<Record<'first' | 'last' | 'who', string | number>>;

/** A plan beside the weeks in which it is drawn: how good it is, why it is so, and what to do with it. */
@Component({
  selector: 'kr-plan-panel',
  imports: [
    MatButton,
    MatIconButton,
    MatCheckbox,
    MatIcon,
    MatMenuModule,
    MatProgressBar,
    MatTooltip,
    ErrorLine,
    ChoiceField,
    DateField,
  ],
  templateUrl: './plan-panel.html',
  styleUrl: './plan-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PlanPanel {
  protected readonly planning = inject(PlanningService);
  protected readonly planner = inject(PlannerService);
  protected readonly session = inject(SessionService);
  readonly wished = output<PlanWish>();
  readonly closed = output();

  protected readonly heading = computed(() => HEADINGS[this.planning.task()?.kind ?? 'fill']);
  protected readonly count = formatCount;
  protected readonly short = (date: string) => formatShortDate(date, this.session.today());

  /** What was found, in a sentence. */
  protected readonly result = computed(() => {
    const found = this.planning.found();
    if (!found) return this.planning.busy() ? 'Looking …' : '';
    if (this.planning.task()?.kind === 'without') {
      const held = found.changes.filter((c) => c.to !== null).length;
      return found.changes.length === 0
        ? 'Nothing has to change.'
        : `${held} of ${formatCount(found.changes.length, 'post')} can be held.`;
    }
    return found.slots === 0
      ? 'No slot is open on these days.'
      : `${found.explanation.placings.length} of ${formatCount(found.slots, 'open slot')} filled.`;
  });

  /** How far it may be from the best possible, in words. */
  protected readonly proof = computed(() => {
    if (!this.planning.found()) return '';
    if (this.planning.optimal()) return 'No better plan is possible; that is proven.';
    const percent = Math.max(0.1, Math.ceil(this.planning.gap() * 1000) / 10);
    return `At most ${percent}% better is possible${this.planning.busy() ? '; still looking' : ''}.`;
  });

  /** How near the proof is, for the bar: 1% and more from it counts as nothing yet. */
  protected readonly nearness = computed(() =>
    Math.round(100 * (1 - Math.min(1, this.planning.gap() * 100))),
  );

  protected readonly hasWishes = computed(() => {
    const { pinned, excluded } = this.planning.wishes();
    return pinned.length + Object.values(excluded).flat().length > 0;
  });

  protected when(placing: ExplainedPlacing): string {
    return `${this.short(placing.date)} · ${placing.time} · ${this.planning.writer(placing.writerId)}`;
  }

  protected changed({ from, to }: PlanChange): string {
    const was = `${this.short(from.runLocal.slice(0, 10))}, ${this.planning.writer(from.writerId)}`;
    if (!to) return `${was}. Nobody can take it; it stays without anybody who will write it.`;
    const moved = to.date === from.runLocal.slice(0, 10) ? 'same day' : `${this.short(to.date)}, ${to.time}`;
    return `${was} → ${moved}, ${this.planning.writer(to.writerId)}`;
  }

  protected stepWords(line: CoverLine): { words: string; late: boolean }[] {
    // What the desk does on the same day is said in one.
    const days = [...new Set(line.steps.map((s) => `${s.writerId ?? ''} ${s.by}`))].map((key) =>
      line.steps.filter((s) => `${s.writerId ?? ''} ${s.by}` === key),
    );
    return days.map((steps) => {
      const { by, writerId, late } = steps[0]!;
      const who = writerId === null ? '' : `${this.planning.writer(writerId)}: `;
      return { words: `${who}${formatList(steps.map((s) => DEEDS[s.deed]))} by ${this.short(by)}`, late };
    });
  }

  /** Posts whose reasons are shown. */
  protected readonly asked = signal<ReadonlySet<number>>(new Set());
  protected why(postId: number): void {
    this.asked.update((asked) => {
      const next = new Set(asked);
      if (!next.delete(postId)) next.add(postId);
      return next;
    });
  }

  /** Marks the place of a placing in the weeks. */
  protected show(placing: ExplainedPlacing): void {
    document.querySelector(`[data-draft="${placing.slot}"]`)?.scrollIntoView({ block: 'center' });
  }
}
