import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, FormRecord, ReactiveFormsModule } from '@angular/forms';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { OutletView, PieceAskView, PostView } from '@keyroster/contract';
import {
  CARD_STYLES,
  DRAWN_KINDS,
  PIECE_KINDS,
  SHAPE_NAMES,
  readInstruction,
  instructionRemarks,
  formatCount,
  formatHour,
  formatInstruction,
  type CardStyle,
  type OutletKind,
  type PieceKind,
  type Shape,
  type Timing,
} from '@keyroster/core';
import { map } from 'rxjs';
import { Api } from '../api/api';
import { ChoiceField, TextField, textControl } from '../ui/fields';
import { RolloutService } from './rollout.service';
import { capital } from './format-piece';
import { TimingField } from './timing-field';
import { ErrorLine } from '../ui/error-line';

/** Where each kind usually goes. */
const USUAL: Record<PieceKind, readonly OutletKind[]> = {
  'short post': ['short-post network', 'shop’s news page'],
  thread: ['short-post network'],
  'picture card': ['picture network'],
  gallery: ['picture network'],
  'professional post': ['professional network'],
  'newsletter item': ['newsletter', 'partner site'],
  'newsletter letter': ['newsletter'],
  digest: ['newsletter'],
  'quote card': ['picture network'],
  checklist: ['shop’s news page', 'newsletter'],
  question: ['short-post network'],
  'video caption': ['picture network'],
};

/** What each is, for people who have not made one yet. */
const ABOUT: Record<PieceKind, string> = {
  'short post': 'one thought with a link, as short as the outlet wants it',
  thread: 'the post in a chain of short posts',
  'picture card': 'a drawn card with a line of the post',
  gallery: 'several of the post’s pictures with words',
  'professional post': 'what it means for people in the trade',
  'newsletter item': 'a heading, two sentences, a link',
  'newsletter letter': 'the post as a letter to the list',
  digest: 'this post and others, a line each',
  'quote card': 'a drawn card with a quotation',
  checklist: 'the steps of the post as a list',
  question: 'a question to readers that the post answers',
  'video caption': 'words to go with a film',
};

/** A piece to be made, as it is filled in. */
type Row = FormGroup<{
  outletId: FormControl<number>;
  style: FormControl<CardStyle>;
  shape: FormControl<Shape>;
  instruction: FormControl<string>;
}>;

/** Chooses several pieces at once, each for its outlet, with one instruction for all of them. */
@Component({
  imports: [
    ReactiveFormsModule,
    MatCheckbox,
    MatButton,
    MatDialogModule,
    TimingField,
    TextField,
    ErrorLine,
    ChoiceField,
  ],
  templateUrl: './add-pieces.html',
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0 0 12px;
    }
    legend {
      font-weight: 600;
      font-size: 12px;
      padding: 0;
      margin-bottom: 3px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
      border-top: 2px solid var(--ink);
    }
    li {
      display: grid;
      grid-template-columns: 150px minmax(0, 1.4fr) minmax(0, 1fr) minmax(0, 1fr);
      gap: 6px;
      align-items: center;
      padding: 2px 0;
      border-bottom: 1px solid var(--hair);
      min-height: 34px;
    }
    .kind {
      font-weight: 550;
      cursor: pointer;
    }
    .about {
      color: var(--soft);
      font-size: 12px;
    }
    .about + .about {
      grid-column: 3 / -1;
    }
    .own {
      grid-column: 2 / -1;
      grid-row: 2;
      margin-bottom: 4px;
    }
    .others {
      max-height: 170px;
      overflow: auto;
    }
    .others li {
      display: block;
      padding: 5px 0;
    }
    .brass {
      color: var(--brass);
    }
    @media (max-width: 620px) {
      li {
        grid-template-columns: 1fr 1fr;
        padding: 5px 0;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AddPieces {
  protected readonly rollout = inject<RolloutService>(MAT_DIALOG_DATA);
  private readonly dialog = inject<MatDialogRef<AddPieces>>(MatDialogRef);
  private readonly api = inject(Api);
  private readonly destroyed = inject(DestroyRef);
  protected readonly kinds = PIECE_KINDS;
  protected readonly styles = CARD_STYLES;
  protected readonly about = ABOUT;
  protected readonly capital = capital;
  protected readonly error = signal('');
  protected readonly form = new FormGroup({
    rows: new FormRecord<Row>({}),
    instruction: textControl(),
    timing: new FormControl<Timing>({ kind: 'same day', time: '12:30' }, { nonNullable: true }),
  });
  private readonly value = toSignal(this.form.valueChanges.pipe(map(() => this.form.getRawValue())), {
    initialValue: this.form.getRawValue(),
  });
  protected readonly chosen = computed(() => this.kinds.filter((kind) => kind in this.value().rows));
  protected readonly timing = computed(() => this.value().timing);
  /** What figures say of the outlets that were chosen, in the order of the kinds. */
  private readonly known = computed(() => {
    const ids = new Set(Object.values(this.value().rows).map((row) => row.outletId));
    return (this.rollout.view()?.hours ?? []).filter((h) => ids.has(h.outletId));
  });
  private readonly best = computed(() => this.known()[0]?.hours[0]?.hour ?? null);
  protected readonly hours = computed(() =>
    this.known().map((h) => {
      const [best] = h.hours;
      return `${h.outlet}: seen most at ${formatHour(best!.hour)} (${formatCount(best!.count, 'piece')}).`;
    }),
  );
  protected readonly others = signal<ReadonlySet<number>>(new Set());
  protected readonly lately = signal<Pick<PostView, 'id' | 'title'>[]>([]);
  protected readonly open = computed(() => this.rollout.outlets().filter((o) => !o.closed));
  protected readonly drawn = (kind: PieceKind) => DRAWN_KINDS.includes(kind);
  protected readonly shapes = (outletId: number) =>
    this.rollout.outlet(outletId)?.limits.shapes ?? SHAPE_NAMES;
  protected readonly understood = computed(() => {
    const said = formatInstruction(readInstruction(this.value().instruction));
    return said
      ? `Understood: ${said}.`
      : 'Length, tone, link, tags, what to stress and whom it is for are obeyed; the rest ' +
          'stays with the piece for the person who edits it.';
  });
  protected readonly remarks = computed(() => {
    return [
      ...new Set(
        Object.values(this.value().rows).flatMap((row) => {
          const o = this.rollout.outlet(row.outletId);
          const { instruction } = this.value();
          return o
            ? instructionRemarks(readInstruction(row.instruction || instruction), o.limits, o.name)
            : [];
        }),
      ),
    ];
  });

  constructor() {
    // Until somebody chooses a time, the best hour of the outlet is proposed.
    effect(() => {
      const hour = this.best();
      const { timing } = this.form.controls;
      if (hour !== null && timing.pristine)
        untracked(() => timing.setValue({ kind: 'same day', time: formatHour(hour) }));
    });
    void this.api
      .call('posts.list', { query: { stage: 'published', sort: '-run', limit: 20 } as never })
      .then(
        (page) => this.lately.set(page.posts.filter((p) => p.id !== this.rollout.postId())),
        () => undefined,
      );
  }

  protected time(timing: Timing): void {
    this.form.controls.timing.setValue(timing);
    this.form.controls.timing.markAsDirty();
  }

  protected row(kind: PieceKind): Row | null {
    return this.chosen().includes(kind) ? this.form.controls.rows.controls[kind]! : null;
  }

  protected toggle(kind: PieceKind): void {
    const { rows } = this.form.controls;
    if (rows.contains(kind)) return rows.removeControl(kind);
    const outlet = this.usual(kind);
    const filled = { nonNullable: true } as const;
    const row: Row = new FormGroup({
      outletId: new FormControl(outlet.id, filled),
      style: new FormControl<CardStyle>('wedge', filled),
      shape: new FormControl<Shape>(firstShape(outlet), filled),
      instruction: textControl(),
    });
    // What this outlet does not take gives way.
    row.controls.outletId.valueChanges.pipe(takeUntilDestroyed(this.destroyed)).subscribe((id) => {
      const shapes = this.shapes(id);
      if (!shapes.includes(row.getRawValue().shape)) row.controls.shape.setValue(shapes[0]!);
    });
    rows.addControl(kind, row);
  }

  protected usual(kind: PieceKind): OutletView {
    const open = this.open();
    return USUAL[kind].map((k) => open.find((o) => o.kind === k)).find((o) => o) ?? open[0]!;
  }

  protected other(id: number): void {
    this.others.update((all) => {
      const next = new Set(all);
      if (!next.delete(id)) next.add(id);
      return next;
    });
  }

  protected async make(): Promise<void> {
    const asks: PieceAskView[] = this.kinds.flatMap((kind) => {
      const { rows, instruction, timing } = this.form.getRawValue();
      const row = rows[kind];
      return row
        ? [
            {
              kind,
              ...row,
              instruction: (row.instruction || instruction).trim(),
              timing,
              ...(kind === 'digest' ? { otherIds: [...this.others()] } : {}),
            },
          ]
        : [];
    });
    const made = await this.rollout.make({ asks });
    if (!made) return this.error.set(this.rollout.error());
    if (made.refused.length === 0) return this.dialog.close();
    // What was made is made; what could not be stays chosen, with why.
    this.error.set(`${made.made.length > 0 ? `${made.made.length} made. ` : ''}${made.refused.join(' ')}`);
    for (const kind of this.chosen())
      if (!made.refused.some((r) => r.toLowerCase().startsWith(kind)))
        this.form.controls.rows.removeControl(kind);
  }
}

const firstShape = ({ limits }: OutletView): Shape =>
  limits.shapes.includes('square') ? 'square' : limits.shapes[0]!;
