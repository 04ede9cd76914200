import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatOption } from '@angular/material/core';
import { MatSelect } from '@angular/material/select';
import { MatFormField } from '@angular/material/form-field';
import { MatButton } from '@angular/material/button';
import type { FormatView, PatternStop, PatternView } from '@keyroster/contract';
import {
  CARD_STYLES,
  DRAWN_KINDS,
  PIECE_KINDS,
  SHAPE_NAMES,
  formatTiming,
  type PieceKind,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Messages } from '../ui/messages.service';
import { Unsaved, watchUnsaved } from '../ui/unsaved';
import { FieldSet, TextField } from '../ui/fields';
import { OutletsHead } from './outlets-head';
import { OutletsService } from './outlets.service';
import { capital } from './format-piece';
import { TimingField } from './timing-field';

/**
 * Rollout patterns: pieces, outlets and times that are used again, offered first where their format or
 * category fits.
 */
@Component({
  imports: [MatOption, MatSelect, MatFormField, MatButton, OutletsHead, TimingField, TextField, FieldSet],
  providers: [OutletsService],
  templateUrl: './patterns.page.html',
  styleUrl: './patterns.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PatternsPage {
  protected readonly outlets = inject(OutletsService);
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly unsaved = inject(Unsaved);
  protected readonly patterns = signal<PatternView[]>([]);
  protected readonly formats = signal<FormatView[]>([]);
  /** The pattern being put together; number 0 for a new one. */
  protected readonly draft = signal<PatternView | null>(null);
  private readonly first = signal('');
  protected readonly error = signal('');
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

  constructor() {
    watchUnsaved(() => this.may() && this.draft() !== null && JSON.stringify(this.draft()) !== this.first());
    void this.api.call('patterns.list', {}).then(
      (p) => this.patterns.set(p),
      (error: unknown) => this.error.set(sentenceOf(error)),
    );
    void this.api.call('formats.list', {}).then(
      (f) => this.formats.set(f),
      () => undefined,
    );
  }

  protected forWhat(p: PatternView): string {
    return (
      [this.formats().find((f) => f.id === p.formatId)?.name, this.session.category(p.categoryId)?.name]
        .filter(Boolean)
        .map((n) => `offered first for ${n}`)
        .join(', ') || 'for any post'
    );
  }

  protected edit(p: PatternView): Promise<void> {
    return this.take(structuredClone(p));
  }
  protected begin(): Promise<void> {
    return this.take({
      id: 0,
      name: '',
      stops: this.open().length > 0 ? [this.blank()] : [],
      formatId: null,
      categoryId: null,
    });
  }
  private async take(draft: PatternView): Promise<void> {
    if (!(await this.unsaved.mayLeave())) return;
    this.error.set('');
    this.draft.set(draft);
    this.first.set(JSON.stringify(draft));
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
  protected set(part: Partial<PatternView>): void {
    this.draft.update((d) => d && { ...d, ...part });
  }
  protected stop(at: number, part: Partial<PatternStop>): void {
    this.draft.update((d) => d && { ...d, stops: d.stops.map((s, i) => (i === at ? { ...s, ...part } : s)) });
  }
  protected drop(at: number): void {
    this.draft.update((d) => d && { ...d, stops: d.stops.filter((_, i) => i !== at) });
  }
  protected more(): void {
    if (this.open().length > 0) this.draft.update((d) => d && { ...d, stops: [...d.stops, this.blank()] });
  }

  protected async store(): Promise<void> {
    const { id, ...body } = this.draft()!;
    if (body.name.trim() === '') return this.error.set('Give the pattern a name.');
    await this.act(
      () =>
        id
          ? this.api.call('patterns.change', { id, body: { ...body, name: body.name.trim() } })
          : this.api.call('patterns.add', { body: { ...body, name: body.name.trim() } }),
      `The pattern “${body.name.trim()}” is kept.`,
    );
  }

  protected remove(id: number): Promise<void> {
    return this.act(
      () => this.api.call('patterns.remove', { id }),
      'The pattern is removed. Pieces that were made by it stay.',
    );
  }

  private async act(ask: () => Promise<PatternView[]>, said: string): Promise<void> {
    try {
      this.patterns.set(await ask());
      this.draft.set(null);
      this.error.set('');
      this.messages.done(said);
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
