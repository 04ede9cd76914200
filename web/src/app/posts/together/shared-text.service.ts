import { DestroyRef, Injectable, computed, inject, signal } from '@angular/core';
import { textPath } from '@keyroster/contract';
import { bodyText } from '@keyroster/core';
import { bodyOfShared } from '@keyroster/core/texts';
import {
  NEVER,
  Subject,
  catchError,
  combineLatest,
  filter,
  firstValueFrom,
  from,
  merge,
  takeUntil,
  timer,
  type Observable,
} from 'rxjs';
import { findUpdate, storeUpdate } from './kept-updates';
import { TextConnection, type TextPerson, type TextStored } from './text-connection';
import { inBlog } from '../../api/blog-choice';

/** How long something that asks for everything to be stored waits for it, in ms. */
const PATIENCE_MS = 6000;

/** What was typed here and was refused, with why: it is shown, so that nothing is lost unseen. */
export interface RefusedText {
  sentence: string;
  text: string;
}

/** The text of the post that is open here, as it is written in together. */
@Injectable()
export class SharedText {
  /** The text, once it is here; another one when it had to be loaded again. */
  readonly open = signal<TextConnection | null>(null);
  readonly isAway = signal(false);
  readonly isUnsaved = signal(false);
  readonly people = signal<readonly TextPerson[]>([]);
  /** Why the text as it stands cannot be stored. */
  readonly notStored = signal('');
  readonly refused = signal<RefusedText | null>(null);
  /** Told when the post, or the session, is gone from under the text. */
  readonly shownOut = new Subject<void>();
  /** Told whenever the post has taken the text in. */
  readonly stored = new Subject<TextStored>();
  readonly state = computed(() => {
    if (!this.isUnsaved()) return 'saved' as const;
    if (this.isAway()) return 'unreachable' as const;
    return this.notStored() ? ('refused' as const) : ('saving' as const);
  });

  private connection: TextConnection | null = null;
  private readonly left = new Subject<void>();

  constructor() {
    inject(DestroyRef).onDestroy(() => this.leave());
  }

  /**
   * Opens the text of a post. `mayWrite` says whether what is typed here counts, from when `known` is fulfilled; until
   * then the text comes, and is not shown.
   */
  enter(
    postId: number,
    personId: number,
    mayWrite: () => boolean,
    known: Promise<unknown> = Promise.resolve(),
  ): void {
    this.leave();
    const url = new URL(inBlog(textPath(postId)), location.href);
    url.protocol = url.protocol.replace('http', 'ws');
    const connection = new TextConnection(url.href, mayWrite, (update) => {
      storeUpdate(personId, postId, update);
    });
    this.connection = connection;
    const watch = <T>(source: Observable<T>, take: (value: T) => void) =>
      source.pipe(takeUntil(this.left)).subscribe(take);
    watch(connection.unsaved, (unsaved) => {
      this.isUnsaved.set(unsaved);
      if (!unsaved) this.notStored.set('');
    });
    // Oneself in another tab is nobody else.
    watch(connection.people, (people) => this.people.set(people.filter((p) => p.id !== personId)));
    watch(connection.shownOut, () => this.shownOut.next());
    watch(connection.notStored, (sentence) => this.notStored.set(sentence));
    watch(connection.stored, (stored) => {
      this.notStored.set('');
      this.stored.next(stored);
    });
    watch(connection.refused, (sentence) => {
      // The document here has what that one there has not: it is shown, closed, and fetched again.
      this.refused.set({ sentence, text: textOf(connection) });
      storeUpdate(personId, postId, null);
      this.enter(postId, personId, mayWrite);
    });
    watch(connection.state, (state) => this.isAway.set(state === 'away'));
    const isKnown = from(known).pipe(catchError(() => NEVER));
    watch(combineLatest([connection.state, isKnown]), ([state]) => {
      if (state !== 'here' || this.open() === connection) return;
      const kept = findUpdate(personId, postId);
      if (kept && mayWrite()) connection.resume(kept);
      else if (kept) {
        connection.resume(kept);
        this.refused.set({
          sentence: 'What you typed was not stored before you lost the right to write here.',
          text: textOf(connection),
        });
        storeUpdate(personId, postId, null);
        return this.enter(postId, personId, mayWrite);
      }
      this.open.set(connection);
    });
  }

  leave(): void {
    this.left.next();
    this.connection?.close();
    this.connection = null;
    this.open.set(null);
    this.isUnsaved.set(false);
    this.isAway.set(false);
    this.notStored.set('');
    this.people.set([]);
  }

  /** Has everything that was typed stored, and waits for it; false when that cannot be just now. */
  async flush(): Promise<boolean> {
    const { connection } = this;
    if (!connection || !connection.unsaved.value) return true;
    connection.store();
    await firstValueFrom(
      merge(
        connection.unsaved.pipe(filter((unsaved) => !unsaved)),
        connection.notStored,
        connection.state.pipe(filter((state) => state === 'away' || state === 'closed')),
        timer(PATIENCE_MS),
      ),
    );
    return !connection.unsaved.value;
  }
}

function textOf({ doc }: TextConnection): string {
  const answer = bodyOfShared(doc);
  return answer.ok ? bodyText(answer.body) : '';
}
