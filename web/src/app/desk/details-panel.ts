import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { PersonView, PostChanges, PostView } from '@keyroster/contract';
import { sayShortDate } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { PostService } from './post.service';

/** Everything of a post but its text. Each field is stored when it is left. */
@Component({
  selector: 'kr-details',
  template: `
    @if (posts.post(); as p) {
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <p class="unseen" role="status">{{ told() }}</p>
      <fieldset [disabled]="!p.rights.details">
        <label class="field"><span>Web address</span><input #address [value]="p.address ?? ''" [placeholder]="proposal()" maxlength="80" (change)="store({ address: address.value.trim() || null }, 'The web address')" />
          <small>{{ p.address ? base + '/' + p.address : 'Left empty, it becomes ' + proposal() + ' when the post is cleared.' }}</small></label>
        <label class="field"><span>Category</span><select #category (change)="store({ categoryId: category.value ? +category.value : null }, 'The category')"><option value="" [selected]="p.categoryId === null">none yet</option>@for (c of session.blog()?.categories ?? []; track c.id) { @if (session.isDeskFor(c.id) || c.id === p.categoryId) { <option [value]="c.id" [selected]="c.id === p.categoryId">{{ c.name }}</option> } }</select></label>
        <label class="field"><span>Byline</span><select #byline (change)="store({ bylineId: byline.value ? +byline.value : null }, 'The byline')"><option value="" [selected]="!p.byline">nobody yet</option>@for (w of writers(); track w.id) { <option [value]="w.id" [selected]="w.id === p.byline?.id">{{ w.name }}</option> }</select></label>
        <label class="field"><span>Proofreader</span><select #proof (change)="store({ proofreaderId: proof.value ? +proof.value : null }, 'The proofreader')"><option value="" [selected]="!p.proofreader">nobody</option>@for (w of proofreaders(); track w.id) { <option [value]="w.id" [selected]="w.id === p.proofreader?.id">{{ w.name }}</option> }</select></label>
        <label class="field"><span>Who may read it</span><select #access (change)="store({ access: access.value === 'staff' ? 'staff' : 'everyone' }, 'Access')"><option value="everyone" [selected]="p.access === 'everyone'">everyone</option><option value="staff" [selected]="p.access === 'staff'">staff only</option></select></label>
      </fieldset>
      <fieldset [disabled]="!p.rights.write">
        <div class="field"><span>Lead picture</span>
          @if (p.leadPicture; as lead) {
            <img [src]="'/media/' + lead.media" [alt]="lead.alt || 'Lead picture without alternative text'" />
            <label><span class="unseen">Alternative text of the lead picture</span><input #leadAlt [value]="lead.alt" placeholder="What it shows" maxlength="1000" (change)="store({ leadPicture: { media: lead.media, alt: leadAlt.value.trim() } }, 'The alternative text')" /></label>
            <button type="button" class="btn small" (click)="store({ leadPicture: null }, 'The lead picture')">Take it away</button>
          } @else { <input type="file" aria-label="Lead picture" accept="image/jpeg,image/png,image/webp,image/gif" (change)="lead($event)" /> }
        </div>
      </fieldset>
      <section><h3>Brief</h3>
        <p class="angle">{{ p.brief.angle || 'No angle was given.' }}</p>
        <p class="soft">{{ briefLine(p) }}</p></section>
    }
  `,
  styles: `fieldset { border: 0; padding: 0; margin: 0; min-width: 0; } img { width: 100%; border-radius: 3px; margin-bottom: 6px; display: block; } .angle { white-space: pre-wrap; margin: 4px 0; overflow-wrap: anywhere; } section { border-top: 1px solid var(--line); padding-top: 10px; } .field .btn { margin-top: 6px; }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DetailsPanel {
  protected readonly posts = inject(PostService);
  protected readonly session = inject(SessionService);
  protected readonly fault = signal('');
  protected readonly told = signal('');
  private readonly people = signal<PersonView[]>([]);
  protected readonly base = location.origin;
  protected readonly writers = computed(() => this.people().filter((p) => p.active && ['contributor', 'editor', 'managing editor'].includes(p.role)));
  protected readonly proofreaders = computed(() => this.people().filter((p) => p.active && p.role !== 'reader'));
  protected readonly proposal = computed(() => this.posts.post()?.proposedAddress ?? '');

  constructor() {
    void inject(Api).call('people.list', {}).then((people) => this.people.set(people), () => undefined);
  }

  protected briefLine(p: PostView): string {
    return [p.brief.length ? `About ${p.brief.length.toLocaleString('en-GB')} words` : 'No length set', p.brief.copyDate ? `copy due ${sayShortDate(p.brief.copyDate)}` : 'no copy date'].join(', ');
  }

  protected async store(changes: PostChanges, what: string): Promise<void> {
    this.fault.set('');
    try {
      await this.posts.change(changes);
      this.told.set(`${what} is stored.`);
    } catch (error) {
      this.fault.set(`${what} was not stored. ${sentenceOf(error)}`);
    }
  }

  protected async lead(event: Event): Promise<void> {
    const file = (event.target as HTMLInputElement).files?.[0];
    if (!file) return;
    try {
      await this.store({ leadPicture: { media: await this.posts.keepPicture(file), alt: '' } }, 'The lead picture');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }
}
