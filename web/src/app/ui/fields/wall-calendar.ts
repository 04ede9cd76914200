import { InjectionToken } from '@angular/core';

/** The day it is, and the ISO weekday on which weeks begin, as the application has them. */
export interface WallCalendar {
  today(): string;
  firstWeekday(): number;
}
export const WALL_CALENDAR = new InjectionToken<WallCalendar>('WALL_CALENDAR');
