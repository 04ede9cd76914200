import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { STAGES, type BatchChange, type ReplacePlace } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { ArchiveService } from './archive.service';

type Kind = BatchChange['kind'];
const KINDS: { kind: Kind; name: string }[] = [
  { kind: 'byline', name: 'Byline becomes …' }, { kind: 'category', name: 'Category becomes …' }, { kind: 'second category', name: 'Second category becomes …' }, { kind: 'tags', name: 'Tags gain or lose …' }, { kind: 'tags become', name: 'Tags become …' }, { kind: 'tags merge', name: 'Tags merge …' }, { kind: 'categories merge', name: 'Categories merge …' },
  { kind: 'stage', name: 'Stage becomes …' }, { kind: 'shift', name: 'Run times move by …' }, { kind: 'spread', name: 'Run times go to open slots …' }, { kind: 'access', name: 'Who may read …' }, { kind: 'comments', name: 'Comments open or close …' },
  { kind: 'spotlight', name: 'Spotlight …' }, { kind: 'campaign', name: 'Campaign becomes …' }, { kind: 'format field', name: 'A format’s field becomes …' }, { kind: 'replace', name: 'Find and replace …' }, { kind: 'lighten', name: 'Lead pictures lightened …' }, { kind: 'bin', name: 'To the bin' },
];
const PLACES: ReplacePlace[] = ['title', 'excerpt', 'text', 'address'];

/** Puts one change together. */
@Component({
  selector: 'kr-change-form',
  template: `
    <div class="field"><select #kind class="kind" aria-label="Add a change" (change)="begin($any(kind.value))"><option value="">{{ first() ? 'Choose what to change …' : 'Add another change …' }}</option>@for (k of kinds; track k.kind) { <option [value]="k.kind" [selected]="k.kind === now()">{{ k.name }}</option> }</select></div>
    @if (now(); as k) {
      <form (submit)="$event.preventDefault(); done(); kind.value = ''" novalidate>
        @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
        @switch (k) {
          @case ('byline') { <label class="field"><span>Byline</span><select #a (change)="value.set(a.value)"><option value="">choose …</option>@for (p of archive.names().people; track p.id) { <option [value]="p.id">{{ p.name }}</option> }<option value="none">nobody</option></select></label> }
          @case ('category') { <label class="field"><span>Category</span><select #a (change)="value.set(a.value)"><option value="">choose …</option>@for (c of categories(); track c.id) { <option [value]="c.id">{{ c.name }}</option> }</select></label> }
          @case ('second category') { <label class="field"><span>Second category</span><select #a (change)="value.set(a.value)"><option value="">choose …</option><option value="none">none</option>@for (c of session.blog()?.categories ?? []; track c.id) { <option [value]="c.id">{{ c.name }}</option> }</select></label> }
          @case ('tags') { <label class="field"><span>Gain</span><input list="tag-names" #a maxlength="400" (input)="value.set(a.value)" placeholder="parted by commas" /></label><label class="field"><span>Lose</span><input list="tag-names" #b maxlength="400" (input)="other.set(b.value)" placeholder="parted by commas" /></label> }
          @case ('tags become') { <label class="field"><span>Tags</span><input list="tag-names" #a maxlength="400" (input)="value.set(a.value)" placeholder="parted by commas; none takes all away" /></label> }
          @case ('tags merge') { <label class="field"><span>Tags</span><input list="tag-names" #a maxlength="400" (input)="value.set(a.value)" placeholder="parted by commas" /></label><label class="field"><span>Merge into</span><input list="tag-names" #b maxlength="80" (input)="other.set(b.value)" /></label><small>In these posts. The tags themselves stay; to end them, with redirects, merge them under Formats.</small> }
          @case ('categories merge') { <label class="field"><span>Category</span><select #a (change)="value.set(a.value)"><option value="">choose …</option>@for (c of session.blog()?.categories ?? []; track c.id) { <option [value]="c.id">{{ c.name }}</option> }</select></label><label class="field"><span>Merges into</span><select #b (change)="other.set(b.value)"><option value="">choose …</option>@for (c of categories(); track c.id) { <option [value]="c.id">{{ c.name }}</option> }</select></label><small>As first or second category, in these posts. To end a category, with redirects, merge it on the Site page.</small> }
          @case ('lighten') { <label class="field"><span>At most, in kB</span><input type="number" #a value="400" min="50" max="10000" (input)="value.set(a.value)" /></label><small>300 to 500 kB is right for a page. The heavy ones stay in the library.</small> }
          @case ('stage') { <label class="field"><span>Stage</span><select #a (change)="value.set(a.value)"><option value="">choose …</option>@for (s of stages; track s) { <option>{{ s }}</option> }</select></label>@if (value() === 'drafting') { <label class="field"><span>What should change?</span><textarea #b rows="2" maxlength="4000" (input)="other.set(b.value)"></textarea><small>Goes to each writer as a note.</small></label> } }
          @case ('shift') { <div class="two"><label class="field"><span>Days</span><input type="number" #a value="0" min="-36500" max="36500" (input)="value.set(a.value)" /></label><label class="field"><span>Minutes</span><input type="number" #b value="0" min="-1440" max="1440" (input)="other.set(b.value)" /></label></div><small>Later, or earlier with a minus. The clock on the wall counts: 08:00 stays 08:00.</small> }
          @case ('spread') { <label class="field"><span>From</span><input type="date" #a [value]="today()" (input)="value.set(a.value)" /><small>In the order of the table, each to the next open slot of its category.</small></label> }
          @case ('access') { <label class="field"><span>Who may read</span><select #a (change)="value.set(a.value)"><option value="">choose …</option><option value="everyone">everyone</option><option value="staff">staff only</option></select></label> }
          @case ('comments') { <label class="field"><span>Comments</span><select #a (change)="value.set(a.value)"><option value="">choose …</option><option value="open">open</option><option value="closed">closed</option></select></label> }
          @case ('spotlight') { <div class="two"><label class="field"><span>From</span><input type="date" #a (input)="value.set(a.value)" /></label><label class="field"><span>Until</span><input type="date" #b (input)="other.set(b.value)" /></label></div><small>Both empty takes it away.</small> }
          @case ('campaign') { <label class="field"><span>Campaign</span><input #a list="campaign-names" maxlength="120" (input)="value.set(a.value)" placeholder="empty takes it away" /></label> }
          @case ('format field') { <label class="field"><span>Field</span><select #a (change)="value.set(a.value)"><option value="">choose …</option>@for (f of archive.formats(); track f.id) { @for (x of f.fields; track x.key) { <option [value]="f.id + ' ' + x.key">{{ f.name }}: {{ x.label }}</option> } }</select></label><label class="field"><span>Becomes</span><input #b maxlength="4000" (input)="other.set(b.value)" placeholder="empty takes it away" /></label> }
          @case ('replace') {
            <label class="field"><span>Find</span><input #a maxlength="500" (input)="value.set(a.value)" /></label><label class="field"><span>Replace with</span><input #b maxlength="2000" (input)="other.set(b.value)" /></label>
            <div class="ticks" role="group" aria-label="Where">@for (p of places; track p) { <label><input type="checkbox" [checked]="where().has(p)" (change)="toggle(p)" /> {{ p }}</label> }</div>
            <div class="ticks"><label><input type="checkbox" [checked]="capitals()" (change)="capitals.set(!capitals())" /> Capitals count</label><label><input type="checkbox" [checked]="pattern()" (change)="pattern.set(!pattern())" /> A pattern</label></div>@if (pattern()) { <small>RE2 syntax; $1 to $9 stand for groups.</small> }
          }
          @case ('bin') { <p class="soft">Readers no longer see them. They wait in the bin and can be taken back.</p> }
        }
        <datalist id="tag-names">@for (t of archive.names().tags; track t.id) { <option [value]="t.name"></option> }</datalist><datalist id="campaign-names">@for (c of archive.names().filter['campaign'] ?? []; track c) { <option [value]="c"></option> }</datalist>
        <div class="row ends"><button class="btn small act" type="submit">Add this change</button><button class="btn small" type="button" (click)="now.set(null); kind.value = ''">Not that</button></div>
      </form>
    }
  `,
  styles: `:host { display: block; } .kind { border-style: dashed; } form { border: 1px solid var(--line); border-radius: 4px; padding: 10px; background: var(--field); margin-bottom: 8px; } .two { display: grid; grid-template-columns: 1fr 1fr; gap: 8px; } small { color: var(--soft); display: block; } .ticks { display: flex; flex-wrap: wrap; gap: 4px 14px; margin-bottom: 8px; } .ticks label { display: flex; gap: 5px; align-items: center; } .ends { margin-top: 8px; }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChangeForm {
  protected readonly archive = inject(ArchiveService);
  protected readonly session = inject(SessionService);
  readonly added = output<BatchChange>();
  protected readonly kinds = KINDS;
  protected readonly places = PLACES;
  protected readonly stages = STAGES.filter((s) => s !== 'published');
  protected readonly now = signal<Kind | null>(null);
  protected readonly first = signal(true);
  protected readonly value = signal('');
  protected readonly other = signal('');
  protected readonly where = signal<ReadonlySet<ReplacePlace>>(new Set(['title', 'text']));
  protected readonly capitals = signal(true);
  protected readonly pattern = signal(false);
  protected readonly fault = signal('');
  protected readonly today = signal(new Date().toISOString().slice(0, 10));
  protected readonly categories = computed(() => (this.session.blog()?.categories ?? []).filter((c) => this.session.isDeskFor(c.id)));

  protected begin(kind: Kind | ''): void {
    this.now.set(kind || null);
    this.value.set(kind === 'spread' ? this.today() : kind === 'lighten' ? '400' : '');
    this.other.set('');
    this.fault.set('');
  }

  protected toggle(place: ReplacePlace): void {
    this.where.update((all) => { const next = new Set(all); if (!next.delete(place)) next.add(place); return next; });
  }

  protected done(): void {
    const change = this.change();
    if (typeof change === 'string') return this.fault.set(change);
    this.added.emit(change);
    this.now.set(null);
    this.first.set(false);
  }

  /** The change as it stands, or what is missing. */
  private change(): BatchChange | string {
    const [kind, value, other] = [this.now()!, this.value(), this.other()];
    const id = value === 'none' ? null : Number(value);
    switch (kind) {
      case 'byline': return value ? { kind, to: id } : 'Choose a person.';
      case 'category': return value ? { kind, to: Number(value) } : 'Choose a category.';
      case 'second category': return value ? { kind, to: id } : 'Choose a category.';
      case 'tags': {
        const [gain, lose] = [this.tagIds(value), this.tagIds(other)];
        if (typeof gain === 'string') return gain;
        if (typeof lose === 'string') return lose;
        return gain.length + lose.length > 0 ? { kind, gain, lose } : 'Type a tag to gain or to lose.';
      }
      case 'tags become': { const to = this.tagIds(value); return typeof to === 'string' ? to : { kind, to }; }
      case 'stage': return value ? { kind, to: value as never, ...(other.trim() ? { note: other.trim() } : {}) } : 'Choose a stage.';
      case 'shift': { const [days, minutes] = [Math.trunc(Number(value)), Math.trunc(Number(other))]; return days || minutes ? { kind, days, minutes } : 'Say by how much.'; }
      case 'spread': return value ? { kind, from: value } : 'Choose a first day.';
      case 'access': return value ? { kind, to: value as 'everyone' | 'staff' } : 'Choose who may read.';
      case 'comments': return value ? { kind, to: value === 'open' } : 'Choose open or closed.';
      case 'spotlight': { const [from, until] = [value || other, other || value]; return from === '' ? { kind, to: null } : from <= until ? { kind, to: { from, until } } : 'It would end before it begins.'; }
      case 'campaign': return { kind, to: value.trim() };
      case 'format field': return this.formatField(value, other);
      case 'replace': return value === '' ? 'Say what is to be found.' : this.where().size === 0 ? 'Choose where to look.' : { kind, places: PLACES.filter((p) => this.where().has(p)), find: value, with: other, pattern: this.pattern(), capitals: this.capitals() };
      case 'tags merge': {
        const [from, into] = [this.tagIds(value), this.tagIds(other)];
        if (typeof from === 'string') return from;
        if (typeof into === 'string') return into;
        return from.length === 0 ? 'Type the tags to merge.' : into.length !== 1 ? 'Type the one tag they become.' : { kind, from: from.filter((t) => t !== into[0]), into: into[0]! };
      }
      case 'categories merge': return !value || !other ? 'Choose both categories.' : value === other ? 'A category cannot merge into itself.' : { kind, from: [Number(value)], into: Number(other) };
      case 'lighten': { const kb = Math.trunc(Number(value)); return kb >= 50 && kb <= 10_000 ? { kind, most: kb * 1000 } : 'Say between 50 and 10,000 kB.'; }
      case 'bin': return { kind };
    }
  }

  private tagIds(names: string): number[] | string {
    const ids: number[] = [];
    for (const name of names.split(',').map((n) => n.trim()).filter(Boolean)) {
      const tag = this.archive.names().tags.find((t) => t.name.toLowerCase() === name.toLowerCase());
      if (!tag) return `There is no tag “${name}” on this blog. Make it on a post first.`;
      ids.push(tag.id);
    }
    return [...new Set(ids)];
  }

  private formatField(value: string, typed: string): BatchChange | string {
    const [formatId, key = ''] = [Number(value.split(' ')[0]), value.split(' ')[1]];
    const field = this.archive.formats().find((f) => f.id === formatId)?.fields.find((x) => x.key === key);
    if (!field) return 'Choose a field.';
    const text = typed.trim();
    if (field.kind === 'number' && text !== '' && !Number.isFinite(Number(text))) return `“${field.label}” is a number.`;
    return { kind: 'format field', formatId, key, to: text === '' ? null : field.kind === 'number' ? Number(text) : text };
  }
}
