import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { unpackPlanner, type PersonView, type PlannerView } from '@keyroster/contract';
import { addDays, formatShortDate, weekLoads } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { PersonBadge } from '../ui/person-badge';
import { Messages } from '../ui/messages.service';
import { NumberField } from '../ui/fields';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';
import { MatSortModule } from '@angular/material/sort';
import { Sorted } from '../ui/sorted';
import { Saving } from '../changes/saving.service';

const WEEKS = 8;

/** How many posts a week fit, person by person, beside what the coming weeks hold. */
@Component({
  imports: [PersonBadge, NumberField, ErrorLine, PageHead, MatSortModule],
  templateUrl: './capacity.page.html',
  styleUrl: './side-page.scss',
  styles: `
    td kr-number {
      max-width: 90px;
    }
    td:last-child {
      text-align: left;
    }
    .over {
      color: var(--madder);
      font-weight: 650;
    }
    td small {
      display: block;
      color: var(--soft);
      font-weight: 450;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CapacityPage {
  private readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  private readonly people = signal<PersonView[]>([]);
  private readonly view = signal<PlannerView | null>(null);
  protected readonly error = signal('');
  protected readonly manages = () => this.session.may('managePeople');
  protected readonly short = (date: string) => formatShortDate(date, this.view()?.today);
  protected readonly starts = computed(() => {
    const from = this.view()?.from;
    return from ? Array.from({ length: WEEKS }, (_, i) => addDays(from, 7 * i)) : [];
  });
  protected readonly rows = computed(() => {
    const view = this.view();
    const posts = (view?.dated ?? []).map((p) => ({
      runLocal: p.runLocal!,
      stage: p.stage,
      bylineId: p.byline?.id ?? null,
    }));
    return this.people()
      .filter((p) => p.active && p.role !== 'reader' && p.role !== 'proofreader')
      .map((person) => ({ person, loads: weekLoads(person, posts, view?.absences ?? [], this.starts()) }));
  });
  protected readonly sorted = new Sorted<ReturnType<CapacityPage['rows']>[number]>(() => this.rows(), {
    who: (r) => r.person.name,
    capacity: (r) => r.person.capacity,
  });

  constructor() {
    void this.refresh();
    inject(Live).whenever(['people', 'post'], () => this.refresh());
  }

  protected async change(person: PersonView, capacity: number | null): Promise<void> {
    const store = async (seen: PersonView, value: number | null) => {
      const changed = await this.saving.save('people.change', seen, { capacity: value });
      await this.refresh();
      return changed;
    };
    try {
      const changed = await store(person, capacity);
      this.error.set('');
      this.messages.done(
        capacity === null
          ? `Nothing is said about ${person.name}’s capacity any more.`
          : `${person.name}: ${capacity} a week.`,
        async () => {
          await store(changed, person.capacity);
        },
      );
    } catch (error) {
      this.error.set(sentenceOf(error));
      await this.refresh();
    }
  }

  private async refresh(): Promise<void> {
    const [people, view] = await Promise.all([
      this.api.call('people.list', {}).catch(() => null),
      this.api
        .call('planner.see', { query: { weeks: WEEKS } })
        .then(unpackPlanner)
        .catch(() => null),
    ]);
    if (people) this.people.set(people);
    if (view) this.view.set(view);
  }
}
