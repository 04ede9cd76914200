import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormArray, FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import type { CampaignLine, FormatView, PatternStop, PatternView } from '@keyroster/contract';
import {
  CARD_STYLES,
  DRAWN_KINDS,
  PIECE_KINDS,
  SHAPE_NAMES,
  formatTiming,
  type PieceKind,
  type Timing,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError, sentenceOf } from '../api/api';
import { landRefusal } from '../api/refusals';
import { Saving } from '../changes/saving.service';
import { confirm } from '../ui/confirm';
import { Messages } from '../ui/messages.service';
import { Unsaved, watchUnsaved } from '../ui/unsaved';
import { FieldSet, TextField, ChoiceField, isReady, must, textControl } from '../ui/fields';
import { OutletsHead } from './outlets-head';
import { OutletsService } from './outlets.service';
import { capital } from './format-piece';
import { TimingField } from './timing-field';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';

const stopControls = (stop: PatternStop) =>
  new FormGroup({
    kind: new FormControl(stop.kind, { nonNullable: true }),
    outletId: new FormControl(stop.outletId, { nonNullable: true }),
    instruction: textControl(stop.instruction),
    style: new FormControl(stop.style, { nonNullable: true }),
    shape: new FormControl(stop.shape, { nonNullable: true }),
    timing: new FormControl<Timing>(stop.timing, { nonNullable: true }),
  });

/**
 * Rollout patterns: pieces, outlets and times that are used again, offered first where their format or
 * category fits.
 */
@Component({
  imports: [
    MatButton,
    MatCheckbox,
    OutletsHead,
    TimingField,
    TextField,
    FieldSet,
    TwoValues,
    ErrorLine,
    ChoiceField,
    ReactiveFormsModule,
    MatIconButton,
    MatIcon,
    MatTooltip,
  ],
  providers: [OutletsService],
  templateUrl: './patterns.page.html',
  styleUrl: './patterns.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PatternsPage {
  protected readonly outlets = inject(OutletsService);
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  private readonly unsaved = inject(Unsaved);
  private readonly dialogs = inject(MatDialog);
  protected readonly patterns = signal<PatternView[]>([]);
  protected readonly formats = signal<FormatView[]>([]);
  protected readonly campaigns = signal<CampaignLine[]>([]);
  protected readonly form = new FormGroup({
    name: textControl(
      '',
      must((name: string) => name.trim() !== '', 'Give the pattern a name.'),
    ),
    formatId: new FormControl<number | null>(null),
    categoryId: new FormControl<number | null>(null),
    campaignId: new FormControl<number | null>(null),
    byItself: new FormControl(false, { nonNullable: true }),
    stops: new FormArray<ReturnType<typeof stopControls>>([]),
  });
  /** The pattern being put together; 0 for a new one, null for none. */
  protected readonly chosen = signal<number | null>(null);
  /** As it was seen. */
  private seen: PatternView | null = null;
  protected readonly error = signal('');
  /** Something is being saved or removed. */
  protected readonly busy = signal(false);
  protected readonly kinds = PIECE_KINDS.filter((k) => k !== 'digest');
  protected readonly styles = CARD_STYLES;
  protected readonly shapes = SHAPE_NAMES;
  protected readonly capital = capital;
  protected readonly say = formatTiming;
  protected readonly drawn = (kind: PieceKind) => DRAWN_KINDS.includes(kind);
  protected readonly may = computed(() => this.session.may('sendPieces'));
  protected readonly open = computed(() => (this.outlets.outlets() ?? []).filter((o) => !o.closed));
  protected readonly outletName = (id: number) =>
    this.outlets.outlets()?.find((o) => o.id === id)?.name ?? '';

  protected readonly merge = new FormMerge<Omit<PatternView, 'id' | 'version'>>(this.form, {
    labels: {
      ...{ name: 'Name', formatId: 'Offered first for the format', categoryId: 'or the category' },
      ...{ campaignId: 'or the campaign', byItself: 'By itself', stops: 'Pieces' },
    },
    draw: { stops: (stops) => this.drawStops(stops) },
    say: {
      formatId: (id) => this.formats().find((f) => f.id === id)?.name ?? 'any',
      categoryId: (id) => this.session.category(id)?.name ?? 'any',
      campaignId: (id) => this.campaigns().find((c) => c.id === id)?.name ?? 'any',
    },
  });

  constructor() {
    watchUnsaved(() => this.may() && this.chosen() !== null && this.merge.isUnsaved());
    void this.api.call('patterns.list', {}).then(
      (p) => {
        this.patterns.set(p);
        // The first is open, so that one sees at once what a pattern is made of.
        if (this.chosen() === null) this.show(p[0]);
      },
      (error: unknown) => this.error.set(sentenceOf(error)),
    );
    if (this.session.may('planCampaigns'))
      void this.api.call('campaigns.list', {}).then(
        (c) => this.campaigns.set(c),
        () => undefined,
      );
    void this.api.call('formats.list', {}).then(
      (f) => this.formats.set(f),
      () => undefined,
    );
  }

  protected forWhat(p: PatternView): string {
    return (
      [
        this.formats().find((f) => f.id === p.formatId)?.name,
        this.session.category(p.categoryId)?.name,
        this.campaigns().find((c) => c.id === p.campaignId)?.name,
      ]
        .filter(Boolean)
        .map((n) => (p.byItself ? `by itself for ${n}` : `offered first for ${n}`))
        .join(', ') || 'for any post'
    );
  }

  protected async edit(p: PatternView): Promise<void> {
    if (!this.busy() && (await this.unsaved.mayLeave())) this.show(p);
  }
  protected begin(): Promise<void> {
    return this.edit({
      id: 0,
      name: '',
      stops: this.open().length > 0 ? [this.blank()] : [],
      formatId: null,
      categoryId: null,
      campaignId: null,
      byItself: false,
      version: 0,
    });
  }
  private show(pattern: PatternView | undefined): void {
    this.error.set('');
    this.chosen.set(null);
    if (!pattern) return;
    this.seen = pattern;
    this.merge.open(pattern);
    this.chosen.set(pattern.id);
  }
  private drawStops(stops: readonly PatternStop[]): void {
    this.form.controls.stops.clear();
    for (const stop of stops) this.form.controls.stops.push(stopControls(stop));
  }
  /** Somebody else saved it meanwhile: what they changed is shown beside what is typed here. */
  private async meet(): Promise<void> {
    this.patterns.set(await this.api.call('patterns.list', {}));
    const now = this.patterns().find((p) => p.id === this.chosen());
    if (!now) return;
    this.seen = now;
    this.merge.meet(now);
  }
  private blank(): PatternStop {
    return {
      kind: 'short post',
      outletId: this.open()[0]!.id,
      instruction: '',
      style: 'wedge',
      shape: 'square',
      timing: { kind: 'same day', time: '12:30' },
    };
  }
  protected time(stop: ReturnType<typeof stopControls>, timing: Timing): void {
    stop.controls.timing.setValue(timing);
    stop.markAsDirty();
  }
  protected drop(at: number): void {
    this.form.controls.stops.removeAt(at);
    this.form.markAsDirty();
  }
  protected more(): void {
    if (this.open().length === 0) return;
    this.form.controls.stops.push(stopControls(this.blank()));
    this.form.markAsDirty();
  }

  protected async store(): Promise<void> {
    if (!isReady(this.form)) return;
    if (this.merge.mustChoose()) return;
    const id = this.chosen();
    const sent = this.merge.values();
    const { name, stops, ...rest } = this.form.getRawValue();
    const body = {
      ...rest,
      name: name.trim(),
      stops: stops.map((stop) => ({ ...stop, instruction: stop.instruction.trim() })),
    };
    await this.act(
      () =>
        id ? this.saving.save('patterns.change', this.seen!, body) : this.api.call('patterns.add', { body }),
      `The pattern “${body.name}” is kept.`,
      (all) => {
        const kept = id ? all.find((p) => p.id === id) : all.toSorted((a, b) => b.id - a.id)[0];
        if (!kept) return this.show(kept);
        this.error.set('');
        this.seen = kept;
        this.chosen.set(kept.id);
        this.merge.saved(sent, kept);
      },
    );
  }

  protected async remove(id: number): Promise<void> {
    const pattern = this.patterns().find((p) => p.id === id);
    if (!pattern) return;
    const sure = await confirm(this.dialogs, {
      heading: `Remove “${pattern.name}”?`,
      text: 'Posts that it is for no longer get pieces from it. Pieces that were made by it stay.',
      act: 'Remove',
      grave: true,
    });
    if (!sure) return;
    await this.act(
      () => this.saving.remove('patterns.remove', pattern),
      'The pattern is removed. Pieces that were made by it stay.',
      ([first]) => this.show(first),
    );
  }

  private async act(
    ask: () => Promise<PatternView[]>,
    said: string,
    next: (all: PatternView[]) => void,
  ): Promise<void> {
    if (this.busy()) return;
    this.busy.set(true);
    try {
      const all = await ask();
      this.patterns.set(all);
      next(all);
      this.messages.done(said);
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
      if (error instanceof ApiError && error.code === 'version-conflict') await this.meet();
    } finally {
      this.busy.set(false);
    }
  }
}
