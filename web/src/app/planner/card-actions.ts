import { ElementRef, Injectable, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { MoveDone, PlannerCard } from '@keyroster/contract';
import { formatDate, type SlotDate } from '@keyroster/core';
import { Messages } from '../ui/messages.service';
import { BriefDialog, type BriefData, type BriefResult } from './brief';
import { CarryService } from './carry.service';
import { letGo, slotTimeAt, TRAY, type CardDrop } from './dragging';
import { FillDay, type FillChoice, type FillData } from './fill-day';
import { MovesService, type Place } from './moves.service';
import { PlaceMenu, type PlaceChoice, type PlaceData } from './place-menu';
import { PlannerService } from './planner.service';
import { TrayService } from './tray.service';
import { LowSheet } from '../ui/low-sheet';

/** What a person does to the planner's cards, by hand, by key or by menu. Provided by the planner's page. */
@Injectable()
export class CardActions {
  private readonly planner = inject(PlannerService);
  private readonly moves = inject(MovesService);
  private readonly carry = inject(CarryService);
  private readonly tray = inject(TrayService);
  private readonly dialog = inject(MatDialog);
  private readonly sheet = inject(LowSheet);
  private readonly messages = inject(Messages);
  private readonly page = inject<ElementRef<HTMLElement>>(ElementRef);
  private cancelled = false;

  open(post: PlannerCard): void {
    if (this.carry.lifted()) return;
    this.dialog
      .open<BriefDialog, BriefData, BriefResult>(BriefDialog, {
        data: {
          id: post.id,
          alike: this.tray.alike().get(post.id) ?? null,
          movable: this.planner.mayPlan(post),
        },
        width: '560px',
        maxWidth: '94vw',
        ariaLabel: post.title,
      })
      .afterClosed()
      .subscribe((then) => {
        if (then === 'move') {
          this.menu(post);
          return;
        }
        // At once, so that what is done next is done to the post as it is now.
        if (then) this.planner.receive(then);
        // The card may be drawn again, and with it the place that had the focus.
        if (document.activeElement === document.body) this.focusCard(post.id);
      });
  }

  /** Escape while a card is dragged: it goes back where it was. */
  cancelDrag(): void {
    if (!this.carry.dragging()) return;
    this.cancelled = true;
    letGo();
  }

  drop(event: CardDrop): void {
    const post = event.item.data as PlannerCard;
    this.carry.over.set(null);
    const cancelled = this.cancelled;
    this.cancelled = false;
    if (cancelled) {
      this.messages.done('Put back where it was.');
      return;
    }
    const where = event.container.data;
    if (typeof where === 'object') void this.put(post, { to: 'day', date: where.date, byline: where.byline });
    else if (where === TRAY) {
      if (post.stage !== 'pitch') void this.put(post, { to: 'tray' });
    } else {
      const time = slotTimeAt(event.dropPoint);
      if (time || event.container !== event.previousContainer)
        void this.put(post, { to: 'day', date: where, time });
    }
  }

  private async put(post: PlannerCard, place: Place): Promise<void> {
    const done = await this.moves.put(post, place);
    if (!done) return;
    this.messages.done(this.sentence(post, done), this.moves.undo(post, done));
    this.focusCard(post.id);
    if (post.stage === 'pitch' && place.to === 'day') this.open(this.planner.newest(done.post));
  }

  private sentence(before: PlannerCard, { post, sentence }: MoveDone): string {
    if (post.stage === 'pitch') return `“${post.title}” is back in the tray.`;
    const by = post.byline?.id !== before.byline?.id && post.byline ? ` ${post.byline.name} writes it.` : '';
    const when = post.runLocal ? ` ${formatDate(post.runLocal)}, ${post.runLocal.slice(11, 16)}` : '';
    return (before.stage === 'pitch' ? `Commissioned for${when}.` : sentence) + by;
  }

  /**
   * Space lifts the card in focus; arrows carry it over the days; Space or Enter drops it; Escape puts it
   * back. M opens the menu.
   */
  key(event: KeyboardEvent, post: PlannerCard, inWeeks: boolean): void {
    if (!this.planner.mayPlan(post)) return;
    if (!this.carry.lifted()) {
      if (event.key === ' ' && inWeeks) {
        event.preventDefault();
        this.carry.lift(post);
        this.showTarget();
      } else if (event.key.toLowerCase() === 'm' && !event.ctrlKey && !event.metaKey) {
        event.preventDefault();
        this.menu(post);
      } else if (/^[0-5]$/.test(event.key) && post.stage === 'pitch') {
        event.preventDefault();
        void this.tray.rate(post, Number(event.key) || null);
      }
      return;
    }
    const step = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      this.carry.carry(step);
      this.showTarget();
    } else if (event.key === ' ' || event.key === 'Enter') {
      event.preventDefault();
      const held = this.carry.drop();
      if (held) void this.put(held.post, { to: 'day', date: held.date });
    } else if (event.key === 'Escape' || event.key === 'Tab') this.carry.putBack();
  }

  private showTarget(): void {
    this.page.nativeElement
      .querySelector(`[data-day='${this.carry.target() ?? ''}']`)
      ?.scrollIntoView({ block: 'nearest' });
  }

  private menu(post: PlannerCard): void {
    const data: PlaceData = {
      post,
      openSlots: this.planner.openSlots(),
      today: this.planner.view()?.today ?? '',
      warnings: (date, time) => this.planner.warningsAt(post, date, time),
    };
    void this.sheet
      .open<PlaceData, PlaceChoice>(PlaceMenu, data, `Move ${post.title}`)
      .then((choice) => choice && this.put(this.planner.newest(post), choice));
  }

  /** A new post typed straight onto a day, or a pitch taken from the tray for it. */
  fill({ date, slot }: { date: string; slot: SlotDate | null }): void {
    const data: FillData = {
      date,
      slot,
      pitches: this.planner.view()?.pitches ?? [],
      today: this.planner.view()?.today ?? '',
      warnings: (time, categoryId) => this.planner.warningsOfNew(date, time, categoryId),
    };
    this.dialog
      .open<FillDay, FillData, FillChoice>(FillDay, {
        data,
        width: '560px',
        maxWidth: '94vw',
        ariaLabel: `New post on ${formatDate(date)}`,
      })
      .afterClosed()
      .subscribe((choice) => {
        if (!choice) return;
        if ('pitch' in choice) {
          void this.put(choice.pitch, { to: 'day', date, time: choice.time });
          return;
        }
        this.planner.receive(choice.post);
        this.messages.done(
          `“${choice.post.title}” is on ${formatDate(choice.post.runLocal!)}, ` +
            `${choice.post.runLocal!.slice(11, 16)}.`,
          this.moves.undo({ ...choice.post, stage: 'pitch', runLocal: null }, choice),
        );
        this.focusCard(choice.post.id);
      });
  }

  private focusCard(id: number): void {
    setTimeout(() => this.page.nativeElement.querySelector<HTMLElement>(`[data-card='${id}']`)?.focus());
  }
}
