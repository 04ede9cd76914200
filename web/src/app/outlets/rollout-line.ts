import { CdkDrag, CdkDropList, CdkDropListGroup, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { LiveAnnouncer } from '@angular/cdk/a11y';
import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { SessionService } from '../accounts/session.service';
import type { PieceView, RolloutView } from '@keyroster/contract';
import { addDays, TIMING_KINDS, formatTiming, type Timing } from '@keyroster/core';
import { capital, formatDue, formatState } from './format-piece';
import { TimingField } from './timing-field';

type Kind = Timing['kind'];
const NAMES: Record<Kind, string> = {
  'same hour': 'same hour',
  'same day': 'same day',
  'next day': 'next day',
  weekday: 'that weekday',
  'next week': 'next week',
  'next month': 'next month',
  date: 'own date',
};

/**
 * A post's pieces in the order they go out, from its release on. A stop is dragged to another place, moved
 * with the keys, or given its time in the list.
 */
@Component({
  selector: 'kr-rollout-line',
  imports: [MatButton, CdkDropListGroup, CdkDropList, CdkDrag, TimingField],
  templateUrl: './rollout-line.html',
  styleUrl: './rollout-line.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RolloutLine {
  private readonly session = inject(SessionService);
  private readonly announcer = inject(LiveAnnouncer);
  readonly view = input.required<RolloutView>();
  readonly opened = output<PieceView>();
  readonly moved = output<{ piece: PieceView; timing: Timing }>();
  readonly spread = output();
  /** The better times are to be used. */
  readonly bettered = output();
  protected readonly asList = signal(false);
  protected readonly names = NAMES;
  protected readonly capital = capital;
  protected readonly due = (local: string | null) => formatDue(local, this.session.today());
  protected readonly say = formatTiming;
  protected readonly state = formatState;
  protected readonly editable = computed(() => this.view().mayMake);
  protected readonly clashing = computed(() => new Set(this.view().clashes.map((c) => c.pieceId)));
  protected readonly zones = computed(() =>
    TIMING_KINDS.map((kind) => ({ kind, pieces: this.view().pieces.filter((p) => p.timing.kind === kind) })),
  );
  protected readonly movable = (p: PieceView) =>
    this.editable() &&
    (p.send === null || ['waiting', 'stopped', 'failed'].includes(p.send.state)) &&
    (p.send === null || this.view().maySend);

  protected drop(event: CdkDragDrop<Kind>): void {
    const piece = event.item.data as PieceView;
    if (event.container.data !== piece.timing.kind) this.put(piece, event.container.data);
  }

  protected key(event: KeyboardEvent, piece: PieceView): void {
    if (!event.altKey || !this.movable(piece) || (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight'))
      return;
    event.preventDefault();
    const to = TIMING_KINDS[TIMING_KINDS.indexOf(piece.timing.kind) + (event.key === 'ArrowLeft' ? -1 : 1)];
    if (!to) return;
    this.put(piece, to);
    void this.announcer.announce(`${capital(piece.kind)}: ${NAMES[to]}`);
    setTimeout(() => document.querySelector<HTMLElement>(`[data-piece="${piece.id}"]`)?.focus(), 400);
  }

  /** The same time of day at another distance from the release. */
  private put(piece: PieceView, kind: Kind): void {
    const time = 'time' in piece.timing ? piece.timing.time : (piece.dueLocal?.slice(11, 16) ?? '12:30');
    const timing: Timing =
      kind === 'same hour'
        ? { kind, minutes: 0 }
        : kind === 'weekday'
          ? { kind, weekday: 5, time }
          : kind === 'date'
            ? {
                kind,
                local: piece.dueLocal ?? `${addDays(this.session.today(), 1)}T${time}:00`,
              }
            : { kind, time };
    this.moved.emit({ piece, timing });
  }
}
