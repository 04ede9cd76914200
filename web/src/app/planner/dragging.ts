import type { CdkDragDrop } from '@angular/cdk/drag-drop';
import type { PersonRef } from '@keyroster/contract';

/** A cell of the lanes: a day of one writer. */
export interface LaneCell {
  date: string;
  byline: PersonRef | null;
}

/** What the tray calls itself as a place to drop a card; days call themselves by their date. */
export const TRAY = 'tray';

/** Where a card may land: a day, a writer's day, or the tray. */
export type DropPlace = string | LaneCell;
export type CardDrop = CdkDragDrop<DropPlace>;

/**
 * The time of the open slot that is under a point of the screen, if one is. The card in the hand lies on top
 * and is looked through.
 */
export function slotTimeAt({ x, y }: { x: number; y: number }): string | undefined {
  for (const element of document.elementsFromPoint(x, y)) {
    const slot = element.closest<HTMLElement>('[data-slot-time]');
    if (slot) return slot.dataset['slotTime'];
  }
  return undefined;
}

/**
 * Ends a drag where it is, as letting go does; what was to happen on letting go is the caller's to leave out.
 */
export function letGo(): void {
  document.dispatchEvent(new MouseEvent('mouseup', { bubbles: true }));
}
