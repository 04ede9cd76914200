import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { MediaView, PersonView, PostChanges } from '@keyroster/contract';
import { proposeAddresses, sayBytes, type BodyNode, type LeftoverField } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { LibraryDialog } from '../media/library-dialog';
import { FormatFields } from './format-fields';
import { MeasureService } from './measure.service';
import { PostService } from './post.service';
import { SeenOutside } from './seen-outside';
import { TagsField } from './tags-field';

/** Everything of a post but its text. Each field is stored when it is left. */
@Component({
  selector: 'kr-details',
  imports: [TagsField, FormatFields, SeenOutside],
  template: `
    @if (posts.post(); as p) {
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <p class="unseen" role="status">{{ told() }}</p>
      <fieldset [disabled]="!p.rights.write">
        <label class="field"><span>Subtitle</span><input #subtitle maxlength="300" [value]="p.subtitle" (change)="store({ subtitle: subtitle.value.trim() }, 'The subtitle')" /></label>
      </fieldset>
      <kr-tags />
      <fieldset [disabled]="!p.rights.details">
        <label class="field"><span>Category</span><select #category data-category (change)="store({ categoryId: category.value ? +category.value : null }, 'The category')"><option value="" [selected]="p.categoryId === null">none yet</option>@for (c of session.blog()?.categories ?? []; track c.id) { @if (session.isDeskFor(c.id) || c.id === p.categoryId) { <option [value]="c.id" [selected]="c.id === p.categoryId">{{ c.name }}</option> } }</select></label>
        <label class="field"><span>Second category</span><select #second (change)="store({ secondCategoryId: second.value ? +second.value : null }, 'The second category')"><option value="" [selected]="p.secondCategoryId === null">none</option>@for (c of session.blog()?.categories ?? []; track c.id) { @if (c.id !== p.categoryId) { <option [value]="c.id" [selected]="c.id === p.secondCategoryId">{{ c.name }}</option> } }</select></label>
        <label class="field"><span>Web address</span><input #address data-address [value]="p.address ?? ''" [placeholder]="p.proposedAddress ?? ''" maxlength="80" (change)="store({ address: address.value.trim() || null }, 'The web address')" />
          <small>{{ p.address ? base + '/' + p.address : 'Left empty, it becomes ' + p.proposedAddress + ' when the post is cleared.' }}@if (p.releasedAt) { If it changes, the old one leads here for good. }</small>@if (left('address')) { <small class="left">Still made of the address of the post this was copied from.</small> }</label>
        @if (p.rights.details && proposals().length > 0) { <p class="field row" role="group" aria-label="Proposed addresses">@for (a of proposals(); track a) { <button type="button" class="btn small" (click)="store({ address: a }, 'The web address')">{{ a }}</button> }</p> }
        <label class="field"><span>Byline</span><select #byline (change)="store({ bylineId: byline.value ? +byline.value : null }, 'The byline')"><option value="" [selected]="!p.byline">nobody yet</option>@for (w of writers(); track w.id) { <option [value]="w.id" [selected]="w.id === p.byline?.id">{{ w.name }}</option> }</select></label>
        <div class="field"><span id="coauthors">Co-authors</span><ul class="people" aria-labelledby="coauthors">@for (w of p.coauthors; track w.id) { <li>{{ w.name }}@if (p.rights.details) { <button type="button" (click)="coauthor(w.id, false)" [attr.aria-label]="'Take ' + w.name + ' off'">✕</button> }</li> }</ul>
          <label><span class="unseen">Add a co-author</span><select #more (change)="coauthor(+more.value, true); more.value = ''"><option value="">add one …</option>@for (w of others(); track w.id) { <option [value]="w.id">{{ w.name }}</option> }</select></label></div>
        <label class="field"><span>Proofreader</span><select #proof (change)="store({ proofreaderId: proof.value ? +proof.value : null }, 'The proofreader')"><option value="" [selected]="!p.proofreader">nobody</option>@for (w of proofreaders(); track w.id) { <option [value]="w.id" [selected]="w.id === p.proofreader?.id">{{ w.name }}</option> }</select></label>
        <label class="field"><span>Who may read it</span><select #access (change)="store({ access: access.value === 'staff' ? 'staff' : 'everyone' }, 'Access')"><option value="everyone" [selected]="p.access === 'everyone'">everyone</option><option value="staff" [selected]="p.access === 'staff'">staff only</option></select></label>
      </fieldset>
      <h3>Pictures</h3>
      <fieldset [disabled]="!p.rights.write">
        <div class="field"><span>Lead picture</span>@if (left('leadMedia')) { <small class="left">Still that of the post this was copied from.</small> }
          @if (p.leadPicture; as lead) {
            <img [src]="'/media/' + lead.media" [alt]="lead.alt || 'Lead picture without alternative text'" />
            <label><span class="unseen">Alternative text of the lead picture</span><input #leadAlt data-lead-alt [value]="lead.alt" placeholder="What it shows" maxlength="1000" (change)="store({ leadPicture: { media: lead.media, alt: leadAlt.value.trim() } }, 'The alternative text')" /></label>
            @if (measure.context()?.leadBytes; as weight) { <small>It weighs {{ bytes(weight) }}; 300–500 kB is right.</small> }
            <p class="row buttons"><button type="button" class="btn small" (click)="chooseLead()">Another …</button><button type="button" class="btn small" (click)="lightenAsked.emit(lead.media)">Lighten …</button><button type="button" class="btn small" (click)="store({ leadPicture: null }, 'The lead picture')">Take it away</button></p>
          } @else { <button type="button" class="btn" data-lead (click)="chooseLead()">Choose a lead picture …</button> }
        </div>
        <div class="field"><span>Picture for sharing</span>@if (p.sharePicture; as share) { <img [src]="'/media/' + share" alt="Picture for sharing" /> }
          <p class="row"><button type="button" class="btn small" (click)="chooseShare()">{{ p.sharePicture ? 'Another …' : 'Choose another than the lead …' }}</button>@if (p.sharePicture) { <button type="button" class="btn small" (click)="store({ sharePicture: null }, 'The picture for sharing')">Take it away</button> }</p></div>
      </fieldset>
      <h3>Format</h3>
      <kr-format (started)="started.emit($event)" />
      <h3>In searches and shared</h3>
      <kr-seen-outside (store)="store($event[0], $event[1])" />
      <h3>More</h3>
      <fieldset [disabled]="!p.rights.write">
        <label class="field"><span>Source address</span><input #source maxlength="2000" placeholder="https://…" [value]="p.sourceUrl" (change)="store({ sourceUrl: source.value.trim() }, 'The source address')" /></label>
        <label class="field tick"><input #titleLinks type="checkbox" [checked]="p.titleLinks" [disabled]="!p.sourceUrl" (change)="store({ titleLinks: titleLinks.checked }, 'The title’s link')" /> The title leads to the source</label>
        <label class="field"><span>Place</span><input #place maxlength="200" [value]="p.place" (change)="store({ place: place.value.trim() }, 'The place')" /></label>
      </fieldset>
      <fieldset [disabled]="!p.rights.details">
        <label class="field"><span>Campaign</span><input #campaign maxlength="120" [value]="p.campaign" (change)="store({ campaign: campaign.value.trim() }, 'The campaign')" /></label>
        <div class="field"><span id="spotlight">Spotlight</span><div class="two" role="group" aria-labelledby="spotlight"><label><span class="soft">from</span><input #from type="date" [value]="p.spotlight?.from ?? ''" (change)="spot(from.value, until.value)" /></label><label><span class="soft">until</span><input #until type="date" [value]="p.spotlight?.until ?? ''" (change)="spot(from.value, until.value)" /></label></div><small>Held on top of the front page on these days, the last one included.</small></div>
        <label class="field tick"><input #comments type="checkbox" [checked]="p.comments" (change)="store({ comments: comments.checked }, 'Comments')" /> Readers may comment</label>
        <label class="field"><span>Invitation to comment</span><input #invitation maxlength="300" [value]="p.commentCall" (change)="store({ commentCall: invitation.value.trim() }, 'The invitation')" /><small>Kept with the post. Readers see it once the blog takes comments.</small></label>
      </fieldset>
    }
  `,
  styles: `
    fieldset { border: 0; padding: 0; margin: 0; min-width: 0; } img { width: 100%; border-radius: 3px; margin-bottom: 6px; display: block; } .two { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; } h3 { border-top: 1px solid var(--line); padding: 10px 0 8px; } .buttons { margin-top: 6px; } .tick { display: flex; gap: 7px; align-items: center; }
    .left { color: var(--brass) !important; font-weight: 600; } .people { list-style: none; display: flex; flex-wrap: wrap; gap: 5px; margin: 0 0 5px; padding: 0; } .people:empty { display: none; } .people li { border: 1px solid var(--line); border-radius: 3px; padding: 1px 2px 1px 7px; font-size: 12px; background: var(--field); } .people button { border: 0; background: none; cursor: pointer; color: var(--soft); font-size: 10px; min-height: 22px; }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DetailsPanel {
  protected readonly posts = inject(PostService);
  protected readonly session = inject(SessionService);
  protected readonly measure = inject(MeasureService);
  private readonly dialogs = inject(MatDialog);
  readonly started = output<BodyNode>();
  /** A picture that should become lighter. */
  readonly lightenAsked = output<number>();
  protected readonly fault = signal('');
  protected readonly told = signal('');
  private readonly people = signal<PersonView[]>([]);
  protected readonly base = location.origin;
  protected readonly bytes = sayBytes;
  protected readonly writers = computed(() => this.people().filter((p) => p.active && ['contributor', 'editor', 'managing editor'].includes(p.role)));
  protected readonly others = computed(() => { const p = this.posts.post(); return this.writers().filter((w) => w.id !== p?.byline?.id && !p?.coauthors.some((c) => c.id === w.id)); });
  protected readonly proofreaders = computed(() => this.people().filter((p) => p.active && p.role !== 'reader'));
  protected readonly proposals = computed(() => {
    const p = this.posts.post();
    return p ? proposeAddresses(p.title, (a) => a === p.address, this.measure.keyWords()).filter((a) => a !== p.address && a !== p.proposedAddress).slice(0, 3) : [];
  });

  /** Is this still the source's, in a copied post? */
  protected left(field: LeftoverField): boolean {
    return this.measure.leftovers()?.fields.includes(field) ?? false;
  }

  constructor() {
    void inject(Api).call('people.list', {}).then((people) => this.people.set(people), () => undefined);
  }

  /** Both days or none; a single day is its own first and last. */
  protected spot(from: string, until: string): void {
    void this.store({ spotlight: from || until ? { from: from || until, until: until || from } : null }, 'The spotlight');
  }

  protected coauthor(id: number, on: boolean): void {
    const held = this.posts.post()!.coauthors.map((c) => c.id);
    if (id) void this.store({ coauthorIds: on ? [...held, id] : held.filter((h) => h !== id) }, 'The co-authors');
  }

  chooseLead(): void {
    this.choose('Choose a lead picture', ({ id, alt }) => void this.store({ leadPicture: { media: id, alt } }, 'The lead picture'));
  }
  protected chooseShare(): void {
    this.choose('Choose a picture for sharing', ({ id }) => void this.store({ sharePicture: id }, 'The picture for sharing'));
  }

  private choose(label: string, then: (picture: MediaView) => void): void {
    this.dialogs.open<LibraryDialog, unknown, MediaView[]>(LibraryDialog, { data: { many: false }, width: '860px', maxWidth: '94vw', ariaLabel: label }).afterClosed().subscribe((chosen) => { if (chosen?.[0]) then(chosen[0]); });
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
}
