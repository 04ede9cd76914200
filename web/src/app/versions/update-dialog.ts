import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialog, MatDialogModule, type MatDialogRef } from '@angular/material/dialog';
import type { UpdateView } from '@keyroster/contract';
import { formatClock, formatList, formatShortDate, type ComparedBlock } from '@keyroster/core';
import { firstValueFrom } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { ErrorLine } from '../ui/error-line';
import { ComparedDetails } from './compared-details';
import { ComparedText } from './compared-text';
import { Comparing } from './comparing';

interface Updating {
  id: number;
  title: string;
}

/** Shows what an update publishes, what stands in its way and what falls behind, before it is done. */
@Component({
  selector: 'kr-update-dialog',
  imports: [ComparedDetails, ComparedText, ErrorLine, MatButton, MatDialogModule],
  providers: [Comparing],
  templateUrl: './update-dialog.html',
  styles: `
    kr-compared {
      display: block;
      max-height: 46vh;
      overflow: auto;
      border: 1px solid var(--hair);
      border-radius: 4px;
      padding: 4px 12px;
    }
    h3 {
      margin: 14px 0 4px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
class UpdateDialog {
  protected readonly data = inject<Updating>(MAT_DIALOG_DATA);
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly comparing = inject(Comparing);
  protected readonly view = signal<UpdateView | null>(null);
  protected readonly blocks = signal<ComparedBlock[] | null>(null);
  protected readonly error = signal('');
  protected readonly textChanges = computed(
    () => (this.blocks() ?? []).filter((b) => b.kind !== 'same').length,
  );
  /** The button says what it will change. */
  protected readonly label = computed(() => {
    const names = (this.view()?.comparison?.details ?? []).map((d) => d.name);
    const all = [...names, ...(this.textChanges() > 0 ? ['text'] : [])];
    return all.length === 0
      ? 'Update'
      : `Update ${all.length > 4 ? `${all.length} things` : formatList(all)}`;
  });

  constructor() {
    void this.look();
  }

  private async look(): Promise<void> {
    try {
      const view = await this.api.call('versions.pending', { id: this.data.id });
      this.view.set(view);
      if (view.comparison) this.blocks.set(await firstValueFrom(this.comparing.compare(view.comparison)));
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  protected when(at: string): string {
    const local = this.session.local(at);
    return `${formatShortDate(local, this.session.today())}, ${formatClock(local.slice(0, 16))}`;
  }
}

/** The version that the person has looked at and wants readers to see; null when they do not. */
export async function promptUpdate(dialogs: MatDialog, data: Updating): Promise<number | null> {
  const dialog: MatDialogRef<unknown, number | null> = dialogs.open(UpdateDialog, {
    data,
    ariaLabel: `Update “${data.title}”`,
    width: '720px',
    maxWidth: '94vw',
    autoFocus: 'dialog',
  });
  return (await firstValueFrom(dialog.afterClosed())) ?? null;
}
