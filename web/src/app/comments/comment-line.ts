import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { RouterLink } from '@angular/router';
import type { CommentView } from '@keyroster/contract';
import { MAX_COMMENT, SPAM_FROM, formatWhen, type CommentState } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { TextField } from '../ui/fields';

/** What is done with one comment; with `answer`, it is answered. */
export interface Deed {
  comment: CommentView;
  to: CommentState;
  answer?: string;
}

/** One comment with what may be done with it. */
@Component({
  selector: 'kr-comment',
  imports: [MatButton, MatCheckbox, RouterLink, TextField],
  template: `
    @let c = comment();
    <mat-checkbox
      [checked]="chosen()"
      [aria-label]="'Choose the comment by ' + c.name"
      (change)="choose.emit($event.checked)"
    />
    <article [attr.aria-label]="'Comment by ' + c.name">
      <p class="who">
        <b>{{ c.name }}</b>
        @for (mark of marks(); track mark) {
          <span class="mark">{{ mark }}</span>
        }
        <span class="soft">{{ when() }}</span>
      </p>
      <p class="on">
        {{ c.parent ? 'answers ' + c.parent.name + ' on' : 'on' }}
        <a [routerLink]="['/posts', c.post.id]">{{ c.post.title }}</a>
      </p>
      @if (c.source) {
        <p>
          <a [href]="c.source" target="_blank" rel="noopener nofollow ugc">{{ c.source }}</a>
        </p>
      }
      <p class="text">{{ c.text }}</p>
      <div class="row">
        @for (d of deeds(); track d.to) {
          <button
            [matButton]="d.to === 'approved' ? 'filled' : 'outlined'"
            class="small"
            type="button"
            [attr.aria-label]="d.label + ': ' + c.name"
            (click)="deed.emit({ comment: c, to: d.to })"
          >
            {{ d.label }}
          </button>
        }
        @if (!c.by && c.kind === 'comment') {
          <button
            matButton="outlined"
            class="small"
            type="button"
            [attr.aria-label]="'Answer ' + c.name"
            [attr.aria-expanded]="answering()"
            (click)="answering.set(!answering())"
          >
            Answer
          </button>
        }
      </div>
      @if (answering()) {
        <kr-text
          #answer
          [label]="'Your answer to ' + c.name"
          rows="3"
          [max]="max"
          [(value)]="words"
          hint="It stands under the comment, marked as by the blog. A comment that waits is approved with it."
        />
        <p class="row">
          <button
            matButton="filled"
            class="small"
            type="button"
            [disabled]="words().trim() === ''"
            (click)="send()"
          >
            Send the answer
          </button>
        </p>
      }
    </article>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: auto minmax(0, 1fr);
      gap: 4px;
      padding: 10px 0;
      border-bottom: 1px solid var(--hair);
    }
    p {
      margin: 0 0 4px;
    }
    .who {
      display: flex;
      flex-wrap: wrap;
      gap: 2px 9px;
      align-items: baseline;
    }
    .mark {
      font-size: 11.5px;
      border: 1px solid var(--line);
      border-radius: 4px;
      padding: 0 5px;
    }
    .on {
      font-size: 12.5px;
      color: var(--soft);
    }
    .text {
      white-space: pre-line;
      overflow-wrap: anywhere;
      font: 400 15.5px/1.45 var(--serif);
      max-width: 68ch;
      margin: 6px 0 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CommentLine {
  private readonly session = inject(SessionService);
  readonly comment = input.required<CommentView>();
  readonly chosen = input.required<boolean>();
  readonly deeds = input.required<readonly { to: CommentState; label: string }[]>();
  readonly choose = output<boolean>();
  readonly deed = output<Deed>();
  protected readonly answering = signal(false);
  protected readonly words = signal('');
  protected readonly max = MAX_COMMENT;
  protected readonly when = computed(() =>
    formatWhen(this.session.local(this.comment().at).slice(0, 16), this.session.today()),
  );
  /** What helps to decide, in words. */
  protected readonly marks = computed(() => {
    const c = this.comment();
    return [
      ...(c.by ? ['of the blog'] : []),
      ...(c.kind === 'mention' ? ['another site'] : []),
      ...(c.member ? ['member'] : []),
      ...(!c.by && c.kind === 'comment' && !c.known ? ['first comment'] : []),
      ...(c.spam >= SPAM_FROM && !c.by ? ['looks like spam'] : []),
      ...(c.email ? [c.email] : []),
    ];
  });

  protected send(): void {
    this.deed.emit({ comment: this.comment(), to: 'approved', answer: this.words().trim() });
    this.words.set('');
    this.answering.set(false);
  }
}
