import {
  ChangeDetectionStrategy,
  Component,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { FormArray, FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import type { MediaView, PersonPage } from '@keyroster/contract';
import { firstValueFrom } from 'rxjs';
import { landRefusal } from '../api/refusals';
import { LibraryDialog } from '../media/library-dialog';
import { FormMerge } from '../ui/form-merge';
import { TwoValues } from '../ui/two-values';
import { ErrorLine } from '../ui/error-line';
import { SuggestField, TextField } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { watchUnsaved } from '../ui/unsaved';
import { AtRoot } from '../api/root';
import { Saving } from '../changes/saving.service';

const MAX_LINKS = 8;
const linkGroup = (label = '', url = '') =>
  new FormGroup({
    label: new FormControl(label, { nonNullable: true }),
    url: new FormControl(url, { nonNullable: true }),
  });

interface ProfileValues {
  name: string;
  zone: string;
  biography: string;
  links: { label: string; url: string }[];
  pictureId: number | null;
}

/** What the readers’ pages tell of a person, and where they are. */
@Component({
  selector: 'kr-profile-form',
  imports: [AtRoot, MatButton, ReactiveFormsModule, TwoValues, ErrorLine, SuggestField, TextField],
  templateUrl: './profile-form.html',
  styles: `
    .picture {
      display: flex;
      gap: 10px;
      align-items: center;
      margin-bottom: 8px;
    }
    img {
      width: 72px;
      height: 72px;
      object-fit: cover;
      border-radius: 4px;
      background: var(--hair);
    }
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
    }
    legend {
      font-weight: 600;
      padding: 0;
    }
    .link {
      display: grid;
      grid-template-columns: 1fr 2fr auto;
      gap: 8px;
      align-items: start;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProfileForm {
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  private readonly dialogs = inject(MatDialog);
  readonly person = input.required<PersonPage>();
  readonly changed = output<PersonPage>();
  protected readonly zones = Intl.supportedValuesOf('timeZone');
  protected readonly pictureId = signal<number | null>(null);
  protected readonly error = signal('');
  protected readonly form = new FormGroup({
    name: new FormControl('', { nonNullable: true }),
    zone: new FormControl('', { nonNullable: true }),
    biography: new FormControl('', { nonNullable: true }),
    links: new FormArray<ReturnType<typeof linkGroup>>([]),
  });

  protected readonly merge = new FormMerge<ProfileValues>(this.form, {
    labels: { name: 'Name', zone: 'Time zone', biography: 'Biography', links: 'Links', pictureId: 'Picture' },
    read: () => ({ ...this.form.getRawValue(), pictureId: this.pictureId() }),
    draw: { links: (links) => this.drawLinks(links), pictureId: (id) => this.pictureId.set(id) },
    say: {
      links: (links) => links.map((l) => `“${l.label || l.url}”`).join(', ') || 'empty',
      pictureId: (id) => (id === null ? 'no picture' : 'another picture'),
    },
  });
  private shown: number | null = null;

  constructor() {
    watchUnsaved(() => this.merge.isUnsaved());
    effect(() => {
      const { id, name, zone, biography, links, pictureId } = this.person();
      const values = { name, zone: zone ?? '', biography, links, pictureId };
      untracked(() => (id === this.shown ? this.merge.meet(values) : this.merge.open(values)));
      this.shown = id;
    });
  }

  private drawLinks(links: ProfileValues['links']): void {
    this.form.controls.links.clear();
    for (const link of links) this.form.controls.links.push(linkGroup(link.label, link.url));
  }
  protected get mayAddLink(): boolean {
    return this.form.controls.links.length < MAX_LINKS;
  }
  protected addLink(): void {
    this.form.controls.links.push(linkGroup());
  }
  protected removeLink(index: number): void {
    this.form.controls.links.removeAt(index);
    this.form.markAsDirty();
  }

  protected async choosePicture(): Promise<void> {
    const dialog = this.dialogs.open<LibraryDialog, unknown, MediaView[]>(LibraryDialog, {
      data: { many: false },
      width: '720px',
      maxWidth: '94vw',
      ariaLabel: 'Choose a picture',
    });
    const [picture] = (await firstValueFrom(dialog.afterClosed())) ?? [];
    if (!picture) return;
    this.pictureId.set(picture.id);
    this.form.markAsDirty();
  }
  protected removePicture(): void {
    this.pictureId.set(null);
    this.form.markAsDirty();
  }

  protected async save(): Promise<void> {
    if (this.merge.mustChoose()) return;
    const sent = { ...this.form.getRawValue(), pictureId: this.pictureId() };
    const { name, zone, biography, links, pictureId } = sent;
    try {
      const saved = await this.saving.save('people.profile', this.person(), {
        name,
        zone: zone.trim() || null,
        biography,
        pictureId,
        links: links.filter((l) => l.label.trim() !== '' || l.url.trim() !== ''),
      });
      this.error.set('');
      this.merge.saved(sent);
      this.changed.emit(saved);
      this.messages.done('Saved.');
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    }
  }
}
