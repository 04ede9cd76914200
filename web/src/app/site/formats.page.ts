import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { FormatView, TagView, TemplateView } from '@keyroster/contract';
import { mergeSuggestions, formatCount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Messages } from '../ui/messages.service';
import { TextField } from '../ui/fields';
import { FormatForm } from './format-form';
import { ErrorLine } from '../ui/error-line';
import { PageHead } from '../ui/page-head';
import { TemplateForm } from './template-form';
import { MatExpansionModule } from '@angular/material/expansion';
import { Unsaved } from '../ui/unsaved';
import { SectionHead } from '../ui/section-head';
import { Saving } from '../changes/saving.service';

/** What posts begin with: formats with their fields and starter text, templates, and the tags they share. */
@Component({
  imports: [
    RouterLink,
    MatButton,
    FormatForm,
    TextField,
    ErrorLine,
    PageHead,
    TemplateForm,
    MatExpansionModule,
    SectionHead,
  ],
  templateUrl: './formats.page.html',
  styleUrl: './formats.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FormatsPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
  private readonly messages = inject(Messages);
  private readonly unsaved = inject(Unsaved);
  protected readonly formats = signal<FormatView[]>([]);
  protected readonly templates = signal<TemplateView[]>([]);
  protected readonly tags = signal<TagView[]>([]);
  protected readonly merges = signal<{ keep: TagView; merge: TagView }[]>([]);
  protected readonly open = signal<FormatView | null>(null);
  protected readonly fresh = signal(false);
  protected readonly error = signal('');
  protected readonly count = formatCount;
  protected readonly mayTemplates = () => this.session.may('manageTags');

  constructor() {
    void this.refresh();
  }

  private async refresh(): Promise<void> {
    await this.act(async () => {
      const [formats, templates, tags] = await Promise.all([
        this.api.call('formats.list', {}),
        this.api.call('templates.list', {}),
        this.api.call('tags.list', {}),
      ]);
      this.formats.set(formats);
      this.templates.set(templates);
      this.showTags(tags);
    });
  }

  private showTags(tags: TagView[]): void {
    this.tags.set(tags);
    this.merges.set(mergeSuggestions(tags));
  }

  protected async show(format: FormatView | null, fresh = false): Promise<void> {
    if (!(await this.unsaved.mayLeave())) return;
    this.open.set(format);
    this.fresh.set(fresh);
  }

  protected stored(format: FormatView): void {
    this.open.set(format);
    this.fresh.set(false);
    this.messages.done(`“${format.name}” is saved.`);
    void this.refresh();
  }

  protected storedTemplate(name: string): void {
    this.messages.done(`“${name}” is saved.`);
    void this.refresh();
  }

  protected removeTemplate(t: TemplateView): Promise<void> {
    return this.act(async () => {
      await this.saving.remove('templates.remove', t);
      this.messages.done(`“${t.name}” is removed.`, async () => {
        await this.api.call('templates.add', { body: { name: t.name, text: t.text } });
        await this.refresh();
      });
      await this.refresh();
    });
  }

  protected rename(t: TagView, name: string): Promise<void> {
    return this.act(async () => this.showTags(await this.saving.save('tags.change', t, { name })));
  }

  protected merge(from: TagView, into: TagView): Promise<void> {
    return this.act(async () => {
      const { id, version } = from;
      this.showTags(
        await this.api.call('tags.change', { id, ifMatch: version, body: { mergeInto: into.id } }),
      );
      this.messages.done(`“${from.name}” is “${into.name}” now.`);
    });
  }

  private async act(what: () => Promise<void>): Promise<void> {
    try {
      await what();
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
