import type { Injector } from '@angular/core';
import type { MatDialog } from '@angular/material/dialog';
import type { ComponentType } from '@angular/cdk/overlay';
import { firstValueFrom } from 'rxjs';
import type { MediaView } from '@keyroster/contract';
import type { BodyNode } from '@keyroster/core';
import { LibraryDialog } from '../media/library-dialog';
import { ButtonDialog, SignUpDialog } from './block-dialogs';
import type { PromptedBlock } from './inserts';
import { PictureDialog, type PictureChoice } from './picture-dialog';
import { SectionDialog } from './section-dialog';
import { VideoDialog } from './video-dialog';

/**
 * Asks for what a block needs. `attrs` of the block that is being changed, or null for a new one. Null when
 * nothing was chosen.
 */
export async function promptForBlock(
  dialog: MatDialog,
  injector: Injector,
  name: PromptedBlock,
  attrs: Record<string, unknown> | null,
): Promise<BodyNode[] | null> {
  const open = <R>(component: ComponentType<unknown>, label: string, data: unknown, width = '520px') =>
    firstValueFrom(
      dialog
        .open<unknown, unknown, R>(component, { data, width, maxWidth: '94vw', ariaLabel: label, injector })
        .afterClosed(),
    );
  const one = (type: string, found: object | undefined) =>
    found ? [{ type, attrs: found as Record<string, unknown> }] : null;
  switch (name) {
    case 'picture':
      return one('picture', await open<PictureChoice>(PictureDialog, 'Picture', attrs));
    case 'video':
      return one('video', await open<object>(VideoDialog, 'Video', attrs));
    case 'button':
      return one('button', await open<object>(ButtonDialog, 'Button', attrs));
    case 'signUp':
      return one('signUp', await open<object>(SignUpDialog, 'Sign-up for the letter', attrs));
    case 'gallery': {
      const pictures = await open<MediaView[]>(
        LibraryDialog,
        'Pictures for the gallery',
        { many: true },
        '860px',
      );
      return pictures && pictures.length > 0
        ? [
            {
              type: 'gallery',
              content: pictures.map((p) => ({
                type: 'picture',
                attrs: {
                  media: p.id,
                  alt: p.alt,
                  caption: p.caption,
                  credit: p.credit,
                  size: 'column',
                  side: 'none',
                },
              })),
            },
          ]
        : null;
    }
    case 'section':
      return (await open<BodyNode[]>(SectionDialog, 'A section from another post', null, '640px')) ?? null;
  }
}
