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
import { MatButton } from '@angular/material/button';
import { DomSanitizer } from '@angular/platform-browser';
import type { LookView } from '@keyroster/contract';
import {
  FIRST_LOOK,
  LOOKS,
  READER_PALETTES,
  formatClock,
  formatCount,
  formatShortDate,
  type Look,
} from '@keyroster/core';
import { catchError, combineLatest, debounceTime, map, of, switchMap } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { SwitchField } from '../ui/fields';
import { ErrorLine } from '../ui/error-line';
import { Messages } from '../ui/messages.service';
import { SectionHead } from '../ui/section-head';
import { watchUnsaved } from '../ui/unsaved';
import { LookChoice } from './look-choice';
import { SiteHead } from './site-head';
import { SiteService } from './site.service';

/** While somebody chooses, a picture follows when they pause. */
const PAUSE_MS = 150;

const sameLook = (a: Look, b: Look) => JSON.stringify(a) === JSON.stringify(b);

/** The looks of the readers' pages: tried on the blog's own posts beside the choice, and applied to all of them. */
@Component({
  imports: [MatButton, LookChoice, SwitchField, ErrorLine, SectionHead, SiteHead],
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
  /** What is tried; at first the look that readers have. */
  protected readonly tried = signal<Look>(FIRST_LOOK);
  private chosen = false;
  protected readonly page = signal<'front' | 'post'>('front');
  protected readonly shownPages: ('front' | 'post')[] = ['front', 'post'];
  protected readonly pageNames = { front: 'Front page', post: 'Newest post' };
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
      if (!look || (taken && untracked(() => this.chosen))) return;
      taken = true;
      untracked(() => this.tried.set(look));
    });
  }

  protected put(look: Look, chosen = true): void {
    this.tried.set(look);
    this.chosen = chosen;
  }

  protected async apply(look: Look): Promise<void> {
    const before = this.applied()!;
    if (!(await this.service.applyLook(look))) return;
    this.put(look, false);
    this.messages.done('Readers see the new look now.', async () => {
      if (await this.service.applyLook(before)) this.put(before, false);
    });
  }

  /** Puts what readers have back into the choice. */
  protected reset(): void {
    this.put(this.applied()!, false);
  }
  protected look(earlier: LookView): void {
    this.put(earlier.look);
  }
  protected readonly describe = ({ look }: LookView): string =>
    `${LOOKS[look.look].label}, ${READER_PALETTES[look.palette].label}, ${look.measure} measure, ${look.size} text`;
  protected readonly when = ({ at, by }: LookView): string => {
    const local = this.session.local(at).slice(0, 16);
    const day = `${formatShortDate(local, this.session.today())} ${formatClock(`${local}:00`)}`;
    return by ? `${day}, ${by.name}` : `before ${day}`;
  };
}
