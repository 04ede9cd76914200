import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormArray, FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { PieceChanges, PieceView } from '@keyroster/contract';
import {
  CARD_STYLES,
  SHAPE_NAMES,
  lengthOf,
  formatShortDate,
  type CardStyle,
  type Shape,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { TextField, ChoiceField, FieldSet, textControl } from '../ui/fields';
import { watchUnsaved } from '../ui/unsaved';
import { RolloutService } from './rollout.service';
import { capital, formatDue, formatState, unitName } from './format-piece';
import { TimingField } from './timing-field';
import { AtRoot } from '../api/root';

interface Draft {
  subject: string;
  parts: string[];
  words: string;
  alt: string;
  tags: string;
}
const draftOf = (p: PieceView): Draft => ({
  subject: p.subject,
  parts: [...p.parts],
  words: p.words,
  alt: p.alt,
  tags: p.tags.join(', '),
});
const isSame = (a: Draft, b: Draft) => JSON.stringify(a) === JSON.stringify(b);

/**
 * One piece: as its outlet would show it, its words to edit, what of the post it is built from, and its
 * earlier versions.
 */
@Component({
  selector: 'kr-piece-sheet',
  imports: [
    AtRoot,
    MatButton,
    RouterLink,
    TimingField,
    TextField,
    ChoiceField,
    FieldSet,
    ReactiveFormsModule,
  ],
  templateUrl: './piece-sheet.html',
  styleUrl: './piece-sheet.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PieceSheet {
  protected readonly rollout = inject(RolloutService);
  private readonly session = inject(SessionService);
  readonly piece = input.required<PieceView>();
  readonly blog = input.required<string>();
  readonly closed = output();
  protected readonly view = computed(() => this.rollout.view()!);
  protected readonly styles: readonly CardStyle[] = CARD_STYLES;
  protected readonly capital = capital;
  protected readonly due = (local: string | null) => formatDue(local, this.session.today());
  protected readonly state = computed(() => formatState(this.piece()));
  protected readonly gone = computed(() =>
    ['sent', 'sending', 'unsure'].includes(this.piece().send?.state ?? ''),
  );
  protected readonly mayEdit = computed(
    () => this.view().mayMake && !this.gone() && (this.piece().send === null || this.view().maySend),
  );
  protected readonly limits = computed(() => this.rollout.outlet(this.piece().outletId)?.limits ?? null);
  protected readonly voice = computed(() => this.rollout.outlet(this.piece().outletId)?.voice ?? '');
  protected readonly shapes = computed<readonly Shape[]>(() => this.limits()?.shapes ?? SHAPE_NAMES);
  protected readonly passed = computed(() => {
    const { dueLocal, send } = this.piece();
    return (
      dueLocal !== null &&
      (send === null || send.state === 'waiting' || send.state === 'stopped') &&
      dueLocal < this.session.now().slice(0, 19)
    );
  });
  protected readonly blocked = computed(() => this.piece().errors.some((f) => f.blocks));
  protected readonly form = new FormGroup({
    subject: textControl(),
    parts: new FormArray<FormControl<string>>([]),
    words: textControl(),
    alt: textControl(),
    tags: textControl(),
  });
  /** The words as they are typed, beside which the outlet's view of them is drawn. */
  protected readonly draft = signal<Draft>(this.form.getRawValue());
  protected readonly first = signal<Draft>(this.draft());
  /** The version whose words were seen when typing began. */
  private seen = 0;
  protected readonly instruction = signal('');
  protected readonly dirty = computed(() => !isSame(this.draft(), this.first()));
  protected readonly asked = computed(() => {
    const waiting = this.rollout.waiting();
    return waiting?.pieceId === this.piece().id ? waiting.ask : null;
  });
  private shown = 0;

  constructor() {
    this.form.valueChanges
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.draft.set(this.form.getRawValue()));
    watchUnsaved(() => this.mayEdit() && this.dirty());
    effect(() => {
      const p = this.piece();
      untracked(() => {
        const now = draftOf(p);
        const typing = this.shown === p.id && this.dirty();
        // What is being typed stays when the piece is loaded again. Upon another's words it cannot be saved.
        if (!typing || isSame(now, this.draft())) this.begin(p);
        else if (isSame(now, this.first())) this.seen = p.version;
        if (this.shown !== p.id) this.instruction.set(p.instruction);
        this.shown = p.id;
      });
    });
  }

  protected readonly day = (at: string) =>
    formatShortDate(this.session.local(at).slice(0, 10), this.session.today());
  protected readonly rows = (part: string) =>
    Math.min(
      18,
      Math.max(
        3,
        part.split('\n').reduce((n, line) => n + Math.max(1, Math.ceil(line.length / 58)), 0),
      ),
    );
  private lengthOf(part: string): number {
    return lengthOf(part, this.limits()?.length ?? { unit: 'graphemes', linkCost: null });
  }
  protected readonly over = (part: string) => {
    const max = this.limits()?.length?.max;
    return max !== undefined && this.lengthOf(part) > max;
  };
  protected readonly count = (part: string) => {
    const length = this.limits()?.length;
    return length
      ? `${this.lengthOf(part)} of ${length.max} ${unitName(length.unit)}`
      : `${this.lengthOf(part)} characters`;
  };

  /** Shows the words as they stand, to be changed from there. */
  protected begin(p: PieceView): void {
    this.draw(draftOf(p));
    this.first.set(draftOf(p));
    this.seen = p.version;
  }

  private draw(draft: Draft): void {
    const { parts } = this.form.controls;
    while (parts.length > draft.parts.length) parts.removeAt(-1, { emitEvent: false });
    while (parts.length < draft.parts.length) parts.push(textControl(), { emitEvent: false });
    this.form.reset(draft);
  }

  protected remove(p: PieceView): void {
    this.begin(p);
    void this.rollout.remove(p);
    this.closed.emit();
  }

  protected storeWords(): void {
    const [now, was] = [this.draft(), this.first()];
    const changes: PieceChanges = {
      ...(now.subject === was.subject ? {} : { subject: now.subject.trim() }),
      ...(JSON.stringify(now.parts) === JSON.stringify(was.parts) ? {} : { parts: now.parts }),
      ...(now.words === was.words ? {} : { words: now.words.trim() }),
      ...(now.alt === was.alt ? {} : { alt: now.alt.trim() }),
      ...(now.tags === was.tags
        ? {}
        : {
            tags: now.tags
              .split(',')
              .map((t) => t.trim())
              .filter(Boolean),
          }),
    };
    void this.storeDraft(changes);
  }

  private async storeDraft(changes: PieceChanges): Promise<void> {
    const sent = this.draft();
    const upon = () => {
      const now = this.current();
      return isSame(draftOf(now), this.first()) ? now.version : this.seen;
    };
    if (!(await this.rollout.change(this.piece(), changes, upon))) return;
    const saved = this.current();
    if (isSame(sent, this.draft())) return this.begin(saved);
    // What was typed while it was on its way stays, upon what was saved.
    this.first.set(draftOf(saved));
    this.seen = saved.version;
  }
  /** The piece as the server told it last, a moment before it is drawn. */
  private current(): PieceView {
    const { id } = this.piece();
    return this.rollout.pieces().find((p) => p.id === id) ?? this.piece();
  }

  /** Something beside the words; those that are being typed stay. */
  protected async store(changes: PieceChanges): Promise<void> {
    await this.rollout.change(this.piece(), changes);
  }

  protected async rebuild(ask: Parameters<RolloutService['rebuild']>[1]): Promise<void> {
    const answer = await this.rollout.rebuild(this.piece(), ask);
    if (answer === 'built') this.begin(this.current());
  }
}
