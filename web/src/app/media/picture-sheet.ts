import {
  ChangeDetectionStrategy,
  Component,
  Injector,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { ComponentType } from '@angular/cdk/overlay';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { MediaChanges, MediaView, MediaWhole } from '@keyroster/contract';
import { formatBytes } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Messages } from '../ui/messages.service';
import { FieldSet, TextField } from '../ui/fields';
import { FocusPoint } from './focus-point';
import { LibraryDialog } from './library-dialog';
import { ErrorLine } from '../ui/error-line';
import { MatTooltip } from '@angular/material/tooltip';
import { Saving } from '../changes/saving.service';

const HOW = {
  text: 'in the text',
  lead: 'as lead',
  share: 'for sharing',
  readers: 'in the version that readers see',
} as const;

/** One picture: what is known of it, where it is used, its focus, and what can be made of it. */
@Component({
  selector: 'kr-picture',
  imports: [MatButton, RouterLink, FocusPoint, TextField, FieldSet, ErrorLine, MatTooltip],
  templateUrl: './picture-sheet.html',
  styles: `
    aside {
      background: var(--sheet);
      border: 1px solid var(--line);
      border-radius: 4px;
      padding: 12px 14px;
    }
    h2 {
      overflow-wrap: anywhere;
    }
    fieldset {
      border: 0;
      margin: 10px 0 0;
      padding: 0;
      min-width: 0;
    }
    .two {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 0 10px;
    }
    h3 {
      margin: 14px 0 4px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      display: flex;
      gap: 8px;
      justify-content: space-between;
      padding: 3px 0;
      border-bottom: 1px solid var(--hair);
    }
    p {
      margin-top: 6px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PictureSheet {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  private readonly dialogs = inject(MatDialog);
  private readonly injector = inject(Injector);
  protected readonly session = inject(SessionService);
  readonly id = input.required<number>();
  readonly changed = output<MediaView>();
  readonly made = output<MediaView>();
  /** It went into the bin, or out of it. */
  readonly gone = output();
  readonly closed = output();
  protected readonly picture = signal<MediaWhole | null>(null);
  protected readonly error = signal('');
  protected readonly bytes = formatBytes;
  protected readonly how = HOW;

  constructor() {
    effect(() => {
      const id = this.id();
      untracked(() => void this.open(id));
    });
  }

  protected mayChange(p: MediaView): boolean {
    return this.session.may('manageTags') || p.addedBy?.id === this.session.me()?.id;
  }
  protected split(text: string): string[] {
    return text
      .split(',')
      .map((t) => t.trim())
      .filter(Boolean);
  }

  private async open(id: number): Promise<void> {
    try {
      this.picture.set(await this.api.call('media.see', { id }));
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  /** One after the other, so that what is shown in the end is what was answered last. */
  protected store(body: MediaChanges, what: string): Promise<void> {
    return (this.stored = this.stored.then(() => this.keep(body, what)));
  }

  private stored = Promise.resolve();

  private async keep(body: MediaChanges, what: string): Promise<void> {
    try {
      const after = await this.saving.save('media.change', this.picture()!, body);
      this.picture.update((p) => p && { ...p, ...after });
      this.changed.emit(after);
      this.error.set('');
    } catch (error) {
      this.error.set(`${what} was not stored. ${sentenceOf(error)}`);
    }
  }

  protected async bin(p: MediaView): Promise<void> {
    await this.store({ binned: !p.binned }, 'That');
    if (this.error()) return;
    this.gone.emit();
    this.messages.done(
      p.binned ? 'It is back in the library.' : 'It lies in the bin.',
      p.binned
        ? undefined
        : async () => {
            await this.saving.save('media.change', this.picture() ?? p, { binned: false });
          },
    );
  }

  protected replace(p: MediaView): void {
    this.dialogs
      .open<LibraryDialog, unknown, MediaView[]>(LibraryDialog, {
        data: { many: false },
        width: '860px',
        maxWidth: '94vw',
        ariaLabel: 'Put which picture in its place?',
      })
      .afterClosed()
      .subscribe((chosen) => {
        const by = chosen?.[0];
        if (!by) return;
        void this.api
          .call('media.replace', { id: p.id, body: { with: by.id } })
          .then(({ sentence }) => {
            this.messages.done(sentence, async () => {
              this.messages.done(
                (await this.api.call('media.replace', { id: by.id, body: { with: p.id } })).sentence,
              );
            });
            return this.open(p.id);
          })
          .catch((error: unknown) => this.error.set(sentenceOf(error)));
      });
  }

  protected async lighten(p: MediaView): Promise<void> {
    this.make((await import('./lighten-dialog')).LightenDialog, 'Lighten the picture', p.id, '900px');
  }
  protected async crop(p: MediaView): Promise<void> {
    this.make((await import('./crop-dialog')).CropDialog, 'Crop the picture', p, '760px');
  }
  protected async card(p: MediaView): Promise<void> {
    this.make((await import('./card-dialog')).CardDialog, 'Words on the picture', p, '820px');
  }

  private make(component: ComponentType<unknown>, ariaLabel: string, data: unknown, width: string): void {
    this.dialogs
      .open<unknown, unknown, MediaView>(component, {
        data,
        width,
        maxWidth: '94vw',
        ariaLabel,
        injector: this.injector,
      })
      .afterClosed()
      .subscribe((made) => {
        if (!made) return;
        this.messages.done('It is in the library, beside the one it was made from.');
        this.made.emit(made);
      });
  }
}
