import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import type { BlogPlace, NewsroomBlog } from '@keyroster/contract';
import { formatCount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { landRefusal } from '../api/refusals';
import { Saving } from '../changes/saving.service';
import { ErrorLine } from '../ui/error-line';
import { SuggestField, TextField, isReady, must, textControl } from '../ui/fields';
import { Messages } from '../ui/messages.service';
import { SectionHead } from '../ui/section-head';
import { watchUnsaved } from '../ui/unsaved';
import { SiteHead } from './site-head';

const PATH = /^(?:\/[a-z0-9]+(?:-[a-z0-9]+)*)?$/;
const pathControl = () =>
  textControl(
    '',
    must(
      (path: string) => PATH.test(path.trim()),
      'A slash, then small letters, digits and hyphens: /letters.',
    ),
  );
const placeOf = ({ host, path }: { host: string; path: string }): BlogPlace => ({
  host: host.trim() === '' ? null : host.trim(),
  path: path.trim(),
});

/** The blogs of the newsroom: where each stands, another one begun, this one put elsewhere. */
@Component({
  imports: [MatButton, ReactiveFormsModule, ErrorLine, SuggestField, TextField, SectionHead, SiteHead],
  templateUrl: './blogs.page.html',
  styleUrl: './menu.page.scss',
  styles: `
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      border-bottom: 1px solid var(--hair);
      padding: 8px 0;
    }
    li .row {
      justify-content: space-between;
    }
    b {
      font: 560 16px var(--serif);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BlogsPage {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  protected readonly session = inject(SessionService);
  protected readonly blogs = signal<NewsroomBlog[]>([]);
  protected readonly error = signal('');
  protected readonly zones = Intl.supportedValuesOf('timeZone');
  protected readonly here = computed(() => this.blogs().find((b) => b.id === this.session.blog()?.id));
  protected readonly form = new FormGroup({
    title: textControl(
      '',
      must((title: string) => title.trim() !== '', 'A blog needs a name.'),
    ),
    tagline: textControl(),
    zone: textControl(
      '',
      must((zone: string) => this.zones.includes(zone), 'Choose a zone of the list, such as Europe/London.'),
    ),
    host: textControl(),
    path: pathControl(),
  });
  protected readonly place = new FormGroup({ host: textControl(), path: pathControl() });
  protected readonly facts = ({ posts, people, role }: NewsroomBlog): string =>
    [
      formatCount(posts, 'published post'),
      `${people === 1 ? 'one person' : `${people} people`} in its newsroom`,
      role ? `you are its ${role}` : 'you are not on it',
    ].join(' · ');

  constructor() {
    watchUnsaved(() => this.form.dirty || this.place.dirty);
    void this.refresh();
    inject(Live).whenever(['blog', 'people'], () => this.refresh());
    effect(() => {
      const here = this.here();
      if (here && !untracked(() => this.place.dirty))
        untracked(() => this.place.reset({ host: here.host ?? '', path: here.path }));
    });
    effect(() => {
      const zone = this.session.blog()?.zone;
      if (zone && !untracked(() => this.form.dirty)) untracked(() => this.form.reset({ zone }));
    });
  }

  private async refresh(): Promise<void> {
    try {
      this.blogs.set(await this.api.call('blogs.list', {}));
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  protected async add(): Promise<void> {
    if (!isReady(this.form)) return;
    const { title, tagline, zone, ...where } = this.form.getRawValue();
    try {
      const made = await this.api.call('blogs.add', { body: { title, tagline, zone, ...placeOf(where) } });
      this.form.reset({ zone });
      this.error.set('');
      await this.refresh();
      await this.session.refresh();
      this.messages.done(`“${made.title}” stands at ${made.home}. You are its managing editor.`);
    } catch (error) {
      this.error.set(landRefusal(this.form, error));
    }
  }

  protected async put(): Promise<void> {
    if (!isReady(this.place)) return;
    try {
      const put = await this.saving.save('blogs.place', this.here()!, placeOf(this.place.getRawValue()));
      this.place.markAsPristine();
      this.error.set('');
      await this.refresh();
      await this.session.refresh();
      this.messages.done(`“${put.title}” stands at ${put.home} now.`);
    } catch (error) {
      this.error.set(landRefusal(this.place, error));
    }
  }
}
