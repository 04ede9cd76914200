import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import { ENTRY, textWidth } from '@keyroster/core';
import type { PostChanges } from '@keyroster/contract';
import { SessionService } from '../accounts/session.service';
import { MeasureService } from './measure.service';
import { PostService } from './post.service';

/** What search entries and shared cards show of the post, drawn as they will look. */
@Component({
  selector: 'kr-seen-outside',
  template: `
    @if (posts.post(); as p) {
      <fieldset [disabled]="!p.rights.write">
        <label class="field"><span>Search title</span><input #title maxlength="120" [value]="p.searchTitle" [placeholder]="p.title" (change)="store.emit([{ searchTitle: title.value.trim() }, 'The search title'])" />@if (left().includes('searchTitle')) { <small class="left">Still that of the post this was copied from.</small> }</label>
        <label class="field"><span>Search description</span><textarea #words rows="3" maxlength="400" data-search [value]="p.searchDescription" [placeholder]="p.excerpt" (change)="store.emit([{ searchDescription: words.value.trim() }, 'The search description'])"></textarea><small>{{ length() }} of 160 characters. Written to be clicked.</small>@if (left().includes('searchDescription')) { <small class="left">Still that of the post this was copied from.</small> }</label>
      </fieldset>
      <figure aria-label="As a search entry"><p class="where">{{ home }} › {{ p.address ?? p.proposedAddress }}</p><p class="entry">{{ shownTitle() }}</p><p class="what">{{ description() }}</p></figure>
      <figure class="card" aria-label="As a shared card">@if (picture(); as id) { <img [src]="'/media/' + id + '/landscape.jpg'" alt="" (error)="$any($event.target).src = '/media/' + id" /> } @else { <div class="none">no picture</div> }<p class="where">{{ home }}</p><p class="head">{{ p.title }}</p><p class="what">{{ p.excerpt || 'Without an excerpt nothing stands here.' }}</p></figure>
    }
  `,
  styles: `
    .left { color: var(--brass) !important; font-weight: 600; } fieldset { border: 0; padding: 0; margin: 0; min-width: 0; } figure { margin: 0 0 12px; border: 1px solid var(--line); border-radius: 4px; background: var(--field); padding: 9px 11px; overflow-wrap: anywhere; } .where { font-size: 11.5px; color: var(--soft); }
    .entry { font: 400 17px/1.25 Arial, Helvetica, sans-serif; color: var(--verdigris); margin: 2px 0; } .what { font-size: 12.5px; color: var(--soft); } .card { padding: 0 0 9px; overflow: hidden; } .card p { padding: 0 11px; } .card img, .none { width: 100%; aspect-ratio: 1200/630; object-fit: cover; display: block; margin-bottom: 7px; background: var(--hair); } .none { display: grid; place-items: center; color: var(--soft); } .head { font: 560 16px/1.2 var(--serif); margin: 2px 0 3px; }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SeenOutside {
  protected readonly posts = inject(PostService);
  private readonly session = inject(SessionService);
  private readonly measure = inject(MeasureService);
  protected readonly left = computed(() => this.measure.leftovers()?.fields ?? []);
  readonly store = output<[PostChanges, string]>();
  protected readonly home = location.host;
  protected readonly picture = computed(() => this.posts.post()?.sharePicture ?? this.posts.post()?.leadPicture?.media ?? null);
  protected readonly length = computed(() => [...(this.posts.post()?.searchDescription ?? '')].length);
  protected readonly description = computed(() => {
    const p = this.posts.post();
    const text = p?.searchDescription || p?.excerpt || 'Search engines take some words of the text when nothing is given.';
    return [...text].length > 160 ? `${[...text].slice(0, 157).join('')} …` : text;
  });
  /** The title as a search entry cuts it. */
  protected readonly shownTitle = computed(() => {
    const p = this.posts.post();
    const whole = `${p?.searchTitle || p?.title || ''} · ${this.session.blog()?.title ?? ''}`;
    if (textWidth(whole, ENTRY.size) <= ENTRY.room) return whole;
    let cut = whole;
    while (cut !== '' && textWidth(`${cut} …`, ENTRY.size) > ENTRY.room) cut = cut.slice(0, -1);
    return `${cut.trimEnd()} …`;
  });
}
