import { computed, signal, type Signal } from '@angular/core';
import type { Sort } from '@angular/material/sort';

type Value = string | number | boolean | null | undefined;

/**
 * Rows in the order that the heads of their table ask for; as they came while none is asked for. What has no value
 * stands last in both directions, and what is alike stays as it came.
 */
export class Sorted<T> {
  private readonly asked = signal<Sort>({ active: '', direction: '' });
  readonly rows: Signal<readonly T[]>;

  constructor(given: () => readonly T[], values: Readonly<Record<string, (row: T) => Value>>) {
    this.rows = computed(() => {
      const { active, direction } = this.asked();
      const valueOf = direction === '' ? undefined : values[active];
      if (!valueOf) return given();
      const sign = direction === 'asc' ? 1 : -1;
      return [...given()].sort((a, b) => compare(valueOf(a), valueOf(b), sign));
    });
  }

  by(sort: Sort): void {
    this.asked.set(sort);
  }
}

const isNone = (value: Value) => value === null || value === undefined || value === '';

function compare(a: Value, b: Value, sign: number): number {
  if (isNone(a) || isNone(b)) return Number(isNone(a)) - Number(isNone(b));
  if (typeof a === 'string' && typeof b === 'string')
    return sign * a.localeCompare(b, 'en-GB', { numeric: true, sensitivity: 'base' });
  return sign * (Number(a) - Number(b));
}
