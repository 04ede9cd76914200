import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatDialogRef } from '@angular/material/dialog';
import { Router } from '@angular/router';
import { writeToken } from '@keyroster/core';
import type { Found } from '@keyroster/contract';
import { Subject, catchError, of, switchMap } from 'rxjs';
import { Api } from '../api/api';
import { BittingMark } from '../ui/bitting-mark';
import { Actions } from './actions.service';
import { facts } from '../ui/facts';

interface Hit {
  id: string;
  group: 'Posts' | 'People' | 'Actions';
  label: string;
  detail: string;
  stage?: Found['posts'][number]['stage'];
  run: () => void;
}

const NOTHING: Found = { posts: [], people: [] };

/** Letters that say which action is meant. */
const ENOUGH = 4;

/** Find-or-do: one line over posts, people and actions. Arrows choose, Enter goes. */
@Component({
  selector: 'kr-find',
  imports: [BittingMark],
  template: `
    <div class="line">
      <input
        #words
        type="search"
        aria-label="Find or do anything"
        placeholder="A title, a name, or what you want to do"
        role="combobox"
        aria-controls="hits"
        aria-expanded="true"
        aria-autocomplete="list"
        [attr.aria-activedescendant]="hits()[at()]?.id ?? null"
        (input)="search(words.value)"
        (keydown)="key($event)"
        cdkFocusInitial
      />
    </div>
    <div id="hits" role="listbox" aria-label="What was found">
      @for (hit of hits(); track hit.id; let i = $index) {
        @if (i === 0 || hits()[i - 1]!.group !== hit.group) {
          <h3 role="presentation">{{ hit.group }}</h3>
        }
        <!-- eslint-disable-next-line @angular-eslint/template/click-events-have-key-events, @angular-eslint/template/interactive-supports-focus -- the line above has the focus and the keys -->
        <div
          role="option"
          [id]="hit.id"
          [attr.aria-selected]="i === at()"
          [class.on]="i === at()"
          (click)="go(hit)"
          (mousemove)="choose(i)"
        >
          @if (hit.stage) {
            <kr-mark [stage]="hit.stage" [width]="30" />
          }
          <b>{{ hit.label }}</b><span>{{ hit.detail }}</span>
        </div>
      } @empty {
        <p class="soft">Nothing is called that. Try fewer words.</p>
      }
    </div>
  `,
  styles: `
    :host {
      display: block;
    }
    .line {
      padding: 12px 12px 8px;
    }
    input {
      font-size: 15px;
      min-height: 36px;
    }
    #hits {
      max-height: 60vh;
      overflow: auto;
      padding: 0 12px 12px;
      min-height: 120px;
    }
    h3 {
      font: 650 11.5px var(--sans);
      color: var(--soft);
      margin: 10px 8px 3px;
    }
    [role='option'] {
      display: flex;
      gap: 10px;
      align-items: center;
      padding: 6px 8px;
      border-radius: 4px;
      cursor: pointer;
    }
    [role='option'] b {
      font: 540 14.5px var(--serif);
      flex: 1;
      min-width: 0;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    span {
      color: var(--soft);
      font-size: 12px;
    }
    .on {
      background: var(--verdigris-wash);
    }
    p {
      padding: 14px 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Find {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly actions = inject(Actions);
  private readonly dialog = inject(MatDialogRef<Find>);
  private readonly found = signal<Found>(NOTHING);
  private readonly words = signal('');
  protected readonly at = signal(0);
  private readonly asked = new Subject<string>();
  /** Somebody chose with the arrows or the mouse: what they chose stays chosen. */
  private chosen = false;
  private waiting = false;
  /** Enter was pressed before the answer was there: it means the first hit of the answer. */
  private entered = false;
  private readonly line = viewChild.required<ElementRef<HTMLInputElement>>('words');

  protected readonly hits = computed((): Hit[] => {
    const words = this.words().trim().toLowerCase();
    const { posts, people } = this.found();
    const actions = this.actions
      .all()
      .filter((a) => words === '' || a.label.toLowerCase().includes(words))
      .map((a): Hit => ({
        id: `hit-action-${a.label.replace(/\W+/g, '-')}`,
        group: 'Actions',
        label: a.label,
        detail: a.keys ?? '',
        run: a.run,
      }));
    // Who types the beginning of an action means it; otherwise what is written and who writes come first.
    const meant =
      words.length >= ENOUGH ? actions.filter((a) => a.label.toLowerCase().startsWith(words)) : [];
    return [
      ...meant,
      ...posts.map((p): Hit => ({
        id: `hit-post-${p.id}`,
        group: 'Posts',
        label: p.title,
        detail: facts(p.stage, p.byline),
        stage: p.stage,
        run: () => void this.router.navigate(['/posts', p.id]),
      })),
      ...people.map((p): Hit => ({
        id: `hit-person-${p.id}`,
        group: 'People',
        label: p.name,
        detail: p.role,
        run: () =>
          void this.router.navigate(['/archive'], {
            queryParams: { line: writeToken({ key: 'byline', value: p.name, not: false }) },
          }),
      })),
      ...actions.filter((a) => !meant.includes(a)),
    ];
  });

  constructor() {
    this.asked
      .pipe(
        switchMap((words) =>
          words === ''
            ? of(NOTHING)
            : this.api.request('find.all', { query: { words } }).pipe(catchError(() => of(NOTHING))),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((found) => this.show(found));
  }

  /** Goes on with what was typed before the line was there. */
  begin(words: string): void {
    const line = this.line().nativeElement;
    line.focus();
    if (words === '') return;
    line.value = words + line.value;
    this.search(line.value);
  }

  protected search(words: string): void {
    this.words.set(words);
    this.at.set(0);
    this.chosen = false;
    this.entered = false;
    this.waiting = true;
    this.asked.next(words.trim().slice(0, 200));
  }

  private show(found: Found): void {
    // What was chosen stays chosen when more is found; where nobody chose, the first hit is meant.
    const chosen = this.chosen ? this.hits()[this.at()]?.id : undefined;
    this.found.set(found);
    this.waiting = false;
    this.at.set(
      Math.max(
        0,
        this.hits().findIndex((hit) => hit.id === chosen),
      ),
    );
    const first = this.hits()[0];
    if (this.entered && first) this.go(first);
  }

  protected choose(at: number): void {
    this.at.set(at);
    this.chosen = true;
  }

  protected key(event: KeyboardEvent): void {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step) {
      event.preventDefault();
      const count = this.hits().length;
      if (count > 0) this.choose((this.at() + step + count) % count);
      document.getElementById(this.hits()[this.at()]?.id ?? '')?.scrollIntoView({ block: 'nearest' });
    } else if (event.key === 'Enter') {
      const hit = this.hits()[this.at()];
      if (this.waiting && !this.chosen) this.entered = true;
      else if (hit) this.go(hit);
    }
  }

  protected go(hit: Hit): void {
    this.dialog.close();
    hit.run();
  }
}
