import { Injectable, computed, inject, signal } from '@angular/core';
import type { PitchAlike, PlannerCard } from '@keyroster/contract';
import { daysToRun } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api } from '../api/api';
import { Messages } from '../ui/messages.service';
import { PlannerService } from './planner.service';
import { PlannerPreferences, type TraySort } from './planner-preferences.service';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { EMPTY, catchError, debounceTime, filter, switchMap } from 'rxjs';

/** When it was made; compared as text, a full second would stand behind its own parts. */
const made = (card: PlannerCard): number => Date.parse(card.createdAt);

export interface TrayGroup {
  key: string;
  /** Set when the group is a category. */
  categoryId: number | null | undefined;
  name: string;
  pitches: PlannerCard[];
}

const never = Number.MAX_SAFE_INTEGER;
const ORDERS: Record<TraySort, (today: string) => (a: PlannerCard, b: PlannerCard) => number> = {
  newest: () => (a, b) => made(b) - made(a) || b.id - a.id,
  oldest: () => (a, b) => made(a) - made(b) || a.id - b.id,
  'best rated': () => (a, b) => (b.rating ?? 0) - (a.rating ?? 0) || made(b) - made(a),
  pressing: (today) => (a, b) =>
    (daysToRun(a.dateConstraint, today) ?? never) - (daysToRun(b.dateConstraint, today) ?? never) ||
    made(b) - made(a),
};

/**
 * What waits in the tray: searched, sorted, grouped, rated, added to, and compared with what has been there
 * before.
 */
@Injectable()
export class TrayService {
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly planner = inject(PlannerService);
  private readonly session = inject(SessionService);
  private readonly taste = inject(PlannerPreferences);
  readonly words = signal('');
  readonly alike = signal<ReadonlyMap<number, PitchAlike>>(new Map());

  readonly found = computed(() => {
    const wanted = this.words().trim().toLowerCase().split(/\s+/).filter(Boolean);
    const pitches = this.planner.view()?.pitches ?? [];
    const today = this.planner.view()?.today ?? '';
    const fits = (p: PlannerCard) => {
      const text = `${p.title} ${p.thought} ${p.byline?.name ?? ''}`.toLowerCase();
      return wanted.every((word) => text.includes(word));
    };
    return pitches.filter(fits).sort(ORDERS[this.taste.sort()](today));
  });

  readonly groups = computed((): TrayGroup[] => {
    const found = this.found();
    const by = this.taste.group();
    if (by === 'nothing') return [{ key: 'all', categoryId: undefined, name: 'All pitches', pitches: found }];
    if (by === 'rating') {
      return [5, 4, 3, 2, 1, null]
        .map((rating): TrayGroup => ({
          key: `r${rating}`,
          categoryId: undefined,
          name: rating === null ? 'Not rated' : `Rated ${rating}`,
          pitches: found.filter((p) => p.rating === rating),
        }))
        .filter((g) => g.pitches.length > 0);
    }
    if (by === 'writer') {
      const names = [
        ...new Map(found.map((p) => [p.byline?.id ?? 0, p.byline?.name ?? 'Open to anybody'])).entries(),
      ].sort(([a, x], [b, y]) => (a === 0 ? 1 : b === 0 ? -1 : x.localeCompare(y)));
      return names.map(([id, name]) => ({
        key: `w${id}`,
        categoryId: undefined,
        name,
        pitches: found.filter((p) => (p.byline?.id ?? 0) === id),
      }));
    }
    const groups = (this.session.blog()?.categories ?? []).map((c): TrayGroup => ({
      key: `c${c.id}`,
      categoryId: c.id,
      name: c.name,
      pitches: found.filter((p) => p.categoryId === c.id),
    }));
    const loose = found.filter((p) => p.categoryId === null);
    const all =
      loose.length > 0
        ? [{ key: 'c0', categoryId: null, name: 'No category yet', pitches: loose }, ...groups]
        : groups;
    return this.words().trim() === '' ? all : all.filter((g) => g.pitches.length > 0);
  });

  constructor() {
    // Likeness is asked for when titles or pitches change, a moment after: it is worth a look, not a wait.
    const titles = computed(() =>
      (this.planner.view()?.pitches ?? [])
        .map((p) => `${p.id} ${p.title}`)
        .sort()
        .join('\n'),
    );
    toObservable(titles)
      .pipe(
        debounceTime(400),
        filter((found) => found !== ''),
        switchMap(() => this.api.request('pitches.alike', {}).pipe(catchError(() => EMPTY))),
        takeUntilDestroyed(),
      )
      .subscribe((found) => this.alike.set(new Map(found.map((a) => [a.id, a]))));
  }

  async pitch(title: string, categoryId: number | null): Promise<void> {
    this.planner.receive(await this.api.call('posts.pitch', { body: { title, categoryId } }));
  }

  /** Keeps a list of pitches, all or none. Returns the sentence that says so. */
  async saveList(titles: string[], categoryId: number | null): Promise<string> {
    const { sentence } = await this.api.call('pitches.keep', { body: { titles, categoryId } });
    await this.planner.refresh();
    return sentence;
  }

  async importFile(file: File): Promise<string> {
    const { sentence } = await this.api.call('pitches.import', { file });
    await this.planner.refresh();
    return sentence;
  }

  async rate(pitch: PlannerCard, rating: number | null): Promise<void> {
    try {
      const { post } = await this.api.call('posts.change', {
        id: pitch.id,
        ifMatch: pitch.version,
        body: { rating },
      });
      this.planner.receive(post);
      this.messages.done(
        rating === null
          ? `“${post.title}” is not rated any more.`
          : `“${post.title}” is rated ${rating} of 5.`,
      );
    } catch (error) {
      await this.planner.refresh();
      this.messages.failed(error);
    }
  }
}
