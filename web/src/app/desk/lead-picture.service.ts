import { Injectable, Injector, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { MediaView } from '@keyroster/contract';
import { firstValueFrom } from 'rxjs';
import { sentenceOf } from '../api/api';
import { LibraryDialog } from '../media/library-dialog';
import { Messages } from '../ui/messages.service';
import { PostService } from '../posts/post.service';

/** Chooses pictures for the open post, and makes its lead picture lighter. */
@Injectable()
export class LeadPictureService {
  private readonly posts = inject(PostService);
  private readonly messages = inject(Messages);
  private readonly dialogs = inject(MatDialog);
  private readonly injector = inject(Injector);

  /** One picture out of the library, or undefined when none was chosen. */
  async choose(label: string): Promise<MediaView | undefined> {
    const dialog = this.dialogs.open<LibraryDialog, unknown, MediaView[]>(LibraryDialog, {
      data: { many: false },
      width: '860px',
      maxWidth: '94vw',
      ariaLabel: label,
    });
    return (await firstValueFrom(dialog.afterClosed()))?.[0];
  }

  /** A lighter copy of a picture, made in a dialog, leads in its place; the step can be undone. */
  async lighten(media: number): Promise<void> {
    const { LightenDialog } = await import('../media/lighten-dialog');
    const dialog = this.dialogs.open<unknown, number, MediaView>(LightenDialog, {
      data: media,
      width: '900px',
      maxWidth: '94vw',
      ariaLabel: 'Lighten the picture',
      injector: this.injector,
    });
    const made = await firstValueFrom(dialog.afterClosed());
    const before = this.posts.post()?.leadPicture;
    if (!made || !before) return;
    try {
      await this.posts.change({ leadPicture: { media: made.id, alt: before.alt } });
      this.messages.done('The lighter picture leads now. The heavy one stays in the library.', async () => {
        await this.posts.change({ leadPicture: before });
      });
    } catch (error) {
      this.messages.done(sentenceOf(error));
    }
  }
}
