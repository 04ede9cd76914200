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
  templateUrl: './comment-line.html',
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
