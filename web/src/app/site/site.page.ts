import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import type { BlogChanges, CategoryView } from '@keyroster/contract';
import { CHECKS, CHECK_WEIGHTS, USUAL_WEIGHTS, WEEKDAYS, saySlot, type CheckKey, type CheckWeight } from '@keyroster/core';
import { RouterLink } from '@angular/router';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { CategoryTab } from '../ui/category-tab';
import { Say } from '../ui/say.service';

/** What the blog is called, its categories, and its standing slots. */
@Component({
  imports: [CategoryTab, RouterLink],
  template: `
    @if (session.blog(); as blog) {
      <div class="screen">
        <h1>Site</h1>
        @if (fault()) { <p class="fault" role="alert" style="margin-top: 8px">{{ fault() }}</p> }
        <div class="columns">
          <section><h2>The blog</h2>
            <form (submit)="store($event, { title: title.value, tagline: tagline.value, firstWeekday: +first.value })" novalidate>
              <label class="field"><span>Name</span><input #title maxlength="120" [value]="blog.title" /></label>
              <label class="field"><span>Tagline</span><input #tagline maxlength="300" [value]="blog.tagline" /></label>
              <label class="field"><span>First day of the week</span><select #first>@for (d of weekdays; track d; let i = $index) { <option [value]="i + 1" [selected]="i + 1 === blog.firstWeekday">{{ d }}</option> }</select></label>
              <p class="soft field">Home time zone: {{ blog.zone }}</p>
              <p class="row"><button class="btn act" type="submit">Store</button><a class="btn" href="/" target="_blank" rel="noopener">See the blog</a></p>
            </form></section>
          <section><h2>Categories</h2>
            <ul>@for (c of blog.categories; track c.id) {
              <li><label><span class="unseen">Name of category {{ c.name }}</span><input #name [value]="c.name" maxlength="60" (change)="category(c.id, { name: name.value })" /></label>
                <label><span class="unseen">Hue of {{ c.name }}</span><select #hue (change)="category(c.id, { hue: +hue.value })">@for (h of hues; track h) { <option [value]="h" [selected]="h === c.hue">hue {{ h }}</option> }</select></label><kr-category [id]="c.id" [bare]="true" />
                @if (blog.categories.length > 1) { <label><span class="unseen">Merge {{ c.name }} into</span><select #into (change)="merging.set({ from: c, into: +into.value }); into.value = ''"><option value="">merge into …</option>@for (o of blog.categories; track o.id) { @if (o.id !== c.id) { <option [value]="o.id">{{ o.name }}</option> } }</select></label> }</li>
            } @empty { <li class="soft">No category yet. Posts need one before they are cleared.</li> }</ul>
            @if (merging(); as m) { <div class="remark" role="alert"><p>Everything of <b>{{ m.from.name }}</b> goes to <b>{{ nameOf(m.into) }}</b>: posts, standing slots and what editors edit. Its page leads there from then on. This is not a batch and cannot be taken back.</p><p class="row"><button class="btn small refuse" (click)="merge(m)">Merge them</button><button class="btn small" (click)="merging.set(null)">Keep both</button></p></div> }
            <form class="row" (submit)="addCategory($event, newName)" novalidate><label class="grow"><span class="unseen">Name of a new category</span><input #newName placeholder="A new category" maxlength="60" /></label><button class="btn" type="submit">Add the category</button></form></section>
          <section><h2>Standing slots</h2>
            <ul>@for (s of blog.slots; track s.id) { <li><span class="grow">{{ saySlot(s) }}</span><kr-category [id]="s.categoryId" /></li> } @empty { <li class="soft">No standing slot yet. Slots are what the runway counts.</li> }</ul>
            <a class="btn" routerLink="/planner/slots">Change the slots in the planner</a>
            <h2 class="next">What posts begin with</h2><a class="btn" routerLink="/site/formats">Formats, templates and tags</a>
            <h2 class="next">The letter</h2><p class="soft">Readers sign up where a post has a sign-up block.</p><a class="btn" href="/api/letter.csv" download>Who signed up (CSV)</a></section>
          <section class="checks"><h2>Checks before a post goes out</h2>
            <p class="soft">What holds a post back cannot be cleared or scheduled; a warning asks first.</p>
            <ul>@for (c of checks; track c) { <li><span class="grow">{{ c }}</span><label><span class="unseen">The check “{{ c }}”</span><select #weight (change)="weigh(c, $any(weight.value))">@for (w of weights; track w) { <option [value]="w" [selected]="w === (blog.checks[c] ?? usual[c])">{{ weightNames[w] }}</option> }</select></label></li> }</ul>
            <label class="field aim"><span>Titles should be in the best … of a hundred</span><input #aim type="number" min="1" max="99" [value]="blog.titleAim" (change)="store(null, { titleAim: +aim.value })" /></label>
            <label class="field aim"><span>The bin empties itself of what has lain there for … days</span><input #bin type="number" min="1" max="3650" [value]="blog.binDays ?? ''" placeholder="never" (change)="store(null, { binDays: bin.value ? +bin.value : null })" /></label></section>
        </div>
      </div>
    }
  `,
  styles: `
    .columns { display: grid; grid-template-columns: repeat(3, minmax(0, 1fr)); gap: 30px; margin-top: 14px; } h2 { border-top: 2px solid var(--ink); padding: 6px 0 10px; } ul { list-style: none; padding: 0; margin: 0 0 12px; } li { display: flex; gap: 8px; align-items: center; padding: 5px 0; border-bottom: 1px solid var(--hair); } li label:first-child, .grow { flex: 1; } .grow::first-letter { text-transform: uppercase; } .next { margin-top: 24px; } .aim input { width: 90px; } .checks { grid-column: 1 / -1; } .checks ul { columns: 2; column-gap: 30px; } .checks li { break-inside: avoid; } select { width: auto; } .grow select { width: 100%; }
    @media (max-width: 900px) { .columns { grid-template-columns: minmax(0, 1fr); } .checks ul { columns: 1; } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SitePage {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  protected readonly fault = signal('');
  protected readonly weekdays = WEEKDAYS;
  protected readonly saySlot = saySlot;
  protected readonly checks = CHECKS;
  protected readonly weights = CHECK_WEIGHTS;
  protected readonly weightNames = { blocks: 'holds it back', warns: 'warns', off: 'is off' };
  protected readonly usual = USUAL_WEIGHTS;
  protected readonly hues = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10];

  protected weigh(check: CheckKey, weight: CheckWeight): void {
    this.store(null, { checks: { [check]: weight } });
  }

  protected store(event: Event | null, body: BlogChanges): void {
    event?.preventDefault();
    void this.act(() => this.api.call('blog.change', { body }), event ? 'Stored. Readers see it now.' : 'Stored.');
  }

  protected readonly merging = signal<{ from: CategoryView; into: number } | null>(null);
  protected nameOf(id: number): string {
    return this.session.categories().get(id)?.name ?? '';
  }
  protected merge({ from, into }: { from: CategoryView; into: number }): void {
    this.merging.set(null);
    void this.act(() => this.api.call('categories.change', { id: from.id, body: { mergeInto: into } }), `“${from.name}” is merged into “${this.nameOf(into)}”.`);
  }

  protected category(id: number, body: { name?: string; hue?: number }): void {
    void this.act(() => this.api.call('categories.change', { id, body }), 'The category is changed.');
  }

  protected addCategory(event: Event, field: HTMLInputElement): void {
    event.preventDefault();
    const used = new Set(this.session.blog()?.categories.map((c) => c.hue));
    const hue = this.hues.find((h) => !used.has(h)) ?? 1;
    void this.act(() => this.api.call('categories.add', { body: { name: field.value, hue } }), 'The category is added.').then((ok) => { if (ok) field.value = ''; });
  }

  private async act(what: () => Promise<unknown>, sentence: string): Promise<boolean> {
    try {
      await what();
      await this.session.refresh();
      this.fault.set('');
      this.say.done(sentence);
      return true;
    } catch (error) {
      this.fault.set(sentenceOf(error));
      return false;
    }
  }
}
