import { Injectable, computed, inject, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import type { LetterOfPost, PostView } from '@keyroster/contract';
import { formatLetterAtRelease } from '@keyroster/core';
import { catchError, distinctUntilChanged, of, switchMap } from 'rxjs';
import { Api } from '../api/api';
import { Live } from '../api/live';

type Asked = Pick<PostView, 'id' | 'stage' | 'access' | 'mailAtRelease'>;

/** The letter that is sent with the release of the post on the screen; null where it mails none. */
@Injectable()
export class LetterAtReleaseService {
  private readonly api = inject(Api);
  private readonly post = signal<Asked | null>(null);
  private readonly changes = signal(0);
  private readonly asked = computed(() => {
    const post = this.post();
    return post?.mailAtRelease ? `${post.id} ${post.stage} ${post.access} ${this.changes()}` : '';
  });
  private readonly found = toSignal(
    toObservable(this.asked).pipe(
      distinctUntilChanged(),
      switchMap((asked) =>
        asked === ''
          ? of(null)
          : this.api
              .request('letters.ofPost', { id: Number(asked.split(' ')[0]) })
              .pipe(catchError(() => of(null))),
      ),
    ),
    { initialValue: null as LetterOfPost | null },
  );
  readonly letter = computed(() => (this.post()?.mailAtRelease ? this.found() : null));
  /** What a release will do with it; empty where there is none, or where it was released. */
  readonly sentence = computed(() => {
    const letter = this.letter();
    return letter === null || letter.letter !== null || this.post()?.stage === 'published'
      ? ''
      : formatLetterAtRelease(letter);
  });
  /** A release would not send it. */
  readonly isWithheld = computed(() => this.sentence() !== '' && this.letter()?.withheld !== '');

  constructor() {
    inject(Live).whenever(['letter'], () => this.changes.update((n) => n + 1));
  }

  of(post: Asked | null): void {
    this.post.set(post);
  }
}
