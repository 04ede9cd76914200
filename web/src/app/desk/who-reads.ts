import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { PostChanges } from '@keyroster/contract';
import { ACCESS, ACCESS_NAMES, maxOf, type Access } from '@keyroster/core';
import { confirm } from '../ui/confirm';
import { ChoiceField, FieldSet, TextField } from '../ui/fields';
import { PostService } from '../posts/post.service';
import { PreviewLinks } from './preview-links';

/** Who may read the post once it is out, and who sees it before. */
@Component({
  selector: 'kr-who-reads',
  imports: [ChoiceField, FieldSet, PreviewLinks, TextField],
  template: `
    @if (posts.post(); as p) {
      <fieldset [off]="!p.rights.details">
        <kr-choice
          #who
          label="Who may read it"
          [options]="options"
          [value]="p.access"
          [hint]="hint(p.access)"
          (changed)="choose($event, who)"
        />
        @if (p.access === 'password' && p.rights.details) {
          <kr-text
            guarded
            label="Password for readers"
            [max]="max('readingPassword')"
            [value]="p.readingPassword"
            hint="One for all who are told it. A new one shuts out who had the old one."
            (changed)="store.emit([{ readingPassword: $event.trim() }, 'The password'])"
          />
        }
      </fieldset>
      @if (p.rights.write || p.rights.details) {
        <kr-preview-links [postId]="p.id" />
      }
    }
  `,
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      min-width: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WhoReads {
  protected readonly posts = inject(PostService);
  private readonly dialogs = inject(MatDialog);
  readonly store = output<[PostChanges, string]>();
  protected readonly max = maxOf;
  protected readonly options = ACCESS.map((value) => ({ value, label: ACCESS_NAMES[value] }));

  protected hint(access: Access): string {
    switch (access) {
      case 'everyone':
        return '';
      case 'members':
        return 'Readers who signed up, with their e-mail address alone.';
      case 'password':
        return 'It stands in no list until the password was given.';
      case 'staff':
        return 'On the blog, who is signed in to the newsroom.';
    }
  }

  /** What readers have is not taken from them without a question. */
  protected async choose(access: Access | null, field: ChoiceField<Access>): Promise<void> {
    const post = this.posts.post();
    if (!access || !post) return;
    const takes = post.stage === 'published' && access !== 'everyone' && access !== post.access;
    const sure =
      !takes ||
      (await confirm(this.dialogs, {
        heading: 'Take it from readers?',
        text:
          `“${post.title}” is out. Only ${access === 'password' ? 'those with the password' : access} read it ` +
          'from now on; it leaves lists, feeds and search, and nothing more of it goes to outlets.',
        act: 'Take it from the others',
        grave: true,
      }));
    if (sure) this.store.emit([{ access }, 'Access']);
    else field.value.set(post.access);
  }
}
