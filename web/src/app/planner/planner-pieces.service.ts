import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import type { PlannerPiece } from '@keyroster/contract';
import { Api } from '../api/api';
import { Live } from '../api/live';
import { PlannerService } from './planner.service';
import { PlannerPreferences } from './planner-preferences.service';

/** Pieces that go out in the weeks on screen, asked for only when somebody wants to see them. */
@Injectable()
export class PlannerPieces {
  private readonly api = inject(Api);
  private readonly planner = inject(PlannerService);
  private readonly taste = inject(PlannerPreferences);
  private readonly received = signal<PlannerPiece[]>([]);
  private readonly byDay = computed(() => {
    const days = new Map<string, PlannerPiece[]>();
    for (const piece of this.received())
      days.set(piece.local.slice(0, 10), [...(days.get(piece.local.slice(0, 10)) ?? []), piece]);
    return days;
  });
  readonly on = (date: string): PlannerPiece[] => this.byDay().get(date) ?? [];

  constructor() {
    const span = computed(() =>
      this.taste.pieces() ? `${this.planner.view()?.from ?? ''} ${this.planner.view()?.to ?? ''}` : '',
    );
    effect(() => {
      span();
      untracked(() => void this.load());
    });
    inject(Live).gathered(['outlet'], () => void this.load());
  }

  private async load(): Promise<void> {
    const view = this.planner.view();
    if (!this.taste.pieces() || !view) return this.received.set([]);
    // Pieces are beside the plan; without them the plan stands.
    this.received.set(
      await this.api
        .call('planner.pieces', { query: { from: view.from, to: view.to } })
        .catch(() => this.received()),
    );
  }
}
