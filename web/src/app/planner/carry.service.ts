import { LiveAnnouncer } from '@angular/cdk/a11y';
import type { CdkDragEnter, CdkDragStart } from '@angular/cdk/drag-drop';
import { Injectable, computed, inject, signal } from '@angular/core';
import type { PlannerCard } from '@keyroster/contract';
import { addDays, formatDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { slotTimeAt } from './dragging';
import { PlannerService } from './planner.service';

/** What a card is held over while it is dragged. */
export interface Over {
  post: PlannerCard;
  date: string;
  time?: string;
  bylineId?: number | null;
}

/**
 * A card in the hand: lifted with the keyboard and carried from day to day, or dragged. Says what would be
 * wrong before it lands.
 */
@Injectable()
export class CarryService {
  private readonly planner = inject(PlannerService);
  private readonly session = inject(SessionService);
  private readonly announcer = inject(LiveAnnouncer);
  readonly lifted = signal<PlannerCard | null>(null);
  readonly liftedId = computed(() => this.lifted()?.id ?? null);
  /** The day a lifted card is carried to. */
  readonly target = signal<string | null>(null);
  readonly over = signal<Over | null>(null);
  /** Is a card being dragged, over a place or not? */
  readonly dragging = signal(false);
  private release: () => void = () => {};

  /** What would be wrong, before a drop lands; '' while nothing is held. */
  readonly pondering = computed(() => {
    const lifted = this.lifted();
    const target = this.target();
    const held: Over | null = lifted && target ? { post: lifted, date: target } : this.over();
    if (!held) return '';
    const warnings = this.planner.warningsAt(held.post, held.date, held.time, held.bylineId);
    const time = held.time ?? this.planner.timeOn(held.date, held.post);
    return (
      `${formatDate(held.date)}, ${time.slice(0, 5)}: ` +
      `${warnings.length > 0 ? warnings.map((w) => w.sentence).join(' ') : 'nothing against it.'}`
    );
  });

  /** A card is taken up by hand. The row it leaves keeps its height, so that no day moves under the hand. */
  begin(event: CdkDragStart): void {
    this.dragging.set(true);
    const row = event.source.element.nativeElement.closest<HTMLElement>('.week, tr');
    if (!row) return;
    // The height of a table's row is its least height.
    const min = row instanceof HTMLTableRowElement ? 'height' : 'minHeight';
    row.style[min] = `${row.getBoundingClientRect().height}px`;
    this.release = () => (row.style[min] = '');
  }

  end(): void {
    this.dragging.set(false);
    this.release();
    this.release = () => {};
  }

  /** A dragged card comes over a place. */
  enter({ item }: Pick<CdkDragEnter<unknown, unknown>, 'item'>, place: Omit<Over, 'post'>): void {
    this.over.set({ post: item.data as PlannerCard, ...place });
  }

  /** A dragged card is over this point of the screen: over a slot, its time is what the card would get. */
  moved(point: { x: number; y: number }, post: PlannerCard): void {
    const over = this.over();
    const time = slotTimeAt(point);
    if (over && over.time !== time) this.over.set({ ...over, post, time });
  }

  lift(post: PlannerCard): void {
    this.lifted.set(post);
    const open = this.planner.openSlots();
    this.target.set(
      post.runLocal?.slice(0, 10) ??
        post.dateConstraint.mustBeOn ??
        open.find((s) => s.categoryId === post.categoryId)?.date ??
        open[0]?.date ??
        this.planner.view()?.today ??
        null,
    );
    this.tell('Lifted. ');
  }

  /** Carries the lifted card so many days, within the weeks that are shown. */
  carry(days: number): void {
    const view = this.planner.view();
    const from = this.target();
    if (!view || !from) return;
    const date = addDays(from, days);
    if (date < view.from || date > view.to) return;
    this.target.set(date);
    this.tell('');
  }

  /** Puts the card down. Returns what was held, and where. */
  drop(): { post: PlannerCard; date: string } | null {
    const [post, date] = [this.lifted(), this.target()];
    this.lifted.set(null);
    this.target.set(null);
    return post && date ? { post, date } : null;
  }

  putBack(): void {
    this.drop();
    void this.announcer.announce('Put back where it was.');
  }

  private tell(before: string): void {
    const [post, date] = [this.lifted(), this.target()];
    if (!post || !date) return;
    const open = this.planner
      .openSlots()
      .filter((s) => s.date === date)
      .map((s) => `open slot ${this.session.category(s.categoryId)?.name ?? ''} ${s.time}`);
    const warnings = this.planner.warningsAt(post, date).map((w) => w.sentence);
    void this.announcer.announce(
      `${before}${formatDate(date)}${open.length ? `, ${open.join(', ')}` : ''}. ` +
        `${warnings.join(' ')} Space drops it, Escape puts it back.`,
    );
  }
}
