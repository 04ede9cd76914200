import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { AbsenceView, PersonView } from '@keyroster/contract';
import { daysBetween, sayAbsence, sayCount, sayShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { PersonBadge } from '../ui/person-badge';
import { Say } from '../ui/say.service';

/** Who is away and when. Everybody enters their own; the managing editor enters anybody's. */
@Component({
  imports: [RouterLink, PersonBadge],
  template: `
    <div class="screen">
      <p class="back"><a routerLink="/planner">Planner</a></p>
      <h1>Absences</h1>
      <p class="soft lead">Days on which somebody does not work. The planner warns before a post is put where its writer is away, and counts what still fits into that week. The whole newsroom sees them.</p>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <table class="list">
        <caption class="unseen">Absences that are not over</caption>
        <thead><tr><th scope="col">Who</th><th scope="col">First day</th><th scope="col">Last day</th><th scope="col">Note</th><th scope="col"><span class="unseen">Change</span></th></tr></thead>
        <tbody>@for (a of absences(); track a.id) {
          <tr><td><kr-person [person]="a.person" /></td>
            @if (editing() === a.id) {
              <td><input #from type="date" aria-label="First day" [value]="a.from" /></td><td><input #to type="date" aria-label="Last day" [value]="a.to" /></td><td><input #note aria-label="Note" maxlength="300" [value]="a.note" /></td>
              <td><button class="btn small act" (click)="change(a, from.value, to.value, note.value)">Store</button> <button class="btn small" (click)="editing.set(null)">Cancel</button></td>
            } @else {
              <td>{{ short(a.from) }}</td><td>{{ short(a.to) }} <span class="soft">({{ length(a) }})</span></td><td>{{ a.note }}</td>
              <td>@if (a.mine) { <button class="btn small" [attr.aria-label]="'Change: ' + a.person.name + ', ' + words(a)" (click)="editing.set(a.id)">Change</button> <button class="btn small" [attr.aria-label]="'Remove: ' + a.person.name + ', ' + words(a)" (click)="remove(a)">Remove</button> }</td> }</tr>
        } @empty { <tr><td colspan="5" class="soft">Nobody is away. Enter your next days off below.</td></tr> }</tbody>
      </table>
      <form class="add" (submit)="add($event, who.value, first.value, last.value, why)" novalidate>
        <label class="field"><span>Who</span><select #who>@for (p of people(); track p.id) { <option [value]="p.id" [selected]="p.id === session.me()?.id">{{ p.name }}</option> }</select></label>
        <label class="field"><span>First day</span><input #first type="date" (change)="!last.value && (last.value = first.value)" /></label>
        <label class="field"><span>Last day</span><input #last type="date" /></label>
        <label class="field"><span>Note</span><input #why maxlength="300" /></label>
        <button class="btn act" type="submit">Enter the absence</button>
      </form>
    </div>
  `,
  styleUrl: './side-page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AbsencesPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  protected readonly absences = signal<AbsenceView[]>([]);
  private readonly everybody = signal<PersonView[]>([]);
  /** Whom this person may enter an absence for. */
  protected readonly people = computed(() => this.everybody().filter((p) => p.active && p.role !== 'reader' && (this.session.me()?.role === 'managing editor' || p.id === this.session.me()?.id)));
  protected readonly editing = signal<number | null>(null);
  protected readonly fault = signal('');
  private readonly today = new Date().toISOString().slice(0, 10);
  protected readonly short = (date: string) => sayShortDate(date, this.today);
  protected readonly words = (a: AbsenceView) => sayAbsence(a, this.today);
  protected readonly length = (a: AbsenceView) => sayCount(daysBetween(a.from, a.to) + 1, 'day');

  constructor() {
    void this.refresh();
    inject(Live).whenever(['people'], () => void this.refresh());
  }

  protected add(event: Event, personId: string, from: string, to: string, note: HTMLInputElement): void {
    event.preventDefault();
    if (!from || !to) {
      this.fault.set('Choose the first and the last day.');
      return;
    }
    void this.act(async () => {
      const a = await this.api.call('absences.add', { body: { personId: Number(personId), from, to, note: note.value } });
      note.value = '';
      this.say.done(`${a.person.name} is ${this.words(a)}.`, () => this.act(() => this.api.call('absences.remove', { id: a.id })));
    });
  }

  protected change(a: AbsenceView, from: string, to: string, note: string): void {
    void this.act(async () => {
      const done = await this.api.call('absences.change', { id: a.id, body: { ...(from ? { from } : {}), ...(to ? { to } : {}), note } });
      this.editing.set(null);
      this.say.done(`${done.person.name} is ${this.words(done)}.`, () => this.act(() => this.api.call('absences.change', { id: a.id, body: { from: a.from, to: a.to, note: a.note } })));
    });
  }

  protected remove(a: AbsenceView): void {
    void this.act(async () => {
      await this.api.call('absences.remove', { id: a.id });
      this.say.done(`${a.person.name} is not ${this.words(a)} any more.`, () => this.act(() => this.api.call('absences.add', { body: { personId: a.personId, from: a.from, to: a.to, note: a.note } })));
    });
  }

  private async act(what: () => Promise<unknown>): Promise<void> {
    try {
      await what();
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
    await this.refresh();
  }

  private async refresh(): Promise<void> {
    const [absences, people] = await Promise.all([this.api.call('absences.list', {}).catch(() => null), this.api.call('people.list', {}).catch(() => null)]);
    if (absences) this.absences.set(absences);
    if (people) this.everybody.set(people);
  }
}
