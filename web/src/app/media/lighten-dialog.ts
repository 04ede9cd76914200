import { ChangeDetectionStrategy, Component, DestroyRef, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { HttpClient } from '@angular/common/http';
import { MatSliderModule } from '@angular/material/slider';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { MediaView } from '@keyroster/contract';
import { LEAD_WEIGHT, formatBytes } from '@keyroster/core';
import { EMPTY, Subject, catchError, debounceTime, finalize, switchMap, tap, type Observable } from 'rxjs';
import { Api, sentenceOf } from '../api/api';
import { ErrorLine } from '../ui/error-line';
import { AtRoot } from '../api/root';

const MIN_KB = 60;
const PAUSE_MS = 250;
/** What the server says of a picture that it drew. */
interface PictureFacts {
  bytes: number;
  width: number;
  height: number;
  quality: number | null;
}

/** Makes a heavy picture lighter: before and after side by side, and a slider for its weight. */
@Component({
  imports: [AtRoot, MatSliderModule, MatButton, MatDialogModule, ErrorLine],
  template: `
    <div class="dialog">
      <h2>Lighten the picture</h2>
      <kr-error [of]="error()" />
      <div class="two">
        <figure>
          <div class="frame" #before (scroll)="follow(before, after)">
            <img [src]="'/media/' + data | atRoot" alt="Before" (load)="centre(before)" />
          </div>
          <figcaption><b>Before</b> {{ picture() ? bytes(picture()!.size) : '' }}</figcaption>
        </figure>
        <figure>
          <div class="frame" #after (scroll)="follow(after, before)">
            @if (shown(); as src) {
              <img [src]="src" alt="After" (load)="follow(before, after)" />
            } @else {
              <p class="soft">Drawing …</p>
            }
          </div>
          <figcaption role="status"><b>After</b> {{ said() }}</figcaption>
        </figure>
      </div>
      <div class="field">
        <span>At most {{ kb() }} kB</span>
        <mat-slider step="10" [min]="min" [max]="max()"
          ><input matSliderThumb aria-label="At most, in kB" [value]="kb()" (valueChange)="slide($event)"
        /></mat-slider>
        <small>300–500 kB loads quickly and looks good; 60 kB looks poor.</small>
      </div>
      <div class="ends">
        <button matButton="outlined" mat-dialog-close>Cancel</button
        ><button matButton="filled" [disabled]="busy() || !shown()" (click)="keep()">
          Use the lighter one
        </button>
      </div>
    </div>
  `,
  styles: `
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 12px;
      margin-bottom: 12px;
    }
    figure {
      margin: 0;
      min-width: 0;
    }
    .frame {
      height: 300px;
      overflow: auto;
      border: 1px solid var(--line);
      border-radius: 3px;
      background: var(--hair);
    }
    .frame img {
      display: block;
      min-width: 160%;
    }
    .frame p {
      padding: 20px;
    }
    figcaption {
      margin-top: 4px;
    }
    input[type='range'] {
      width: 100%;
    }
    @media (max-width: 600px) {
      .two {
        grid-template-columns: 1fr;
      }
      .frame {
        height: 200px;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LightenDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject<MatDialogRef<LightenDialog, MediaView>>(MatDialogRef);
  /** The picture's id. */
  private readonly http = inject(HttpClient);
  protected readonly data = inject<number>(MAT_DIALOG_DATA);
  protected readonly picture = signal<MediaView | null>(null);
  protected readonly kb = signal(LEAD_WEIGHT.max / 1000 - 50);
  protected readonly max = signal(800);
  protected readonly min = MIN_KB;
  protected readonly shown = signal('');
  protected readonly said = signal('');
  protected readonly error = signal('');
  protected readonly busy = signal(true);
  protected readonly bytes = formatBytes;
  private readonly wanted = new Subject<number>();

  constructor() {
    // A pause after the last move of the slider; what is asked for no longer is called off.
    this.wanted
      .pipe(
        tap(() => this.busy.set(true)),
        debounceTime(PAUSE_MS),
        switchMap((kb) => this.drawn(kb)),
        takeUntilDestroyed(),
      )
      .subscribe();
    void this.api.call('media.see', { id: this.data }).then(
      (picture) => {
        this.picture.set(picture);
        this.max.set(Math.max(MIN_KB + 20, Math.min(800, Math.floor(picture.size / 10_000) * 10)));
        this.slide(Math.min(this.kb(), this.max()));
      },
      (error: unknown) => this.error.set(sentenceOf(error)),
    );
    inject(DestroyRef).onDestroy(() => URL.revokeObjectURL(this.shown()));
  }

  protected slide(kb: number): void {
    this.kb.set(kb);
    this.wanted.next(kb);
  }

  /** What a picture shows is seldom in its corner. */
  protected centre(frame: HTMLElement): void {
    frame.scrollTo(
      (frame.scrollWidth - frame.clientWidth) / 2,
      (frame.scrollHeight - frame.clientHeight) / 2,
    );
  }

  /** Both show the same place. */
  protected follow(moved: HTMLElement, other: HTMLElement): void {
    if (other.scrollTop !== moved.scrollTop) other.scrollTop = moved.scrollTop;
    if (other.scrollLeft !== moved.scrollLeft) other.scrollLeft = moved.scrollLeft;
  }

  private drawn(kb: number): Observable<unknown> {
    return this.http
      .get(`/api/media/${this.data}/lighter`, {
        params: { bytes: kb * 1000 },
        observe: 'response',
        responseType: 'blob',
      })
      .pipe(
        tap((response) => {
          const facts = JSON.parse(response.headers.get('x-picture') ?? '{}') as PictureFacts;
          URL.revokeObjectURL(this.shown());
          this.shown.set(URL.createObjectURL(response.body!));
          this.said.set(
            `${formatBytes(facts.bytes)}, ${facts.width} by ` +
              `${facts.height}${facts.quality === null ? ', as it is' : `, quality ${facts.quality}`}`,
          );
          this.error.set('');
        }),
        catchError((error: unknown) => {
          this.error.set(sentenceOf(error));
          return EMPTY;
        }),
        finalize(() => this.busy.set(false)),
      );
  }

  protected async keep(): Promise<void> {
    this.busy.set(true);
    try {
      this.dialog.close(
        await this.api.call('media.lighten', { id: this.data, body: { bytes: this.kb() * 1000 } }),
      );
    } catch (error) {
      this.error.set(sentenceOf(error));
      this.busy.set(false);
    }
  }
}
