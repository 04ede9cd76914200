import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { unpackPlanner, type PersonView, type PlannerView } from '@keyroster/contract';
import { addDays, sayShortDate, weekLoads } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { PersonBadge } from '../ui/person-badge';
import { Say } from '../ui/say.service';

const WEEKS = 4;

/** How many posts a week fit, person by person, beside what the coming weeks hold. */
@Component({
  imports: [RouterLink, PersonBadge],
  template: `
    <div class="screen">
      <p class="back"><a routerLink="/planner">Planner</a></p>
      <h1>Capacity</h1>
      <p class="soft lead">Posts a week that a person can write. A week with days away holds less in proportion. A post counts in the week in which it runs. Empty means that nobody has said; then nothing is warned of.</p>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <table class="list">
        <caption class="unseen">Capacity and load</caption>
        <thead><tr><th scope="col">Who</th><th scope="col">Posts a week</th>@for (w of starts(); track w) { <th scope="col">from {{ short(w) }}</th> }</tr></thead>
        <tbody>@for (row of rows(); track row.person.id) {
          <tr><td><kr-person [person]="row.person" /></td>
            <td>@if (manages()) { <input type="number" min="0" max="50" [attr.aria-label]="'Posts a week, ' + row.person.name" [value]="row.person.capacity ?? ''" (change)="change(row.person, $any($event.target))" /> } @else { {{ row.person.capacity ?? '–' }} }</td>
            @for (l of row.loads; track l.start) { <td [class.over]="l.fits !== null && l.posts > l.fits">{{ l.posts }}{{ l.fits === null ? '' : ' of ' + l.fits }}@if (l.daysAway > 0) { <small>{{ l.daysAway === 7 ? 'away' : l.daysAway + ' d away' }}</small> }</td> }</tr>
        }</tbody>
      </table>
    </div>
  `,
  styleUrl: './side-page.scss',
  styles: `td input { width: 64px; } td:last-child { text-align: left; } .over { color: var(--madder); font-weight: 650; } td small { display: block; color: var(--soft); font-weight: 450; }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CapacityPage {
  private readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  private readonly people = signal<PersonView[]>([]);
  private readonly view = signal<PlannerView | null>(null);
  protected readonly fault = signal('');
  protected readonly manages = () => this.session.may('managePeople');
  protected readonly short = (date: string) => sayShortDate(date, this.view()?.today);
  protected readonly starts = computed(() => { const from = this.view()?.from; return from ? Array.from({ length: WEEKS }, (_, i) => addDays(from, 7 * i)) : []; });
  protected readonly rows = computed(() => {
    const view = this.view();
    const posts = (view?.dated ?? []).map((p) => ({ runLocal: p.runLocal!, stage: p.stage, bylineId: p.byline?.id ?? null }));
    return this.people().filter((p) => p.active && p.role !== 'reader' && p.role !== 'proofreader').map((person) => ({ person, loads: weekLoads(person, posts, view?.absences ?? [], this.starts()) }));
  });

  constructor() {
    void this.refresh();
    inject(Live).whenever(['people', 'post'], () => void this.refresh());
  }

  protected async change(person: PersonView, field: HTMLInputElement): Promise<void> {
    const capacity = field.value.trim() === '' ? null : Number(field.value);
    if (capacity !== null && !(Number.isInteger(capacity) && capacity >= 0 && capacity <= 50)) {
      this.fault.set('Capacity is a whole number of posts a week, from 0 to 50, or nothing.');
      return;
    }
    const store = async (value: number | null) => {
      await this.api.call('people.change', { id: person.id, body: { capacity: value } });
      await this.refresh();
    };
    try {
      await store(capacity);
      this.fault.set('');
      this.say.done(capacity === null ? `Nothing is said about ${person.name}’s capacity any more.` : `${person.name}: ${capacity} a week.`, () => store(person.capacity));
    } catch (error) {
      field.value = String(person.capacity ?? '');
      this.fault.set(sentenceOf(error));
    }
  }

  private async refresh(): Promise<void> {
    const [people, view] = await Promise.all([this.api.call('people.list', {}).catch(() => null), this.api.call('planner.see', { query: { weeks: WEEKS } }).then(unpackPlanner).catch(() => null)]);
    if (people) this.people.set(people);
    if (view) this.view.set(view);
  }
}
