import { ChangeDetectionStrategy, Component, Injectable, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { BodyOf, FieldValues, Problem, ReplyOf, RouteName, Versioned } from '@keyroster/contract';
import equal from 'fast-deep-equal';
import { firstValueFrom } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError, type CallInput } from '../api/api';
import { fieldLabel, valueInWords } from './field-words';
import type { Meanwhile } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';

/** Something with a version, as the screen showed it when a change of it began. */
export type Seen = Versioned & { id: number };

const isSeen = (value: unknown): value is Seen =>
  typeof value === 'object' && value !== null && 'id' in value && 'version' in value;

/** As often others may be before us, while nothing has to be chosen. */
const MAX_TRIES = 5;

/** A list that both changed holds what either added, without what either removed. */
function joined(mine: readonly unknown[], theirs: readonly unknown[], base: readonly unknown[]): unknown[] {
  const kept = theirs.filter((v) => mine.includes(v) || !base.includes(v));
  return [...kept, ...mine.filter((v) => !base.includes(v) && !kept.includes(v))];
}
const isPlainList = (value: unknown): value is unknown[] =>
  Array.isArray(value) && value.every((v) => typeof v !== 'object');

/** Settings of which each counts by itself, by what of them each changed; null where both changed the same one. */
function joinedSettings(mine: FieldValues, theirs: FieldValues, base: FieldValues): FieldValues | null {
  const changed = Object.keys(mine).filter((key) => !equal(mine[key], base[key]));
  const both = (key: string) => !equal(theirs[key], base[key]) && !equal(theirs[key], mine[key]);
  if (changed.some(both)) return null;
  return { ...theirs, ...Object.fromEntries(changed.map((key) => [key, mine[key]])) };
}
const SETTINGS: readonly string[] = ['checks'];

/** What is to be saved after somebody else was first: single fields joined, and those that both changed. */
export function joinValues(
  mine: FieldValues,
  theirs: FieldValues,
  base: FieldValues,
): { values: FieldValues; both: string[] } {
  const values = { ...mine };
  const both: string[] = [];
  for (const field of Object.keys(mine)) {
    if (!(field in theirs) || equal(mine[field], theirs[field]) || equal(theirs[field], base[field]))
      continue;
    const [a, b, was] = [mine[field], theirs[field], base[field]];
    if (equal(a, was)) values[field] = b;
    else if (isPlainList(a) && isPlainList(b) && isPlainList(was)) values[field] = joined(a, b, was);
    else {
      const settings = SETTINGS.includes(field)
        ? joinedSettings(a as FieldValues, b as FieldValues, was as FieldValues)
        : null;
      if (settings) values[field] = settings;
      else both.push(field);
    }
  }
  return { values, both };
}

/** Fields of which one of two values is chosen, one after the other. */
class Choice {
  readonly meanwhile = signal<readonly Meanwhile[]>([]);
  readonly asked = signal(0);
  readonly theirs: string[] = [];
  constructor(
    fields: readonly Meanwhile[],
    private readonly ended: () => void,
  ) {
    this.meanwhile.set(fields);
  }
  choose(field: string, mine: boolean): void {
    if (!mine) this.theirs.push(field);
    this.meanwhile.update((fields) => fields.filter((f) => f.field !== field));
    if (this.meanwhile().length === 0) this.ended();
  }
}

@Component({
  selector: 'kr-conflict',
  imports: [MatButton, MatDialogModule, TwoValues],
  template: `
    <div class="dialog">
      <h2>Changed by two at once</h2>
      <kr-two-values [of]="choice" />
      <div class="ends">
        <button matButton="outlined" type="button" [mat-dialog-close]="null">Cancel</button>
      </div>
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
class Conflict {
  private readonly dialog = inject<MatDialogRef<Conflict, string[]>>(MatDialogRef);
  protected readonly choice = new Choice(inject<readonly Meanwhile[]>(MAT_DIALOG_DATA), () =>
    this.dialog.close(this.choice.theirs),
  );
}

/**
 * Saves what others may change as well. It says which version was seen; where that is no longer the present one, what
 * only one of the two changed is joined, and of what both changed one value is chosen.
 */
@Injectable({ providedIn: 'root' })
export class Saving {
  private readonly api = inject(Api);
  private readonly dialogs = inject(MatDialog);
  private readonly session = inject(SessionService);

  /** What our own saves brought, until the screen has it: nobody is in conflict with themselves. */
  private readonly latest = new Map<string, Seen>();

  /** `seen` holds the fields by the names that they have in the body. */
  async save<K extends RouteName>(name: K, seen: Seen, body: BodyOf<K> & object): Promise<ReplyOf<K>> {
    let was: FieldValues & Seen = { ...this.present(name, seen) };
    let values = body as FieldValues;
    for (let tries = 1; ; tries++)
      try {
        const input = { id: seen.id, body: values, ifMatch: was.version };
        const saved = await this.api.call(name, input as unknown as CallInput<K>);
        if (isSeen(saved) && saved.id === seen.id)
          this.latest.set(this.keyOf(name, seen), { ...saved, ...values });
        return saved;
      } catch (error) {
        const problem = error instanceof ApiError ? error.problem : null;
        if (problem?.code !== 'version-conflict' || !problem.current || tries === MAX_TRIES) throw error;
        const { current } = problem;
        const { values: next, both } = joinValues(values, current, was);
        const theirs = both.length === 0 ? [] : await this.ask(problem, both, current, values);
        // Nothing is saved, and what was typed stays where it is.
        if (theirs === null) throw error;
        for (const field of theirs) next[field] = current[field];
        values = next;
        was = { ...was, ...current, version: problem.version! };
      }
  }

  /** Removes something as it was seen. */
  remove<K extends RouteName>(name: K, seen: Seen): Promise<ReplyOf<K>> {
    const { id, version } = this.present(name, seen);
    return this.api.call(name, { id, ifMatch: version } as unknown as CallInput<K>);
  }

  /** A person has a version on each of their blogs. */
  private keyOf(name: RouteName, { id }: Seen): string {
    return [this.session.blog()?.id, name.split('.')[0], id].join(' ');
  }

  /** What was seen, or what we made of it since. */
  private present(name: RouteName, seen: Seen): Seen {
    const own = this.latest.get(this.keyOf(name, seen));
    return own && own.version > seen.version ? { ...seen, ...own } : seen;
  }

  private async ask(
    { changedBy }: Problem,
    both: readonly string[],
    current: FieldValues,
    own: FieldValues,
  ): Promise<string[] | null> {
    const category = (id: number) => this.session.category(id)?.name ?? '';
    const data: Meanwhile[] = both.map((field) => ({
      field,
      label: fieldLabel(field),
      theirs: valueInWords(current[field], field, { category }),
      mine: valueInWords(own[field], field, { category }),
      ...(changedBy ? { by: changedBy } : {}),
    }));
    const dialog = this.dialogs.open<Conflict, readonly Meanwhile[], string[]>(Conflict, {
      data,
      role: 'alertdialog',
      ariaLabel: 'Changed by two at once',
      width: '520px',
      maxWidth: '94vw',
    });
    return (await firstValueFrom(dialog.afterClosed())) ?? null;
  }
}
