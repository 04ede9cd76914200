import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import type { SerialView } from '@keyroster/contract';
import { formatCount } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { Saving } from '../changes/saving.service';
import { Chart } from '../ui/chart';
import { confirm } from '../ui/confirm';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { TextField, isReady, must, textControl } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { PageHead } from '../ui/page-head';
import { SectionHead } from '../ui/section-head';
import { SeenAs } from './seen-as';
import { drawReaders } from './serial-chart';
import { SerialParts } from './serial-parts';

/** Serials: which parts come to each reader when, and how many readers are where. */
@Component({
  imports: [
    Chart,
    EmptyState,
    ErrorLine,
    MatButton,
    PageHead,
    ReactiveFormsModule,
    SectionHead,
    SeenAs,
    SerialParts,
    TextField,
  ],
  templateUrl: './serials.page.html',
  styleUrl: './side-page.scss',
  styles: `
    .columns {
      grid-template-columns: minmax(170px, 210px) minmax(0, 1fr);
    }
    @media (max-width: 900px) {
      .columns {
        grid-template-columns: minmax(0, 1fr);
      }
    }
    .parts {
      display: grid;
      grid-template-columns: minmax(0, 8fr) minmax(0, 5fr);
      gap: 26px;
      align-items: start;
    }
    @media (max-width: 900px) {
      .parts {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SerialsPage {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly dialogs = inject(MatDialog);
  private readonly messages = inject(Messages);
  protected readonly error = signal('');
  protected readonly serials = signal<readonly SerialView[] | null>(null);
  protected readonly chosen = signal<number | null>(null);
  protected readonly serial = computed(() => {
    const all = this.serials() ?? [];
    return all.find((s) => s.id === this.chosen()) ?? all[0] ?? null;
  });
  protected readonly out = computed(() =>
    (this.serial()?.parts ?? []).filter((p) => p.stage === 'published'),
  );
  protected readonly draw = computed(() => {
    const parts = this.out();
    return parts.length === 0 ? null : (at: HTMLElement) => drawReaders(at, parts);
  });
  protected readonly form = new FormGroup({
    title: textControl(
      '',
      must((title: string) => title.trim() !== '', 'Give it a title.'),
    ),
  });
  protected readonly readers = (n: number) => formatCount(n, 'reader');
  protected readonly partsOf = (s: SerialView) => formatCount(s.parts.length, 'part');

  constructor() {
    void this.refresh();
    inject(Live).whenever(['blog', 'release'], () => this.refresh());
  }

  private async refresh(): Promise<void> {
    await this.attempt(async () => this.serials.set(await this.api.call('serials.list', {})));
  }

  protected async begin(): Promise<void> {
    if (!isReady(this.form)) return;
    const title = this.form.controls.title.value.trim();
    await this.attempt(async () => {
      const made = await this.api.call('serials.add', { body: { title, intro: '' } });
      this.form.reset({ title: '' });
      this.chosen.set(made.id);
      await this.refresh();
    });
  }

  protected kept(serial: SerialView): void {
    this.serials.update((all) => (all ?? []).map((s) => (s.id === serial.id ? serial : s)));
    this.messages.done('Saved. Readers get the parts like this from now on.');
  }

  protected async remove(serial: SerialView): Promise<void> {
    const sure = await confirm(this.dialogs, {
      heading: `Delete “${serial.title}”?`,
      text: 'Its posts stay. Those that are out are before all readers at once, without a delay.',
      act: 'Delete the serial',
      grave: true,
    });
    if (!sure) return;
    await this.attempt(async () => {
      await this.saving.remove('serials.remove', serial);
      await this.refresh();
      this.messages.done(`“${serial.title}” is deleted; its posts are as they were.`);
    });
  }

  private async attempt(act: () => Promise<void>): Promise<void> {
    try {
      await act();
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
