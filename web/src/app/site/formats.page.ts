import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { FormatView, TagView, TemplateView } from '@keyroster/contract';
import { mergeSuggestions, sayCount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Say } from '../ui/say.service';
import { FormatForm } from './format-form';

/** What posts begin with: formats with their fields and starter text, templates, and the tags they share. */
@Component({
  imports: [RouterLink, FormatForm],
  template: `
    <div class="screen">
      <div class="row spread"><h1>Formats, templates and tags</h1><a class="btn" routerLink="/site">Back to the site</a></div>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <div class="columns">
        <section aria-label="Formats"><h2>Formats</h2>
          <p class="soft">A kind of post, with fields of its own and the text it starts from.</p>
          <ul>@for (f of formats(); track f.id) { <li><button class="btn plain name" [attr.aria-pressed]="open()?.id === f.id" (click)="open.set(f)"><b>{{ f.name }}</b><span class="soft">{{ count(f.fields.length, 'field') }}, {{ count(f.posts, 'post') }}{{ f.retired ? ', retired' : '' }}</span></button></li> } @empty { <li class="soft">No format yet. A format asks for what a kind of post always needs.</li> }</ul>
          @if (session.may('manageBlog')) { <button class="btn" (click)="open.set(null); fresh.set(true)">New format</button> }
        </section>
        <section class="wide">
          @if (open() || fresh()) { @for (f of [open()]; track f?.id ?? 0) { <kr-format-form [format]="f" [editable]="session.may('manageBlog')" (stored)="stored($event)" (closed)="open.set(null); fresh.set(false)" /> } }
          @else {
            <h2>Templates</h2>
            <p class="soft">Starting text for posts of any format. “Keep the text as a template” in a post’s menu adds one.</p>
            <ul>@for (t of templates(); track t.id) {
              <li class="template"><details><summary>{{ t.name }}</summary>
                <label class="field"><span>Name</span><input #name maxlength="80" [value]="t.name" [disabled]="!mayTemplates()" /></label>
                <label class="field"><span>Text, as Markdown</span><textarea #text rows="9" maxlength="100000" [value]="t.text" [disabled]="!mayTemplates()"></textarea></label>
                @if (mayTemplates()) { <p class="row"><button class="btn small act" (click)="storeTemplate(t, name.value, text.value)">Store</button><button class="btn small refuse" (click)="removeTemplate(t)">Remove</button></p> }</details></li>
            } @empty { <li class="soft">No template yet.</li> }</ul>
            <h2>Tags</h2>
            @for (m of merges(); track m.merge.id) { <p class="remark row spread"><span>“{{ m.merge.name }}” and “{{ m.keep.name }}” look like one tag.</span>@if (mayTemplates()) { <button class="btn small" (click)="merge(m.merge, m.keep)">Merge into “{{ m.keep.name }}”, {{ count(m.keep.posts + m.merge.posts, 'post') }}</button> }</p> }
            <ul class="tags">@for (t of tags(); track t.id) { <li>@if (mayTemplates()) { <label><span class="unseen">Name of the tag {{ t.name }}</span><input #tag [value]="t.name" maxlength="60" (change)="rename(t, tag.value)" /></label> } @else { {{ t.name }} }<span class="soft">{{ t.posts }}</span></li> } @empty { <li class="soft">No tag yet. Posts make them.</li> }</ul>
          }
        </section>
      </div>
    </div>
  `,
  styles: `
    .columns { display: grid; grid-template-columns: 320px minmax(0, 1fr); gap: 30px; margin-top: 14px; align-items: start; } h2 { border-top: 2px solid var(--ink); padding: 6px 0 8px; } ul { list-style: none; padding: 0; margin: 8px 0 14px; } .name { width: 100%; justify-content: space-between; border-bottom: 1px solid var(--hair); border-radius: 0; } .name[aria-pressed='true'] { background: var(--verdigris-wash); } .name b { font: 560 15px var(--serif); }
    .template { border-bottom: 1px solid var(--hair); padding: 6px 0; } summary { cursor: pointer; font: 560 15px var(--serif); } details .field { margin-top: 8px; } textarea { font: 13px/1.5 ui-monospace, monospace; } .tags { display: grid; grid-template-columns: repeat(auto-fill, minmax(170px, 1fr)); gap: 4px 14px; } .tags li { display: flex; gap: 8px; align-items: center; } .tags label { flex: 1; }
    @media (max-width: 900px) { .columns { grid-template-columns: 1fr; } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FormatsPage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  protected readonly formats = signal<FormatView[]>([]);
  protected readonly templates = signal<TemplateView[]>([]);
  protected readonly tags = signal<TagView[]>([]);
  protected readonly merges = signal<{ keep: TagView; merge: TagView }[]>([]);
  protected readonly open = signal<FormatView | null>(null);
  protected readonly fresh = signal(false);
  protected readonly fault = signal('');
  protected readonly count = sayCount;
  protected readonly mayTemplates = () => this.session.may('manageTags');

  constructor() {
    void this.refresh();
  }

  private async refresh(): Promise<void> {
    await this.act(async () => {
      const [formats, templates, tags] = await Promise.all([this.api.call('formats.list', {}), this.api.call('templates.list', {}), this.api.call('tags.list', {})]);
      this.formats.set(formats);
      this.templates.set(templates);
      this.take(tags);
    });
  }

  private take(tags: TagView[]): void {
    this.tags.set(tags);
    this.merges.set(mergeSuggestions(tags));
  }

  protected stored(format: FormatView): void {
    this.open.set(format);
    this.fresh.set(false);
    this.say.done(`“${format.name}” is stored.`);
    void this.refresh();
  }

  protected storeTemplate(t: TemplateView, name: string, text: string): Promise<void> {
    return this.act(async () => {
      await this.api.call('templates.change', { id: t.id, body: { name: name.trim(), text } });
      this.say.done(`“${name.trim()}” is stored.`);
      await this.refresh();
    });
  }

  protected removeTemplate(t: TemplateView): Promise<void> {
    return this.act(async () => {
      await this.api.call('templates.remove', { id: t.id });
      this.say.done(`“${t.name}” is removed.`, async () => { await this.api.call('templates.add', { body: { name: t.name, text: t.text } }); await this.refresh(); });
      await this.refresh();
    });
  }

  protected rename(t: TagView, name: string): Promise<void> {
    return this.act(async () => this.take(await this.api.call('tags.change', { id: t.id, body: { name } })));
  }

  protected merge(from: TagView, into: TagView): Promise<void> {
    return this.act(async () => {
      this.take(await this.api.call('tags.change', { id: from.id, body: { mergeInto: into.id } }));
      this.say.done(`“${from.name}” is “${into.name}” now.`);
    });
  }

  private async act(what: () => Promise<void>): Promise<void> {
    try {
      await what();
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }
}
