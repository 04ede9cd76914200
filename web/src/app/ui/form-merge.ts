import { signal } from '@angular/core';
import type { FormGroup } from '@angular/forms';
import equal from 'fast-deep-equal';

/** A field that two people changed at once: the form holds the one value, the newsroom the other. */
export interface Meanwhile {
  field: string;
  label: string;
  /** The other value, in words. */
  theirs: string;
  /** Who it is from, where that is known. */
  by?: string;
  /** One's own value in words, where it is not on the screen. */
  mine?: string;
}

interface Fields<T> {
  /** What each field is called on the screen. */
  labels: Record<keyof T, string>;
  /** All values as they stand on the screen; else the form's own. */
  read?: () => T;
  /** How single fields are put on the screen, where resetting their control is not enough. */
  draw?: { [K in keyof T]?: (value: T[K]) => void };
  /** What of a value somebody decides; the rest of it only describes. Without it, all. */
  decided?: { [K in keyof T]?: (value: T[K]) => unknown };
  /** How single values are said. */
  say?: { [K in keyof T]?: (value: T[K]) => string };
}

function inWords(value: unknown): string {
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  if (value === null || value === '' || (Array.isArray(value) && value.length === 0)) return 'empty';
  if (typeof value === 'string' || typeof value === 'number') return `“${value}”`;
  return Array.isArray(value) ? `${value.length} entries, other than yours` : 'other than yours';
}

/**
 * Joins what a form holds with what others save meanwhile, field by field. What nobody touched here follows them, what
 * was typed here stays, and where both changed the same field, the other value is shown with a choice.
 */
export class FormMerge<T extends object> {
  /** What the newsroom had when the form last met it, and how that stood on the screen. */
  private base: T | null = null;
  private readonly drawn = signal<T | null>(null);
  /** Other values that nobody has chosen or refused yet. */
  private readonly other = new Map<keyof T, T[keyof T]>();
  readonly meanwhile = signal<readonly Meanwhile[]>([]);
  /** How often somebody saved before they chose. */
  readonly asked = signal(0);

  constructor(
    private readonly form: FormGroup,
    private readonly fields: Fields<T>,
  ) {}

  /** What stands on the screen. */
  values(): T {
    return this.fields.read ? this.fields.read() : (this.form.getRawValue() as T);
  }
  private keys(): (keyof T)[] {
    return Object.keys(this.fields.labels) as (keyof T)[];
  }

  private isSame<K extends keyof T>(key: K, a: T[K], b: T[K]): boolean {
    const decided = this.fields.decided?.[key];
    return decided ? equal(decided(a), decided(b)) : equal(a, b);
  }

  /** Is there something on the screen that is not saved? */
  isUnsaved(): boolean {
    const drawn = this.drawn();
    if (drawn === null) return false;
    const mine = this.values();
    return this.keys().some((key) => !this.isSame(key, mine[key], drawn[key]));
  }

  /** Puts other values into the form, whatever it holds: what it is about was opened or left. */
  open(values: T): void {
    for (const key of this.keys()) this.put(key, values[key]);
    this.form.markAsPristine();
    this.form.markAsUntouched();
    this.settle(values);
  }

  /** What the newsroom has now, of the same thing. */
  meet(now: T): void {
    const before = this.drawn();
    if (this.base === null || before === null || !this.isUnsaved()) return this.open(now);
    const [mine, base, drawn] = [this.values(), this.base, { ...before }];
    for (const key of this.keys()) {
      const isMine = !this.isSame(key, mine[key], drawn[key]);
      if (!isMine && !equal(now[key], base[key])) this.put(key, now[key]);
      const bothSaid = isMine && this.isSame(key, now[key], mine[key]);
      if (isMine && !bothSaid && !this.isSame(key, now[key], base[key])) this.other.set(key, now[key]);
      if (bothSaid) this.other.delete(key);
      // A field that was followed, or that both made the same, is as the newsroom has it.
      if (!isMine || bothSaid) drawn[key] = this.values()[key];
    }
    this.base = now;
    this.drawn.set(drawn);
    this.tell();
  }

  /** What was sent is saved and came back as `now`; what was typed since stays, unsaved. */
  saved(sent: T, now: T = sent): void {
    const [mine, drawn] = [this.values(), { ...sent }];
    for (const key of this.keys()) {
      if (!this.isSame(key, mine[key], sent[key])) continue;
      if (!equal(now[key], mine[key])) this.put(key, now[key]);
      drawn[key] = this.values()[key];
    }
    this.settle(now);
    this.drawn.set(drawn);
    if (!this.isUnsaved()) this.form.markAsPristine();
  }

  /** What the form was about is gone, and nothing of it is to be saved. */
  forget(): void {
    this.base = null;
    this.drawn.set(null);
    this.other.clear();
    this.tell();
  }

  /** Is there something to choose before it can be saved? Who saves is led there. */
  mustChoose(): boolean {
    if (this.other.size === 0) return false;
    this.asked.update((times) => times + 1);
    return true;
  }

  /** One of two values is chosen. */
  choose(field: string, mine: boolean): void {
    const key = field as keyof T;
    const theirs = this.other.get(key);
    if (theirs === undefined) return;
    if (!mine) {
      this.put(key, theirs);
      const drawn = this.drawn();
      if (drawn) this.drawn.set({ ...drawn, [key]: this.values()[key] });
    }
    this.other.delete(key);
    this.tell();
  }

  private put<K extends keyof T>(key: K, value: T[K]): void {
    const draw = this.fields.draw?.[key];
    if (draw) draw(value);
    else this.form.get(key as string)?.reset(value);
  }
  private settle(values: T): void {
    this.base = values;
    this.drawn.set(this.values());
    this.other.clear();
    this.tell();
  }
  private tell(): void {
    // Who is asked next time is not reproached for this time.
    if (this.other.size === 0) this.asked.set(0);
    this.meanwhile.set(
      [...this.other].map(([key, value]) => ({
        field: key as string,
        label: this.fields.labels[key],
        theirs: (this.fields.say?.[key] ?? inWords)(value),
      })),
    );
  }
}
