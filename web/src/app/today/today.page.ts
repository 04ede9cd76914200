import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { AwayItem, ChoreItem, SendView, TodayView } from '@keyroster/contract';
import {
  formatAbsence,
  formatChoreDue,
  formatClock,
  formatCount,
  formatDate,
  formatDistance,
  formatShortDate,
  formatTitles,
  startOfWeek,
  type Need,
  type NeedKind,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { CategoryTab } from '../site/category-tab';
import { ErrorLine } from '../ui/error-line';
import { SectionHead } from '../ui/section-head';
import { EmptyState } from '../ui/empty-state';
import { facts } from '../ui/facts';

const GROUPS: { kind: NeedKind; heading: string; act: string }[] = [
  { kind: 'late', heading: 'Late', act: 'Look into it' },
  { kind: 'change', heading: 'Changes asked for', act: 'Work on it' },
  { kind: 'write', heading: 'To write', act: 'Write' },
  { kind: 'review', heading: 'Waiting for review', act: 'Read' },
  { kind: 'pitched', heading: 'New pitches', act: 'Read' },
  { kind: 'proofread', heading: 'To proofread', act: 'Read' },
  { kind: 'schedule', heading: 'Cleared, not scheduled', act: 'Schedule' },
  { kind: 'goes out', heading: 'Goes out today and tomorrow', act: 'See' },
  { kind: 'on its way', heading: 'Yours, on its way', act: 'See' },
  { kind: 'own pitch', heading: 'Your pitches', act: 'See' },
];

@Component({
  imports: [RouterLink, CategoryTab, ErrorLine, SectionHead, EmptyState],
  templateUrl: './today.page.html',
  styleUrl: './today.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TodayPage {
  private readonly api = inject(Api);
  protected readonly session = inject(SessionService);
  protected readonly view = signal<TodayView | null>(null);
  protected readonly error = signal('');
  /** Pieces that only a person can settle. */
  protected readonly sends = signal<SendView[]>([]);
  protected readonly short = (date: string) => formatShortDate(date, this.view()?.today);
  protected readonly clock = formatClock;
  protected readonly age = (at: string) =>
    formatDistance(this.session.local(at).slice(0, 10), this.session.today());
  protected readonly week = (date: string) => startOfWeek(date, this.session.blog()?.firstWeekday ?? 1);

  protected readonly groups = computed(() => {
    const needs = this.view()?.needs ?? [];
    return GROUPS.map((group) => ({
      ...group,
      needs: needs.filter((n: Need) => n.kind === group.kind),
    })).filter((group) => group.needs.length > 0);
  });
  protected readonly greeting = computed(() => formatDate(this.view()?.today ?? '2000-01-01'));
  protected readonly summary = computed(() => {
    const of = (kind: NeedKind) => this.view()?.needs.filter((n) => n.kind === kind).length ?? 0;
    const parts: string[] = [
      ...(this.view()?.mentions.length
        ? [formatCount(this.view()!.mentions.length, 'note that mentions you', 'notes that mention you')]
        : []),
      ...(this.view()?.away.length ? [`${formatCount(this.view()!.away.length, 'absence')} to cover`] : []),
      ...(this.view()?.chores.length ? [formatCount(this.view()!.chores.length, 'chore')] : []),
      ...(of('late') ? [`${of('late')} late`] : []),
      ...(of('review') ? [`${formatCount(of('review'), 'post')} to read`] : []),
      ...(of('pitched') ? [`${formatCount(of('pitched'), 'new pitch', 'new pitches')}`] : []),
      ...(of('schedule') ? [`${of('schedule')} to schedule`] : []),
      ...(of('change') ? [`${of('change')} to change`] : []),
      ...(of('write') ? [`${of('write')} to write`] : []),
      ...(of('proofread') ? [`${of('proofread')} to proofread`] : []),
      ...(this.sends().length > 0
        ? [`${formatCount(this.sends().length, 'piece')} to resolve at the outlets`]
        : []),
    ];
    return parts.length > 0 ? `What needs you now: ${parts.join(', ')}.` : 'Nothing needs you now.';
  });

  protected chore(c: ChoreItem): string {
    return facts(
      c.title,
      formatChoreDue(c.due, this.view()!.today) || 'no run time yet',
      c.holds && 'holds it back',
    );
  }
  protected readonly absence = ({ from, to }: AwayItem) => formatAbsence({ from, to }, this.view()?.today);
  protected lying({ posts }: AwayItem): string {
    return `${formatTitles(posts.map((p) => p.title))} ${posts.length === 1 ? 'is' : 'are'} not ready`;
  }

  constructor() {
    void this.refresh();
    void this.seeSends();
    inject(Live).whenever(['outlet'], () => this.seeSends());
    inject(Live).whenever(['post', 'note', 'blog', 'people'], () => this.refresh());
  }

  private async seeSends(): Promise<void> {
    if (!this.session.may('sendPieces')) return;
    const asked = (['unsure', 'failed'] as const).map((state) =>
      this.api.call('sends.list', { query: { state } }),
    );
    this.sends.set((await Promise.all(asked).catch(() => [this.sends()])).flat());
  }

  private async refresh(): Promise<void> {
    try {
      this.view.set(await this.api.call('today.see', {}));
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
