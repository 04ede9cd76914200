import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import type { PersonRef, PlannerCard } from '@keyroster/contract';
import {
  WEEKDAYS,
  formatAbsence,
  formatDate,
  formatLoad,
  weekLoads,
  weekday,
  type WeekLoad,
} from '@keyroster/core';
import { BittingMark } from '../ui/bitting-mark';
import { PersonBadge } from '../ui/person-badge';
import { CarryService } from './carry.service';
import type { CardDrop, DropPlace } from './dragging';
import { PlannerService } from './planner.service';

interface Lane {
  key: string;
  person: PersonRef | null;
  capacity: number | null;
  loads: (WeekLoad & { words: string; over: boolean })[];
  cells: {
    date: string;
    weekend: boolean;
    away: string | null;
    posts: PlannerCard[];
    place: DropPlace;
    words: string;
  }[];
}

/** A lane for each writer, days across: who carries what and when, who is away, and whose week is full. */
@Component({
  selector: 'kr-by-person',
  imports: [CdkDrag, CdkDropList, PersonBadge, BittingMark],
  templateUrl: './by-person.html',
  styleUrl: './by-person.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ByPerson {
  protected readonly planner = inject(PlannerService);
  protected readonly carry = inject(CarryService);
  readonly opened = output<PlannerCard>();
  readonly dropped = output<CardDrop>();
  readonly keyed = output<{ event: KeyboardEvent; post: PlannerCard }>();

  protected readonly days = computed(() =>
    this.planner
      .weeks()
      .flatMap((w) => w.days)
      .map((d) => ({
        date: d.date,
        today: d.today,
        weekend: d.weekend,
        label: d.weekend
          ? WEEKDAYS[weekday(d.date) - 1]![0]!
          : `${WEEKDAYS[weekday(d.date) - 1]!.slice(0, 2)} ${d.number}`,
      })),
  );

  protected readonly lanes = computed((): Lane[] => {
    const view = this.planner.view();
    if (!view) return [];
    const starts = this.planner.weeks().map((w) => w.days[0]!.date);
    const chosen = this.planner.filter().personId;
    const byCell = new Map<string, PlannerCard[]>();
    for (const post of this.planner.shown()) {
      const key = `${post.byline?.id ?? 0}|${post.runLocal!.slice(0, 10)}`;
      byCell.set(key, [...(byCell.get(key) ?? []), post]);
    }
    const load = view.dated.map((p) => ({
      runLocal: p.runLocal!,
      stage: p.stage,
      bylineId: p.byline?.id ?? null,
    }));
    const lane = (person: (PersonRef & { capacity: number | null }) | null): Lane => ({
      key: String(person?.id ?? 0),
      person,
      capacity: person?.capacity ?? null,
      loads: weekLoads(
        { id: person?.id ?? 0, capacity: person?.capacity ?? null },
        load,
        view.absences,
        starts,
      ).map((l) => ({ ...l, words: formatLoad(l), over: l.fits !== null && l.posts > l.fits })),
      cells: this.days().map(({ date, weekend }) => {
        const absence =
          person && view.absences.find((a) => a.personId === person.id && a.from <= date && a.to >= date);
        const away = absence
          ? `${person.name} is ${formatAbsence(absence, view.today)}${absence.note ? `: ${absence.note}` : ''}`
          : null;
        return {
          date,
          weekend,
          away,
          posts: byCell.get(`${person?.id ?? 0}|${date}`) ?? [],
          place: { date, byline: person && { id: person.id, name: person.name, initials: person.initials } },
          words: `${person?.name ?? 'Nobody yet'}, ${formatDate(date)}${absence ? ', away' : ''}`,
        };
      }),
    });
    const known = new Set(view.writers.map((w) => w.id));
    // Somebody who left may still be credited here.
    const gone = [
      ...new Map(
        this.planner
          .shown()
          .flatMap((p) =>
            p.byline && !known.has(p.byline.id)
              ? [[p.byline.id, { ...p.byline, capacity: null }] as const]
              : [],
          ),
      ).values(),
    ];
    const people = [...view.writers, ...gone].filter((w) => chosen === null || w.id === chosen);
    const nobody = lane(null);
    return [
      ...people.map(lane),
      ...(chosen === null && nobody.cells.some((c) => c.posts.length > 0) ? [nobody] : []),
    ];
  });

  protected said(post: PlannerCard): string {
    return this.planner
      .warningsOf(post)
      .map((w) => w.sentence)
      .join(' ');
  }
}
