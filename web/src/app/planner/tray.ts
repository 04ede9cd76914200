import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { FileButton } from '../ui/file-button';
import type { PlannerCard } from '@keyroster/contract';
import { formatDistance, formatPressing, formatDateConstraint } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { sentenceOf } from '../api/api';
import { CategoryTab } from '../site/category-tab';
import { ChoiceField, TextField } from '../ui/fields';
import { CarryService } from './carry.service';
import { TRAY, type CardDrop, type DropPlace } from './dragging';
import { PlannerService } from './planner.service';
import { PlannerPreferences, TRAY_GROUPS, TRAY_SORTS } from './planner-preferences.service';
import { TrayService, type TrayGroup } from './tray.service';
import { ErrorLine } from '../ui/error-line';
import { facts } from '../ui/facts';

/** More at once is an import, not a list of thoughts. */
const MAX_ROWS = 500;

/** Where pitches wait, with a line to type the next one into. */
@Component({
  selector: 'kr-tray',
  imports: [FileButton, CdkDrag, CdkDropList, CategoryTab, TextField, ChoiceField, ErrorLine],
  templateUrl: './tray.html',
  styleUrl: './tray.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Tray {
  protected readonly planner = inject(PlannerService);
  protected readonly tray = inject(TrayService);
  protected readonly carry = inject(CarryService);
  protected readonly taste = inject(PlannerPreferences);
  protected readonly session = inject(SessionService);
  readonly opened = output<PlannerCard>();
  readonly dropped = output<CardDrop>();
  readonly keyed = output<{ event: KeyboardEvent; post: PlannerCard }>();
  protected readonly place: DropPlace = TRAY;
  protected readonly groups = TRAY_GROUPS.map((value) => ({ value, label: `by ${value}` }));
  protected readonly sorts = TRAY_SORTS;
  protected readonly category = signal<number | null>(null);
  protected readonly csvHelp =
    'A CSV file with the column “title”, and perhaps thought, category, writer, not before, not after, must be on';
  protected readonly kept = signal('');
  protected readonly error = signal('');
  protected readonly count = computed(() => this.planner.view()?.pitches.length ?? 0);
  protected readonly mine = computed(() =>
    (this.session.blog()?.categories ?? [])
      .filter((c) => this.session.me()?.role !== 'editor' || this.session.isDeskFor(c.id))
      .map((c) => ({ value: c.id, label: `into: ${c.name}` })),
  );
  protected readonly percent = (score: number) => `${Math.round(score * 100)}%`;

  private readonly today = computed(() => this.planner.view()?.today ?? '');

  protected age(pitch: PlannerCard): string {
    const made = this.session.local(pitch.createdAt).slice(0, 10);
    const days = formatDistance(made, this.today() || made);
    return days.replace(' ago', '').replace('yesterday', '1 day').replace('tomorrow', 'today');
  }

  protected dateConstraint(pitch: PlannerCard): string {
    return facts(
      formatDateConstraint(pitch.dateConstraint, this.today()),
      formatPressing(pitch.dateConstraint, this.today()),
    );
  }

  protected facts(pitch: PlannerCard): string {
    return [
      pitch.byline?.name ?? 'open',
      this.age(pitch),
      ...(pitch.rating ? [`rated ${pitch.rating} of 5`] : []),
      ...(this.dateConstraint(pitch) ? [this.dateConstraint(pitch)] : []),
    ].join(', ');
  }

  protected isDry(group: TrayGroup): boolean {
    return (
      typeof group.categoryId === 'number' && group.pitches.length <= 1 && this.tray.words().trim() === ''
    );
  }

  protected howMany(group: TrayGroup): string {
    const n = group.pitches.length;
    return !this.isDry(group) ? String(n) : n === 0 ? 'dry' : '1, running dry';
  }

  /** A list pasted into the line becomes a pitch a row; bullets and numbers before the words are dropped. */
  protected async addList(event: ClipboardEvent): Promise<void> {
    const rows = (event.clipboardData?.getData('text/plain') ?? '')
      .split(/\r?\n/)
      .map((row) => row.replace(/^\s*(?:[-*•–]|\d{1,3}[.)])\s+/, '').trim())
      .filter(Boolean);
    if (rows.length < 2) return;
    event.preventDefault();
    if (rows.length > MAX_ROWS) {
      this.error.set(
        `That list has ${rows.length.toLocaleString('en-GB')} rows. Paste at most ` +
          `${MAX_ROWS} at once; nothing was kept of it.`,
      );
      return;
    }
    await this.act(() =>
      this.tray.saveList(
        rows.map((row) => row.slice(0, 300)),
        this.category(),
      ),
    );
  }

  protected async importFile([file]: File[]): Promise<void> {
    if (file) await this.act(() => this.tray.importFile(file));
  }

  private async act(what: () => Promise<string>): Promise<void> {
    this.error.set('');
    try {
      this.kept.set(await what());
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  /** Forty in a row without the mouse: the line empties at once and stays in focus. */
  protected async add(field: TextField): Promise<void> {
    const title = field.value().trim();
    if (title === '') return;
    field.value.set('');
    this.error.set('');
    try {
      await this.tray.pitch(title, this.category());
      this.kept.set(`Kept: ${title}`);
    } catch (error) {
      if (field.value() === '') field.value.set(title);
      this.error.set(`“${title}” was not kept. ${sentenceOf(error)}`);
    }
  }
}
