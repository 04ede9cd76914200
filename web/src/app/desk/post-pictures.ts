import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { formatBytes } from '@keyroster/core';
import { FieldSet, TextField } from '../ui/fields';
import type { Stored } from './stored';
import { LeadPictureService } from './lead-picture.service';
import { LeftOver } from './left-over';
import { MeasureService } from '../posts/measure.service';
import { PostService } from '../posts/post.service';
import { AtRoot } from '../api/root';

/** The lead picture of the open post, and the one that is shown where it is shared. */
@Component({
  selector: 'kr-post-pictures',
  imports: [LeftOver, AtRoot, FieldSet, MatButton, TextField],
  templateUrl: './post-pictures.html',
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      min-width: 0;
    }
    img {
      width: 100%;
      border-radius: 3px;
      margin-bottom: 6px;
      display: block;
    }
    .label {
      display: block;
      font-weight: 600;
      font-size: 12px;
      margin-bottom: 3px;
    }
    .row {
      margin: 6px 0 10px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PostPictures {
  protected readonly posts = inject(PostService);
  protected readonly measure = inject(MeasureService);
  protected readonly pictures = inject(LeadPictureService);
  readonly store = output<Stored>();
  protected readonly bytes = formatBytes;

  /** Is this still the source's, in a copied post? */
  protected async chooseLead(): Promise<void> {
    const picture = await this.pictures.choose('Choose a lead picture');
    if (picture)
      this.store.emit([{ leadPicture: { media: picture.id, alt: picture.alt } }, 'The lead picture']);
  }

  protected async chooseShare(): Promise<void> {
    const picture = await this.pictures.choose('Choose a picture for sharing');
    if (picture) this.store.emit([{ sharePicture: picture.id }, 'The picture for sharing']);
  }
}
