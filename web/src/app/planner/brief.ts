import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import type { PersonView, PitchAlike, PostChanges, PostView } from '@keyroster/contract';
import { addDays, hasWish, sayShortDate, sayWhen, type DateWish } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError, sentenceOf } from '../api/api';
import { BittingMark } from '../ui/bitting-mark';
import { CategoryTab } from '../ui/category-tab';
import { Say } from '../ui/say.service';

export interface BriefData {
  id: number;
  /** What a pitch resembles. */
  alike: PitchAlike | null;
}

/** A post from the planner's side: who writes it, and what they are asked for. */
@Component({
  selector: 'kr-brief',
  imports: [MatDialogModule, RouterLink, BittingMark, CategoryTab],
  template: `
    @if (post(); as p) {
      <form class="dialog" (submit)="give($event, p, byline.value, angle.value, length.value, copy.value, category.value, { notBefore: before.value || null, notAfter: after.value || null, mustBeOn: on.value || null }, rating.value)" novalidate>
        <h2>{{ p.title }}</h2>
        <p class="row facts"><kr-mark [stage]="p.stage" [late]="p.late" /> {{ p.stage }} · <kr-category [id]="p.categoryId" />@if (p.runLocal) { · runs {{ when(p.runLocal) }} }</p>
        @if (p.thought) { <p class="thought">{{ p.thought }}</p> }
        @if (data.alike; as a) { <p class="alike">{{ percent(a.score) }} like <a [routerLink]="['/posts', a.alike.id]" mat-dialog-close>{{ a.alike.title }}</a>, {{ a.alike.stage }}{{ a.alike.runLocal ? ' ' + short(a.alike.runLocal) : '' }}: both have {{ a.shared.join(', ') }}.</p> }
        @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
        <fieldset [disabled]="!p.rights.details">
          <label class="field"><span>Category</span><select #category><option value="" [selected]="p.categoryId === null">none yet</option>@for (c of session.blog()?.categories ?? []; track c.id) { @if (session.isDeskFor(c.id) || c.id === p.categoryId) { <option [value]="c.id" [selected]="c.id === p.categoryId">{{ c.name }}</option> } }</select></label>
          <label class="field"><span>Who writes it</span><select #byline><option value="" [selected]="p.byline === null">nobody yet</option>@for (w of writers(); track w.id) { <option [value]="w.id" [selected]="w.id === p.byline?.id">{{ w.name }}, {{ w.role }}</option> }</select></label>
          <label class="field"><span>Angle: what is asked for</span><textarea #angle rows="4" maxlength="4000" [value]="p.brief.angle"></textarea></label>
          <div class="pair">
            <label class="field"><span>Length in words</span><input #length type="number" min="1" max="100000" [value]="p.brief.length ?? ''" /></label>
            <label class="field"><span>Copy date</span><input #copy type="date" [value]="p.brief.copyDate ?? suggested()" /></label>
          </div>
          <details [open]="p.stage === 'pitch' || wished(p)"><summary>When it should run, and how good it is</summary>
            <div class="four">
              <label class="field"><span>Not before</span><input #before type="date" [value]="p.wish.notBefore ?? ''" /></label>
              <label class="field"><span>Not after</span><input #after type="date" [value]="p.wish.notAfter ?? ''" /></label>
              <label class="field"><span>Must be on</span><input #on type="date" [value]="p.wish.mustBeOn ?? ''" /></label>
              <label class="field"><span>Rating</span><select #rating><option value="">none</option>@for (n of [1, 2, 3, 4, 5]; track n) { <option [value]="n" [selected]="n === p.rating">{{ n }} of 5</option> }</select></label>
            </div></details>
        </fieldset>
        <div class="ends"><a class="btn" [routerLink]="['/posts', p.id]" mat-dialog-close>Open on the desk</a><span style="flex: 1"></span>
          <button type="button" class="btn" mat-dialog-close>Close</button>@if (p.rights.details) { <button class="btn act" type="submit" [disabled]="busy()">{{ p.stage === 'pitch' ? 'Store' : 'Give the brief' }}</button> }</div>
      </form>
    } @else { <p class="dialog soft">{{ fault() || 'Fetching …' }}</p> }
  `,
  styles: `.facts { color: var(--soft); margin-bottom: 10px; gap: 6px; } .thought { font: 430 15px/1.45 var(--serif); margin-bottom: 12px; overflow-wrap: break-word; } fieldset { border: 0; padding: 0; margin: 0; } details { margin-bottom: 8px; } summary { cursor: pointer; color: var(--soft); padding: 4px 0; } .alike { color: var(--brass); margin-bottom: 8px; } .four { display: grid; grid-template-columns: repeat(4, minmax(0, 1fr)); gap: 8px; margin-top: 6px; } @media (max-width: 620px) { .four { grid-template-columns: 1fr 1fr; } } .pair { display: grid; grid-template-columns: 1fr 1fr; gap: 12px; } h2 { overflow-wrap: break-word; }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BriefDialog {
  private readonly api = inject(Api);
  private readonly say = inject(Say);
  private readonly dialog = inject(MatDialogRef<BriefDialog>);
  protected readonly data = inject<BriefData>(MAT_DIALOG_DATA);
  protected readonly session = inject(SessionService);
  protected readonly post = signal<PostView | null>(null);
  protected readonly people = signal<PersonView[]>([]);
  protected readonly fault = signal('');
  protected readonly busy = signal(false);
  /** The version that is changed; newer than the one shown when somebody changed the post meanwhile. */
  private version = 0;
  protected readonly writers = computed(() => this.people().filter((p) => p.active && ['contributor', 'editor', 'managing editor'].includes(p.role)));
  /** Five days before the run time: time to review before it is needed. */
  protected readonly suggested = computed(() => {
    const run = this.post()?.runLocal;
    return run && this.post()?.stage === 'commissioned' ? addDays(run.slice(0, 10), -5) : '';
  });
  protected readonly wished = (post: PostView) => hasWish(post.wish);
  protected readonly percent = (score: number) => `${Math.round(score * 100)}%`;
  protected readonly short = (local: string) => sayShortDate(local);
  protected readonly when = (local: string) => sayWhen(local);

  constructor() {
    void Promise.all([this.api.call('posts.see', { id: this.data.id }), this.api.call('people.list', {})])
      .then(([post, people]) => { this.people.set(people); this.version = post.version; this.post.set(post); }, (error: unknown) => this.fault.set(sentenceOf(error)));
  }

  protected async give(event: Event, post: PostView, byline: string, angle: string, length: string, copy: string, category: string, wish: DateWish, rating: string): Promise<void> {
    event.preventDefault();
    if (length !== '' && !(Number(length) >= 1)) {
      this.fault.set('The length is a number of words, or nothing.');
      return;
    }
    this.busy.set(true);
    const bylineId = byline ? Number(byline) : null;
    const categoryId = category ? Number(category) : null;
    const body: PostChanges = {
      ...(bylineId === (post.byline?.id ?? null) ? {} : { bylineId }), ...(categoryId === post.categoryId ? {} : { categoryId }),
      ...(JSON.stringify(wish) === JSON.stringify(post.wish) ? {} : { wish }), ...((rating ? Number(rating) : null) === post.rating ? {} : { rating: rating ? Number(rating) : null }),
      brief: { angle, length: length === '' ? null : Number(length), copyDate: copy || null },
    };
    try {
      const done = await this.api.call('posts.change', { id: post.id, ifMatch: this.version, body });
      this.dialog.close();
      const { byline: by, brief } = done.post;
      this.say.done(done.post.stage === 'pitch' ? 'Stored.' : by ? `${by.name} has the brief${brief.copyDate ? `, copy due ${sayShortDate(brief.copyDate)}` : ''}.` : 'The brief is kept. Nobody writes it yet.');
    } catch (error) {
      this.fault.set(sentenceOf(error));
      if (error instanceof ApiError && error.code === 'version-conflict') {
        this.version = error.problem?.version ?? this.version;
        this.fault.set(`${error.message} What you typed is still here; give the brief again to put it on top.`);
      }
    } finally {
      this.busy.set(false);
    }
  }
}
