import { Injectable, inject, type Provider } from '@angular/core';
import { DateAdapter, MAT_DATE_FORMATS, type MatDateFormats } from '@angular/material/core';
import { MONTHS, WEEKDAYS, addDays, formatField, isDate, parseClock, parseDate } from '@keyroster/core';
import { WALL_CALENDAR } from './wall-calendar';

const two = (n: number) => String(n).padStart(2, '0');
const UNREADABLE = 'unreadable';

/** What fields show, and what they ask the adapter to read. */
const WALL_FORMATS: MatDateFormats = {
  parse: { dateInput: 'day', timeInput: 'clock' },
  display: {
    dateInput: 'day',
    monthYearLabel: 'month',
    dateA11yLabel: 'day',
    monthYearA11yLabel: 'month',
    timeInput: 'clock',
    timeOptionLabel: 'clock',
  },
};

/**
 * Days and times of day as the newsroom has them: wall time as text, `YYYY-MM-DD`, or `YYYY-MM-DDTHH:MM:SS` where a
 * time of day belongs to it. Weeks begin as the blog says, clocks have 24 hours, today is the blog's.
 */
@Injectable()
export class WallDateAdapter extends DateAdapter<string> {
  private readonly calendar = inject(WALL_CALENDAR);

  private part(date: string, from: number, to: number): number {
    return Number(date.slice(from, to)) || 0;
  }
  getYear(date: string): number {
    return this.part(date, 0, 4);
  }
  getMonth(date: string): number {
    return this.part(date, 5, 7) - 1;
  }
  getDate(date: string): number {
    return this.part(date, 8, 10);
  }
  /** Sunday is 0, as the library counts. */
  getDayOfWeek(date: string): number {
    return new Date(`${date.slice(0, 10)}T00:00:00Z`).getUTCDay();
  }
  getMonthNames(style: 'long' | 'short' | 'narrow'): string[] {
    return MONTHS.map((m) => (style === 'long' ? m : m.slice(0, style === 'short' ? 3 : 1)));
  }
  getDateNames(): string[] {
    return Array.from({ length: 31 }, (_, i) => String(i + 1));
  }
  getDayOfWeekNames(style: 'long' | 'short' | 'narrow'): string[] {
    return [WEEKDAYS[6], ...WEEKDAYS.slice(0, 6)].map((d) =>
      style === 'long' ? d : d.slice(0, style === 'short' ? 3 : 2),
    );
  }
  getYearName(date: string): string {
    return date.slice(0, 4);
  }
  getFirstDayOfWeek(): number {
    return this.calendar.firstWeekday() % 7;
  }
  getNumDaysInMonth(date: string): number {
    return new Date(Date.UTC(this.getYear(date), this.getMonth(date) + 1, 0)).getUTCDate();
  }
  clone(date: string): string {
    return date;
  }
  createDate(year: number, month: number, date: number): string {
    return `${String(year).padStart(4, '0')}-${two(month + 1)}-${two(date)}`;
  }
  today(): string {
    return this.calendar.today();
  }
  parse(value: unknown): string | null {
    if (typeof value !== 'string' || value.trim() === '') return null;
    return parseDate(value, this.today()) ?? UNREADABLE;
  }
  format(date: string, how: string): string {
    if (how === 'clock') return date.slice(11).replace(/^(\d\d:\d\d):00$/, '$1');
    return how === 'month' ? `${MONTHS[this.getMonth(date)]} ${date.slice(0, 4)}` : formatField(date);
  }
  addCalendarYears(date: string, years: number): string {
    return this.addCalendarMonths(date, years * 12);
  }
  addCalendarMonths(date: string, months: number): string {
    const month = this.getYear(date) * 12 + this.getMonth(date) + months;
    const first = this.createDate(Math.floor(month / 12), month % 12, 1);
    return this.createDate(
      this.getYear(first),
      this.getMonth(first),
      Math.min(this.getDate(date), this.getNumDaysInMonth(first)),
    );
  }
  addCalendarDays(date: string, days: number): string {
    return addDays(date.slice(0, 10), days);
  }
  toIso8601(date: string): string {
    return date.slice(0, 10);
  }
  isDateInstance(value: unknown): boolean {
    return typeof value === 'string';
  }
  isValid(date: string): boolean {
    return isDate(date.slice(0, 10)) && /^(T\d\d:\d\d(:\d\d)?)?$/.test(date.slice(10));
  }
  invalid(): string {
    return UNREADABLE;
  }
  override deserialize(value: unknown): string | null {
    return value === '' ? null : super.deserialize(value);
  }

  override setTime(date: string, hours: number, minutes: number, seconds: number): string {
    return `${date.slice(0, 10)}T${two(hours)}:${two(minutes)}:${two(seconds)}`;
  }
  override getHours(date: string): number {
    return this.part(date, 11, 13);
  }
  override getMinutes(date: string): number {
    return this.part(date, 14, 16);
  }
  override getSeconds(date: string): number {
    return this.part(date, 17, 19);
  }
  override parseTime(value: unknown): string | null {
    if (typeof value !== 'string' || value.trim() === '') return null;
    const clock = parseClock(value);
    return clock ? `${this.today()}T${clock.length === 5 ? `${clock}:00` : clock}` : UNREADABLE;
  }
  override addSeconds(date: string, seconds: number): string {
    const clock = this.getHours(date) * 3600 + this.getMinutes(date) * 60 + this.getSeconds(date) + seconds;
    const day = this.addCalendarDays(date, Math.floor(clock / 86_400));
    const rest = ((clock % 86_400) + 86_400) % 86_400;
    return this.setTime(day, Math.floor(rest / 3600), Math.floor((rest % 3600) / 60), rest % 60);
  }
}

/** For every part that holds days or times of day. */
export const WALL_DATES: Provider[] = [
  { provide: DateAdapter, useClass: WallDateAdapter },
  { provide: MAT_DATE_FORMATS, useValue: WALL_FORMATS },
];
