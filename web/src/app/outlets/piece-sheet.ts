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
import { RouterLink } from '@angular/router';
import type { PieceChanges, PieceView } from '@keyroster/contract';
import {
  CARD_STYLES,
  SHAPE_NAMES,
  lengthOf,
  formatShortDate,
  wallTimeOf,
  type CardStyle,
  type Shape,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { RolloutService } from './rollout.service';
import { capital, formatDue, formatState } from './format-piece';
import { TimingField } from './timing-field';

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

/**
 * One piece: as its outlet would show it, its words to edit, what of the post it is built from, and its
 * earlier versions.
 */
@Component({
  selector: 'kr-piece-sheet',
  imports: [RouterLink, TimingField],
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
  protected readonly due = formatDue;
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
    const zone = this.session.blog()?.zone;
    return (
      dueLocal !== null &&
      zone !== undefined &&
      (send === null || send.state === 'waiting' || send.state === 'stopped') &&
      dueLocal < wallTimeOf(new Date().toISOString(), zone).slice(0, 19)
    );
  });
  protected readonly blocked = computed(() => this.piece().errors.some((f) => f.blocks));
  protected readonly draft = signal<Draft>({ subject: '', parts: [], words: '', alt: '', tags: '' });
  protected readonly first = signal<Draft>(this.draft());
  protected readonly instruction = signal('');
  protected readonly dirty = computed(() => JSON.stringify(this.draft()) !== JSON.stringify(this.first()));
  protected readonly asked = computed(() => {
    const waiting = this.rollout.waiting();
    return waiting?.pieceId === this.piece().id ? waiting.ask : null;
  });
  private shown = 0;

  constructor() {
    effect(() => {
      const p = this.piece();
      untracked(() => {
        const now = draftOf(p);
        // What is being typed stays when the piece comes anew and its words are the same.
        const typing = this.shown === p.id && this.dirty();
        if (!typing || JSON.stringify(now) === JSON.stringify(this.draft())) this.draft.set(now);
        this.first.set(now);
        if (this.shown !== p.id) this.instruction.set(p.instruction);
        this.shown = p.id;
      });
    });
  }

  protected readonly day = (at: string) => formatShortDate(at.slice(0, 10), new Date().toISOString());
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
      ? `${this.lengthOf(part)} of ${length.max} ${length.unit}`
      : `${this.lengthOf(part)} characters`;
  };

  protected set(part: Partial<Draft>): void {
    this.draft.update((d) => ({ ...d, ...part }));
  }
  protected setPart(at: number, text: string): void {
    this.draft.update((d) => ({ ...d, parts: d.parts.map((p, i) => (i === at ? text : p)) }));
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
    void this.store(changes);
  }

  protected async store(changes: PieceChanges): Promise<void> {
    if (await this.rollout.change(this.piece(), changes)) this.draft.set(draftOf(this.piece()));
  }

  protected async rebuild(ask: Parameters<RolloutService['rebuild']>[1]): Promise<void> {
    const answer = await this.rollout.rebuild(this.piece(), ask);
    if (answer === 'built') {
      this.draft.set(draftOf(this.piece()));
      this.first.set(draftOf(this.piece()));
    }
  }
}
