import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { PlannerCard } from '@keyroster/contract';
import { formatClock, formatShortDate, type PlanWarning, type SlotDate } from '@keyroster/core';
import { CategoryTab } from '../site/category-tab';
import { ClockField, DateField, textControl } from '../ui/fields';
import { ErrorLine } from '../ui/error-line';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';

export interface PlaceData {
  post: PlannerCard;
  openSlots: SlotDate[];
  today: string;
  /** What would be wrong with a date. */
  warnings: (date: string, time: string) => PlanWarning[];
}
export type PlaceChoice = { to: 'tray' } | { to: 'day'; date: string; time: string };

/**
 * Where to put a card, as a list: its category's open slots first, then the others, any date, and the tray.
 */
@Component({
  selector: 'kr-place',
  imports: [MatButton, MatDialogModule, CategoryTab, ClockField, DateField, ErrorLine, ReactiveFormsModule],
  template: `
    <div class="dialog">
      <h2>Move “{{ data.post.title }}”</h2>
      <ul>
        @for (slot of slots; track slot.date + slot.slotId) {
          <li>
            <button matButton (click)="dialog.close({ to: 'day', date: slot.date, time: slot.time })">
              <span>{{ short(slot.date) }} {{ slot.time }}</span
              ><kr-category [id]="slot.categoryId" />
            </button>
            @for (w of data.warnings(slot.date, slot.time); track w.kind) {
              <small>{{ w.sentence }}</small>
            }
          </li>
        } @empty {
          <li class="soft">No slot is open in the weeks shown.</li>
        }
      </ul>
      <form class="row" [formGroup]="form" (ngSubmit)="other()" novalidate>
        <kr-date label="Date" quiet formControlName="date" />
        <kr-clock label="Time" quiet formControlName="time" />
        <button matButton="outlined" type="submit">Put it on this date</button>
      </form>
      <kr-error [of]="error()" />
      <div class="ends">
        @if (data.post.stage === 'commissioned' || data.post.stage === 'drafting') {
          <button matButton="outlined" (click)="dialog.close({ to: 'tray' })">Back to the tray</button>
        }
        <button matButton="outlined" mat-dialog-close>Cancel</button>
      </div>
    </div>
  `,
  styles: `
    li small {
      display: block;
      color: var(--brass);
      padding: 0 10px 5px;
    }
    ul {
      list-style: none;
      margin: 0 0 12px;
      padding: 0;
      max-height: 45vh;
      overflow: auto;
    }
    form kr-date {
      flex: 1.4;
    }
    form kr-clock {
      flex: 1;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PlaceMenu {
  protected readonly data = inject<PlaceData>(MAT_DIALOG_DATA);
  protected readonly dialog = inject<MatDialogRef<PlaceMenu, PlaceChoice>>(MatDialogRef);
  protected readonly error = signal('');
  protected readonly form = new FormGroup({
    date: textControl(this.data.post.runLocal?.slice(0, 10) ?? this.data.today),
    time: textControl(this.data.post.runLocal ? formatClock(this.data.post.runLocal) : '08:00'),
  });
  protected readonly slots = [
    ...this.data.openSlots.filter((s) => s.categoryId === this.data.post.categoryId),
    ...this.data.openSlots.filter((s) => s.categoryId !== this.data.post.categoryId),
  ].slice(0, 12);
  protected readonly short = (date: string) => formatShortDate(date, this.data.today);

  protected other(): void {
    const { date, time } = this.form.getRawValue();
    if (!date) this.error.set('Choose a date.');
    else if (!time) this.error.set('Type the time like 08:00.');
    else this.dialog.close({ to: 'day', date, time });
  }
}
