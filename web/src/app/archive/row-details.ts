import { ChangeDetectionStrategy, Component, ElementRef, effect, inject, input, output, signal, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { PostChanges } from '@keyroster/contract';
import { sentenceOf } from '../api/api';
import { DetailsPanel } from '../desk/details-panel';
import { MeasureService } from '../desk/measure.service';
import { MovesPanel } from '../desk/moves-panel';
import { PostService } from '../desk/post.service';

/** The name a field has for those who see it. */
const nameOf = (field: Element | null) => field?.closest('label')?.querySelector('span')?.textContent?.trim() ?? '';

/** Everything of a post but its text, changed beside the table, with the desk's own fields, moves and checks. */
@Component({
  selector: 'kr-row-details',
  imports: [DetailsPanel, MovesPanel, RouterLink],
  providers: [PostService, MeasureService],
  template: `
    <div class="row spread top"><h2 tabindex="-1">Details</h2><span class="row"><button class="btn small" (click)="stepped.emit(-1)" title="Alt ↑">Previous</button><button class="btn small" (click)="stepped.emit(1)" title="Alt ↓">Next</button><button class="btn small" (click)="closed.emit()" title="Escape">Close</button></span></div>
    @if (posts.fault()) { <p class="fault" role="alert">{{ posts.fault() }}</p> }
    @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
    @if (posts.post(); as p) {
      <fieldset [disabled]="!p.rights.write">
        <label class="field"><span>Title</span><textarea #title rows="2" data-title maxlength="300" [value]="p.title" (change)="store({ title: title.value.trim() }, 'The title', title)"></textarea></label>
        <label class="field"><span>Excerpt</span><textarea #excerpt rows="2" maxlength="1000" [value]="p.excerpt" (change)="store({ excerpt: excerpt.value.trim() }, 'The excerpt')"></textarea></label>
      </fieldset>
      <fieldset [disabled]="!p.rights.plan || p.stage === 'pitch'">
        <label class="field"><span>Run time</span><input #run type="datetime-local" step="60" [value]="p.runLocal?.slice(0, 16) ?? ''" (change)="store({ runAt: run.value || null }, 'The run time')" /><small>{{ p.stage === 'pitch' ? 'A pitch has no date. Commission it, and it gets one.' : p.stage === 'scheduled' ? 'It goes out then.' : p.stage === 'published' ? 'Dated back, it takes its place in the order of posts.' : '' }}</small></label>
      </fieldset>
      <p class="unseen" role="status">{{ told() }}</p>
      <kr-moves (checksAsked)="fault.set('Open the post on the desk to see its checks.')" />
      <p class="desk"><a [routerLink]="['/posts', p.id]">Open it on the desk</a></p>
      <kr-details />
    } @else if (!posts.fault()) { <p class="soft">…</p> }
  `,
  styles: `:host { display: block; } .top { margin-bottom: 10px; } fieldset { border: 0; margin: 0; padding: 0; min-width: 0; } .desk { margin: 8px 0 12px; } kr-moves { border-block: 1px solid var(--line); padding: 10px 0; margin-bottom: 8px; }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(keydown)': 'key($event)' },
})
export class RowDetails {
  protected readonly posts = inject(PostService);
  private readonly measure = inject(MeasureService);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  readonly id = input.required<number>();
  readonly stepped = output<1 | -1>();
  readonly closed = output();
  protected readonly fault = signal('');
  protected readonly told = signal('');

  constructor() {
    effect(() => { const id = this.id(); untracked(() => { this.fault.set(''); void this.posts.open(id); }); });
    // Stepping on, one stays in the same field of the next post.
    effect(() => { if (this.posts.post()) untracked(() => setTimeout(() => this.comeBack())); });
    // The checks that moves ask for are those of the text as it is stored.
    effect(() => { const p = this.posts.post(); if (p) untracked(() => this.measure.body.set(p.body)); });
  }

  private field: string | null = null;

  private comeBack(): void {
    if (this.field === null) return;
    const field = [...this.host.querySelectorAll<HTMLElement>('input, select, textarea')].find((f) => nameOf(f) === this.field);
    (field ?? this.host.querySelector<HTMLElement>('h2'))?.focus();
    this.field = null;
  }

  protected key(event: KeyboardEvent): void {
    const step = event.altKey ? ({ ArrowDown: 1, ArrowUp: -1 } as const)[event.key] : undefined;
    if (step) {
      event.preventDefault();
      // A field tells what it holds when it is left.
      this.field = nameOf(document.activeElement);
      (document.activeElement as HTMLElement | null)?.blur();
      this.stepped.emit(step);
    } else if (event.key === 'Escape') {
      event.stopPropagation();
      (document.activeElement as HTMLElement | null)?.blur();
      this.closed.emit();
    }
  }

  protected async store(changes: PostChanges, what: string, field?: HTMLTextAreaElement): Promise<void> {
    this.fault.set('');
    try {
      await this.posts.change(changes);
      this.told.set(`${what} is stored.`);
    } catch (error) {
      this.fault.set(`${what} was not stored. ${sentenceOf(error)}`);
      if (field && field.value.trim() === '') field.value = this.posts.post()!.title;
    }
  }
}
