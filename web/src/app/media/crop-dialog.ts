import { ChangeDetectionStrategy, Component, computed, effect, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { MediaView } from '@keyroster/contract';
import { SHAPES, SHAPE_NAMES, cropFor, type CropBox, type Shape } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { NumberField, SwitchField } from '../ui/fields';
import { ErrorLine } from '../ui/error-line';
import { AtRoot } from '../api/root';

const MIN_PART = 40;

/** Keeps a part of a picture as a picture: in a shape or free, dragged with the mouse or given in pixels. */
@Component({
  imports: [AtRoot, MatButton, MatDialogModule, ReactiveFormsModule, NumberField, ErrorLine, SwitchField],
  templateUrl: './crop-dialog.html',
  styles: `
    .whole {
      position: relative;
      line-height: 0;
      margin: 10px 0;
      overflow: hidden;
      touch-action: none;
      cursor: crosshair;
    }
    img {
      width: 100%;
      user-select: none;
    }
    i {
      position: absolute;
      border: 2px solid #fff;
      box-shadow:
        0 0 0 9999px rgba(0, 0, 0, 0.5),
        0 0 0 1px #17211e;
      pointer-events: none;
    }
    .four {
      display: grid;
      grid-template-columns: repeat(4, 1fr);
      gap: 10px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CropDialog {
  private readonly api = inject(Api);
  private readonly dialog = inject<MatDialogRef<CropDialog, MediaView>>(MatDialogRef);
  protected readonly picture = inject<MediaView>(MAT_DIALOG_DATA);
  protected readonly shapes = [...SHAPE_NAMES, 'free'] as const;
  protected readonly min = MIN_PART;
  protected readonly fields = [
    { key: 'left', name: 'From the left' },
    { key: 'top', name: 'From the top' },
    { key: 'width', name: 'Width' },
    { key: 'height', name: 'Height' },
  ] as const;
  protected readonly shape = signal<Shape | null>('landscape');
  protected readonly cut = signal<CropBox>(
    cropFor(this.picture.width, this.picture.height, SHAPES.landscape, this.picture.focus),
  );
  protected readonly box = computed(() => {
    const c = this.cut();
    const { width, height } = this.picture;
    return {
      left: (c.left / width) * 100,
      top: (c.top / height) * 100,
      width: (c.width / width) * 100,
      height: (c.height / height) * 100,
    };
  });
  /** The part as it is typed; what is settled of it comes back. */
  protected readonly form = new FormGroup(
    Object.fromEntries(
      this.fields.map(({ key }) => [key, new FormControl(this.cut()[key], { nonNullable: true })]),
    ) as Record<keyof CropBox, FormControl<number>>,
  );
  protected readonly error = signal('');
  protected readonly busy = signal(false);
  protected from: { x: number; y: number } | null = null;

  constructor() {
    effect(() => this.form.setValue({ ...this.cut() }, { emitEvent: false }));
  }

  protected readonly shaped = computed((): Shape | 'free' => this.shape() ?? 'free');
  protected choose(shape: Shape | 'free'): void {
    if (shape === 'free') return this.shape.set(null);
    this.shape.set(shape);
    const c = this.cut();
    this.cut.set(
      cropFor(this.picture.width, this.picture.height, SHAPES[shape], {
        x: (c.left + c.width / 2) / this.picture.width,
        y: (c.top + c.height / 2) / this.picture.height,
      }),
    );
  }

  protected put(key: keyof CropBox, value: number | null): void {
    if (value === null || !Number.isFinite(value)) return;
    this.settle({ ...this.cut(), [key]: Math.round(value) }, key === 'height' ? 'height' : 'width');
  }

  protected down(event: PointerEvent): void {
    (event.currentTarget as HTMLElement).setPointerCapture(event.pointerId);
    this.from = this.point(event);
  }
  protected drag(event: PointerEvent): void {
    if (!this.from) return;
    const to = this.point(event);
    this.settle(
      {
        left: Math.min(this.from.x, to.x),
        top: Math.min(this.from.y, to.y),
        width: Math.abs(to.x - this.from.x),
        height: Math.abs(to.y - this.from.y),
      },
      'width',
    );
  }

  private point(event: PointerEvent): { x: number; y: number } {
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    return {
      x: Math.round(((event.clientX - box.left) / box.width) * this.picture.width),
      y: Math.round(((event.clientY - box.top) / box.height) * this.picture.height),
    };
  }

  /** Keeps the part within the picture and, with a shape, in its proportions. */
  private settle(cut: CropBox, leads: 'width' | 'height'): void {
    const { width: w, height: h } = this.picture;
    const shape = this.shape();
    const ratio = shape ? SHAPES[shape].width / SHAPES[shape].height : null;
    let width = Math.min(Math.max(cut.width, Math.min(MIN_PART, w)), w);
    let height = ratio ? Math.round(width / ratio) : Math.min(Math.max(cut.height, Math.min(MIN_PART, h)), h);
    if (ratio && leads === 'height') {
      height = Math.min(Math.max(cut.height, MIN_PART), h);
      width = Math.round(height * ratio);
    }
    if (height > h) {
      height = h;
      if (ratio) width = Math.round(h * ratio);
    }
    if (width > w) {
      width = w;
      if (ratio) height = Math.round(w / ratio);
    }
    this.cut.set({
      left: Math.min(Math.max(0, cut.left), w - width),
      top: Math.min(Math.max(0, cut.top), h - height),
      width,
      height,
    });
  }

  protected async keep(): Promise<void> {
    // What was typed last may not be settled yet.
    const [typed, settled] = [this.form.getRawValue(), this.cut()];
    for (const { key } of this.fields) if (typed[key] !== settled[key]) this.put(key, typed[key]);
    this.busy.set(true);
    try {
      this.dialog.close(await this.api.call('media.crop', { id: this.picture.id, body: { ...this.cut() } }));
    } catch (error) {
      this.error.set(sentenceOf(error));
      this.busy.set(false);
    }
  }
}
