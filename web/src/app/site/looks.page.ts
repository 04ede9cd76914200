import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatRadioModule } from '@angular/material/radio';
import { DomSanitizer } from '@angular/platform-browser';
import type { LookView } from '@keyroster/contract';
import {
  FIRST_LOOK,
  LOOKS,
  LOOK_KEYS,
  MEASURES,
  PALETTE_KEYS,
  POST_FACTS,
  READER_PALETTES,
  READING_SIZES,
  formatClock,
  formatCount,
  formatShortDate,
  type Look,
  type Measure,
  type PaletteKey,
  type PostFact,
  type ReadingSize,
} from '@keyroster/core';
import { catchError, combineLatest, debounceTime, map, of, switchMap } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { SwitchField } from '../ui/fields';
import { ErrorLine } from '../ui/error-line';
import { Messages } from '../ui/messages.service';
import { SectionHead } from '../ui/section-head';
import { watchUnsaved } from '../ui/unsaved';
import { SiteHead } from './site-head';
import { SiteService } from './site.service';

/** While somebody chooses, a picture follows when they pause. */
const PAUSE_MS = 150;

const sameLook = (a: Look, b: Look) => JSON.stringify(a) === JSON.stringify(b);

/** The looks of the readers' pages: tried on the blog's own posts beside the choice, and applied to all of them. */
@Component({
  imports: [
    MatButton,
    MatCheckbox,
    MatRadioModule,
    ReactiveFormsModule,
    SwitchField,
    ErrorLine,
    SectionHead,
    SiteHead,
  ],
  providers: [SiteService],
  templateUrl: './looks.page.html',
  styleUrl: './looks.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LooksPage {
  protected readonly service = inject(SiteService);
  private readonly session = inject(SessionService);
  private readonly messages = inject(Messages);
  private readonly sanitizer = inject(DomSanitizer);
  protected readonly looks = LOOK_KEYS.map((value) => ({ value, ...LOOKS[value] }));
  protected readonly palettes = PALETTE_KEYS.map((value) => ({ value, ...READER_PALETTES[value] }));
  protected readonly measures = Object.keys(MEASURES) as Measure[];
  protected readonly sizes = Object.keys(READING_SIZES) as ReadingSize[];
  protected readonly facts = POST_FACTS;
  protected readonly form = new FormGroup({
    look: new FormControl(FIRST_LOOK.look, { nonNullable: true }),
    palette: new FormControl<PaletteKey>(FIRST_LOOK.palette, { nonNullable: true }),
    measure: new FormControl<Measure>(FIRST_LOOK.measure, { nonNullable: true }),
    size: new FormControl<ReadingSize>(FIRST_LOOK.size, { nonNullable: true }),
    facts: new FormControl<readonly PostFact[]>(FIRST_LOOK.facts, { nonNullable: true }),
  });
  protected readonly page = signal<'front' | 'post'>('front');
  protected readonly shownPages: ('front' | 'post')[] = ['front', 'post'];
  protected readonly pageNames = { front: 'Front page', post: 'Newest post' };
  protected readonly tried = toSignal(
    this.form.valueChanges.pipe(map(() => this.form.getRawValue() as Look)),
    {
      initialValue: FIRST_LOOK,
    },
  );
  /** The look that readers have. */
  private readonly applied = computed(() => this.service.site()?.look);
  protected readonly differs = computed(() => {
    const applied = this.applied();
    return applied !== undefined && !sameLook(applied, this.tried());
  });
  protected readonly act = computed(
    () => `Apply to all ${formatCount(this.service.site()?.posts ?? 0, 'post')}`,
  );
  protected readonly promise = computed(
    () => `This changes all ${formatCount(this.service.site()?.posts ?? 0, 'post')} for every reader`,
  );
  private readonly html = toSignal(
    combineLatest([toObservable(this.tried), toObservable(this.page)]).pipe(
      debounceTime(PAUSE_MS),
      switchMap(([look, page]) =>
        this.service.tryOut({ look, page }).pipe(
          map((answer) => answer.html),
          catchError(() => of('')),
        ),
      ),
    ),
    { initialValue: '' },
  );
  /** Our own page from our own server, in a frame that runs no script. */
  protected readonly shown = computed(() => this.sanitizer.bypassSecurityTrustHtml(this.html()));

  constructor() {
    watchUnsaved(() => this.differs());
    let taken = false;
    effect(() => {
      const look = this.applied();
      if (!look || (taken && untracked(() => this.form.dirty))) return;
      taken = true;
      untracked(() => this.form.reset(look));
    });
  }

  protected tell(fact: PostFact, told: boolean): void {
    const { facts } = this.form.controls;
    facts.setValue(POST_FACTS.filter((f) => (f === fact ? told : facts.value.includes(f))));
    facts.markAsDirty();
  }

  protected setSize(size: ReadingSize): void {
    this.form.controls.size.setValue(size);
    this.form.markAsDirty();
  }
  protected setMeasure(measure: Measure): void {
    this.form.controls.measure.setValue(measure);
    this.form.markAsDirty();
  }

  protected async apply(look: Look): Promise<void> {
    const before = this.applied()!;
    if (!(await this.service.applyLook(look))) return;
    this.form.reset(look);
    this.messages.done('Readers see the new look now.', async () => {
      if (await this.service.applyLook(before)) this.form.reset(before);
    });
  }

  /** Puts what readers have back into the choice. */
  protected reset(): void {
    this.form.reset(this.applied()!);
  }
  protected look(earlier: LookView): void {
    this.form.reset(earlier.look);
    this.form.markAsDirty();
  }
  protected readonly describe = ({ look }: LookView): string =>
    `${LOOKS[look.look].label}, ${READER_PALETTES[look.palette].label}, ${look.measure} measure, ${look.size} text`;
  protected readonly when = ({ at, by }: LookView): string => {
    const local = this.session.local(at).slice(0, 16);
    const day = `${formatShortDate(local, this.session.today())} ${formatClock(`${local}:00`)}`;
    return by ? `${day}, ${by.name}` : `before ${day}`;
  };
}
