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
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import type { SerialPartView, SerialView } from '@keyroster/contract';
import { MAX_DELAY, MAX_PARTS, NO_DELAY, formatDelay, orderWarnings, type Delay } from '@keyroster/core';
import { ApiError, sentenceOf } from '../api/api';
import { Saving } from '../changes/saving.service';
import { OrderedList } from '../site/ordered-list';
import { PostPicker, type FoundPost } from '../site/post-picker';
import { confirm } from '../ui/confirm';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { NumberField, TextField } from '../ui/fields';
import { SectionHead } from '../ui/section-head';
import { watchUnsaved } from '../ui/unsaved';

type Part = Pick<SerialPartView, 'postId' | 'title' | 'stage' | 'delay'>;
const PARTS_OF_DELAY = ['days', 'hours', 'minutes'] as const;

interface SerialValues {
  title: string;
  intro: string;
  parts: readonly Part[];
}

/** The parts of a serial in their order, each with its delay; saved together. */
@Component({
  selector: 'kr-serial-parts',
  imports: [
    TwoValues,
    ErrorLine,
    MatButton,
    NumberField,
    OrderedList,
    PostPicker,
    ReactiveFormsModule,
    SectionHead,
    TextField,
  ],
  templateUrl: './serial-parts.html',
  styles: `
    .delay {
      display: grid;
      grid-template-columns: repeat(3, 60px) auto;
      gap: 0 6px;
      align-items: end;
    }
    .warn {
      background: var(--brass-wash);
      border-left: 3px solid var(--brass);
      padding: 7px 10px;
      margin: 0 0 8px;
    }
    .refuse {
      margin-left: auto;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SerialParts {
  private readonly saving = inject(Saving);
  private readonly dialogs = inject(MatDialog);
  readonly serial = input.required<SerialView>();
  readonly kept = output<SerialView>();
  readonly removed = output();
  protected readonly error = signal('');
  protected readonly parts = signal<readonly Part[]>([]);
  protected readonly form = new FormGroup({
    title: new FormControl('', { nonNullable: true }),
    intro: new FormControl('', { nonNullable: true }),
  });
  protected readonly units = PARTS_OF_DELAY;
  protected readonly max = MAX_DELAY;
  protected readonly full = computed(() => this.parts().length >= MAX_PARTS);
  protected readonly warnings = computed(() => orderWarnings(this.parts()));
  protected readonly titleOf = (part: Part): string => part.title;
  protected readonly noteOf = (part: Part): string =>
    `${formatDelay(part.delay)}${part.stage === 'published' ? '' : `; ${part.stage}, not out yet`}`;
  /** The serial as it was when changing began. */
  private seen: SerialView | null = null;

  protected readonly merge = new FormMerge<SerialValues>(this.form, {
    labels: { title: 'Title', intro: 'Introduction for readers', parts: 'Parts' },
    read: () => ({ ...this.form.getRawValue(), parts: this.parts() }),
    draw: { parts: (parts) => this.parts.set(parts) },
    decided: { parts: (parts) => parts.map((p) => [p.postId, p.delay]) },
    say: { parts: (parts) => parts.map((p) => `“${p.title}”`).join(', ') || 'empty' },
  });

  constructor() {
    watchUnsaved(() => this.merge.isUnsaved());
    effect(() => {
      const serial = this.serial();
      untracked(() => {
        if (this.seen?.id !== serial.id) return this.show(serial);
        this.seen = serial;
        this.merge.meet(serial);
      });
    });
  }

  private show(serial: SerialView): void {
    this.seen = serial;
    this.merge.open(serial);
    this.error.set('');
  }

  protected put(parts: readonly Part[]): void {
    this.parts.set(parts);
  }
  /** A new part comes a day after the one before it, as most do. */
  protected add({ id, title, stage }: FoundPost): void {
    if (this.full() || this.parts().some((p) => p.postId === id)) return;
    const last = this.parts().at(-1);
    const delay = last ? { ...last.delay, days: last.delay.days + 1 } : NO_DELAY;
    this.put([...this.parts(), { postId: id, title, stage, delay }]);
  }
  protected remove(part: Part): void {
    this.put(this.parts().filter((p) => p.postId !== part.postId));
  }
  protected delay(part: Part, unit: keyof Delay, value: number | null): void {
    const delay = { ...part.delay, [unit]: value ?? 0 };
    this.put(this.parts().map((p) => (p.postId === part.postId ? { ...p, delay } : p)));
  }

  protected async save(accepting = false): Promise<void> {
    if (this.merge.mustChoose()) return;
    const sent = this.merge.values();
    const { title, intro } = sent;
    const parts = sent.parts.map(({ postId, delay }) => ({ postId, delay }));
    try {
      const body = { title: title.trim(), intro: intro.trim(), parts, accepting };
      const seen = { ...this.seen!, parts: this.seen!.parts.map(({ postId, delay }) => ({ postId, delay })) };
      const saved = await this.saving.save('serials.change', seen, body);
      this.seen = saved;
      this.merge.saved(sent, saved);
      this.error.set('');
      this.kept.emit(saved);
    } catch (error) {
      if (error instanceof ApiError && error.code === 'takes-away') return this.confirmLoss(error.message);
      this.error.set(sentenceOf(error));
    }
  }

  private async confirmLoss(sentence: string): Promise<void> {
    const sure = await confirm(this.dialogs, {
      heading: 'Take it from readers who have it?',
      text: sentence,
      act: 'Save all the same',
      grave: true,
    });
    if (sure) await this.save(true);
  }
}
