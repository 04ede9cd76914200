import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  afterNextRender,
  effect,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatSliderModule } from '@angular/material/slider';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { MediaView } from '@keyroster/contract';
import { SHAPES, SHAPE_NAMES, cardInk, cropFor, type CardInk, type Rgb, type Shape } from '@keyroster/core';
import { map } from 'rxjs';
import { atRoot } from '../api/root';
import { Api, sentenceOf } from '../api/api';
import { TextField, SwitchField, isReady, must, textControl } from '../ui/fields';
import { ErrorLine } from '../ui/error-line';
import { Saving } from '../changes/saving.service';

const PLACES = ['top', 'middle', 'bottom'] as const;
type Place = (typeof PLACES)[number];
const MARGIN = 0.07;
const SAMPLES = 24;

/**
 * Puts words on a picture: drawn in the blog's own letters, over a veil just strong enough that they can be
 * read.
 */
@Component({
  imports: [
    ReactiveFormsModule,
    MatSliderModule,
    MatButton,
    MatDialogModule,
    TextField,
    ErrorLine,
    SwitchField,
  ],
  template: `
    <form class="dialog" [formGroup]="form" (ngSubmit)="keep()" novalidate>
      <h2>Words on the picture</h2>
      <kr-error [of]="error()" />
      <canvas #canvas role="img" [attr.aria-label]="'The picture with the words ' + card().words"></canvas>
      <p class="soft" role="status">{{ said() }}</p>
      <kr-text label="Words" [max]="160" formControlName="words" />
      <div class="row">
        <kr-switch
          label="Shape"
          [options]="shapes"
          [value]="card().shape"
          (changed)="form.controls.shape.setValue($event)"
        />
        <kr-switch
          label="Where the words stand"
          [options]="places"
          [value]="card().place"
          (changed)="form.controls.place.setValue($event)"
        />
        <label class="size"
          >Size
          <mat-slider min="5" max="14"
            ><input matSliderThumb aria-label="Size" formControlName="size"
          /></mat-slider>
        </label>
      </div>
      <div class="ends">
        <button type="button" matButton="outlined" mat-dialog-close>Cancel</button
        ><button matButton="filled" type="submit" [disabled]="busy() || !image()">Keep the card</button>
      </div>
    </form>
  `,
  styles: `
    canvas {
      max-width: 100%;
      max-height: 44vh;
      display: block;
      margin: 0 auto 6px;
      border-radius: 3px;
    }
    .size {
      display: flex;
      gap: 6px;
      align-items: center;
    }
    p {
      margin-bottom: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CardDialog {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly dialog = inject<MatDialogRef<CardDialog, MediaView>>(MatDialogRef);
  protected readonly picture = inject<MediaView>(MAT_DIALOG_DATA);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly shapes = SHAPE_NAMES;
  protected readonly places = PLACES;
  protected readonly form = new FormGroup({
    words: textControl(
      '',
      must((words: string) => words.trim() !== '', 'Type the words that should stand on the picture.'),
    ),
    shape: new FormControl<Shape>('landscape', { nonNullable: true }),
    place: new FormControl<Place>('bottom', { nonNullable: true }),
    size: new FormControl(8, { nonNullable: true }),
  });
  protected readonly card = toSignal(this.form.valueChanges.pipe(map(() => this.form.getRawValue())), {
    initialValue: this.form.getRawValue(),
  });
  protected readonly said = signal('');
  protected readonly error = signal('');
  protected readonly busy = signal(false);
  /** Null until it can be drawn. */
  protected readonly image = signal<HTMLImageElement | null>(null);

  constructor() {
    const image = new Image();
    image.onload = () =>
      void document.fonts.load("600 40px 'Newsreader Variable'").then(() => this.image.set(image));
    image.onerror = () => this.error.set('The picture could not be drawn.');
    image.src = atRoot(this.picture.src);
    afterNextRender(() =>
      document.querySelector<HTMLInputElement>('.dialog input[maxlength="160"]')?.focus(),
    );
    effect(() => {
      const found = this.image();
      const { words, shape, place, size } = this.card();
      if (found) this.draw(found, words.trim(), shape, place, size);
    });
  }

  private draw(image: HTMLImageElement, words: string, shape: Shape, place: Place, size: number): void {
    const canvas = this.canvas().nativeElement;
    const { width, height } = SHAPES[shape];
    canvas.width = width;
    canvas.height = height;
    const pen = canvas.getContext('2d', { willReadFrequently: true })!;
    const cut = cropFor(image.naturalWidth, image.naturalHeight, SHAPES[shape], this.picture.focus);
    pen.drawImage(image, cut.left, cut.top, cut.width, cut.height, 0, 0, width, height);
    if (words === '') return this.said.set('Type the words that should stand on it.');

    const letter = (size / 100) * Math.min(width, height * 1.4);
    pen.font = `600 ${letter}px 'Newsreader Variable', Georgia, serif`;
    const room = width * (1 - 2 * MARGIN);
    const lines = wrap(words, (text) => pen.measureText(text).width <= room);
    const block = lines.length * letter * 1.12;
    const top =
      place === 'top'
        ? height * MARGIN
        : place === 'middle'
          ? (height - block) / 2
          : height * (1 - MARGIN) - block;
    const band = {
      y: Math.max(0, Math.floor(top - letter * 0.4)),
      h: Math.min(height, Math.ceil(block + letter * 0.8)),
    };
    const ink = cardInk(sample(pen, width, band));
    pen.fillStyle = css(ink.veil, ink.strength);
    pen.fillRect(0, band.y, width, band.h);
    pen.fillStyle = css(ink.ink, 1);
    pen.textBaseline = 'top';
    lines.forEach((line, i) => pen.fillText(line, width * MARGIN, top + i * letter * 1.12));
    this.said.set(this.say(ink, block > height * (1 - 2 * MARGIN)));
  }

  private say({ contrast, strength }: CardInk, tooLong: boolean): string {
    if (tooLong) return 'The words do not fit. Shorten them, or make them smaller.';
    return (
      `Contrast ${contrast.toFixed(1)} to 1 at the worst place behind the ` +
      `words${strength > 0 ? `, with a veil of ${Math.round(strength * 100)}%` : ''}; 4.5 ` +
      'is needed.'
    );
  }

  protected async keep(): Promise<void> {
    if (!isReady(this.form)) return;
    const words = this.card().words.trim();
    this.busy.set(true);
    try {
      const blob = await new Promise<Blob | null>((done) =>
        this.canvas().nativeElement.toBlob(done, 'image/jpeg', 0.9),
      );
      if (!blob) throw new Error('The card could not be drawn.');
      const kept = await this.api.call('media.add', {
        file: new File([blob], `card: ${words}`.slice(0, 120), { type: 'image/jpeg' }),
      });
      const { credit, licence, source } = this.picture;
      this.dialog.close(
        await this.saving.save('media.change', kept, {
          alt: `${this.picture.alt} With the words: ${words}`.trim().slice(0, 1000),
          credit,
          licence,
          source,
          tags: [...this.picture.tags, 'title card'],
        }),
      );
    } catch (error) {
      this.error.set(sentenceOf(error));
      this.busy.set(false);
    }
  }
}

/** Words set in lines that fit; a word that fits no line stands alone. */
function wrap(words: string, fits: (text: string) => boolean): string[] {
  const lines: string[] = [];
  for (const word of words.split(/\s+/)) {
    const last = lines.at(-1);
    if (last !== undefined && fits(`${last} ${word}`)) lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}

/** Mean colours of a grid of places behind the words. */
function sample(pen: CanvasRenderingContext2D, width: number, band: { y: number; h: number }): Rgb[] {
  const samples: Rgb[] = [];
  const [w, h] = [Math.floor(width / SAMPLES), Math.max(1, Math.floor(band.h / 8))];
  for (let y = band.y; y + h <= band.y + band.h; y += h) {
    for (let x = 0; x + w <= width; x += w) {
      const { data } = pen.getImageData(x, y, w, h);
      let [r, g, b] = [0, 0, 0];
      for (let i = 0; i < data.length; i += 4) [r, g, b] = [r + data[i]!, g + data[i + 1]!, b + data[i + 2]!];
      const n = data.length / 4;
      samples.push([r / n, g / n, b / n]);
    }
  }
  return samples;
}

const css = (colour: Rgb, strength: number) => `rgba(${colour.map(Math.round).join(',')},${strength})`;
