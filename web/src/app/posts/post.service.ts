import { DestroyRef, Injectable, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { MoveDone, NewMove, PostChanges, PostView } from '@keyroster/contract';
import { interval } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { Queue } from '../api/queue';
import { batchWord } from './batch-word';
import { NotesService } from './notes.service';
import { watchPageEnds } from './page-ends';
import { SharedText } from './together/shared-text.service';
import { TypedFields, type Saving } from './typed-fields';
import { touches, type Typed } from './typed-words';

/** How often the server is told that the post is open here. */
const OPEN_MS = 45_000;
/** What tells most of what is saved comes first. */
const WORST: readonly Saving[] = ['refused', 'unreachable', 'saving', 'typing', 'saved'];

/** The version that readers see when a post's text is saved again: of a published post they keep the one before. */
const readersVersionWith = ({ stage, readersVersion, version }: PostView): number | null =>
  stage === 'published' ? (readersVersion ?? version) : readersVersion;

/** One open post: what stands on the server, and what is changed here. Its text is written in together. */
@Injectable()
export class PostService {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly notes = inject(NotesService);
  /** Its text, where that can be written in; none where only its details are shown. */
  private readonly text = inject(SharedText, { optional: true });
  /** One's own edits of a post follow each other, each upon what the one before left. */
  private readonly edits = new Queue();
  /** Posts that were open before and whose edits may still be on their way. */
  private readonly left = new Map<number, PostView>();
  /** Which opening is the last one: of a post that was left before it came, nothing is shown. */
  private opening = {};
  /** Whether the post changed between the asking for it and its coming. */
  private changedMeanwhile = false;

  readonly post = signal<PostView | null>(null);
  readonly failed = signal('');
  /** The version that this person read the time before, when the post has changed since. */
  readonly lastRead = signal<number | null>(null);
  /** What somebody else did to this post while it was open. */
  readonly news = signal('');
  readonly fields = new TypedFields(
    this.api,
    this.edits,
    {
      post: this.post,
      keep: (post) => this.keep(post),
      personId: () => this.session.me()?.id,
    },
    () => void this.catchUp(),
  );
  readonly error = computed(() => this.failed() || this.fields.error() || (this.text?.notStored() ?? ''));
  readonly saving = computed((): Saving => {
    const both = [this.fields.saving(), this.text?.state() ?? 'saved'];
    return WORST.find((state) => both.includes(state))!;
  });

  constructor() {
    const live = inject(Live);
    live.gathered(['post'], (events) => {
      const { id, version } = this.post() ?? {};
      if (id === undefined) this.changedMeanwhile = true;
      else if (
        events.some((e) => e.postId === null || (e.postId === id && (e.version ?? Infinity) > version!))
      )
        void this.catchUp();
    });
    live.gathered(['batch'], (events) => void this.notifyBatch(events.at(-1)!.personId));
    interval(OPEN_MS)
      .pipe(takeUntilDestroyed())
      .subscribe(() => void this.announceOpen());
    // The post has taken the text in. Where the stage changed with it, other moves and rights come along.
    this.text?.stored.pipe(takeUntilDestroyed()).subscribe(({ version, words, stage }) => {
      const post = this.post();
      if (!post) this.changedMeanwhile = true;
      if (!post || version <= post.version) return;
      if (stage !== post.stage || version > post.version + 1) void this.catchUp();
      else this.post.set({ ...post, version, words, readersVersion: readersVersionWith(post) });
    });
    this.text?.shownOut.pipe(takeUntilDestroyed()).subscribe(() => void this.lookWhy());
    // What was typed last goes out with the page, however hard it is closed; it is kept on this device besides.
    watchPageEnds({
      online: () => void this.fields.flush(),
      hidden: () => this.post() && void this.fields.flush(true),
      unsaved: () => this.saving() !== 'saved' && this.saving() !== 'refused',
    });
    inject(DestroyRef).onDestroy(() => this.fields.stop());
  }

  async open(id: number): Promise<void> {
    const opening = (this.opening = {});
    const isLeft = () => this.opening !== opening;
    if (this.fields.has()) await this.fields.flush();
    if (isLeft()) return;
    this.failed.set('');
    this.news.set('');
    this.lastRead.set(null);
    const before = this.post();
    if (before) this.left.set(before.id, before);
    this.post.set(null);
    this.text?.leave();
    this.changedMeanwhile = false;
    const seen = this.api.call('posts.see', { id }).then((post) => {
      if (!isLeft()) {
        this.post.set(post);
        if (this.changedMeanwhile) void this.catchUp();
      }
      return post;
    });
    const mayWrite = () => {
      const rights = this.post()?.rights;
      return rights ? rights.write || rights.suggest : false;
    };
    // The text comes at the same time as what stands around it.
    this.text?.enter(id, this.session.me()!.id, mayWrite, seen);
    try {
      const post = await seen;
      if (isLeft()) return;
      void this.announceOpen().then(() => this.learnLastRead(post));
      await this.notes.show(id);
      if (!isLeft()) this.fields.resume(post);
    } catch (error) {
      if (isLeft()) return;
      if (!this.post()) this.text?.leave();
      this.failed.set(sentenceOf(error));
    }
  }

  /** Something was typed around the text. */
  type(change: Typed): void {
    this.fields.type(change);
  }

  /** Has everything stored that was typed, here and in the text. */
  async flush(): Promise<void> {
    await Promise.all([this.fields.flush(), this.text?.flush()]);
  }

  /**
   * Changes fields, those of the post that is open now, when earlier changes are through. What depends on how the
   * post stands by then is given as a function. When somebody changed other fields in the meantime, theirs are
   * taken and the change goes on top of them.
   */
  async change(changes: PostChanges | ((post: PostView) => PostChanges)): Promise<string> {
    const { id } = this.post()!;
    await this.fields.flush();
    return this.edits.run(() => this.changeNow(id, changes));
  }

  private async changeNow(
    id: number,
    changes: PostChanges | ((post: PostView) => PostChanges),
  ): Promise<string> {
    const before = this.held(id);
    const body = typeof changes === 'function' ? changes(before) : changes;
    const done = await this.upon(id, body, (ifMatch) => this.api.call('posts.change', { id, ifMatch, body }));
    this.keep({ ...this.held(id), ...done.post });
    return done.sentence;
  }

  move(body: NewMove): Promise<string> {
    return this.decide((id, ifMatch) => this.api.call('posts.move', { id, ifMatch, body }));
  }

  /** Puts what was changed in a published post before its readers; with `seen`, that version and no later one. */
  update(seen?: number): Promise<string> {
    return this.decide((id, ifMatch) =>
      this.api.call('versions.update', { id, ifMatch: seen ?? ifMatch, body: {} }),
    );
  }

  /** Something is decided about the post as it stands, with all that was typed until now. */
  private async decide(send: (id: number, ifMatch: number) => Promise<MoveDone>): Promise<string> {
    await this.flush();
    if (this.saving() !== 'saved')
      throw new ApiError(null, 'What you typed is not stored yet. Wait until it is, then try again.');
    const { id } = this.post()!;
    const done = await this.edits.run(() => this.upon(id, {}, (ifMatch) => send(id, ifMatch)));
    this.keep({ ...this.held(id), ...done.post });
    await this.notes.refresh();
    return done.sentence;
  }

  /**
   * Sends a change upon the version that is known; again upon a later one, when what changed since does not
   * meet it.
   */
  private upon<T>(id: number, body: PostChanges, send: (version: number) => Promise<T>): Promise<T> {
    return send(this.held(id).version).catch(async (error: unknown) => {
      const changed =
        error instanceof ApiError && error.code === 'version-conflict' ? error.problem?.changed : undefined;
      if (!changed) throw error;
      const now = await this.api.call('posts.see', { id });
      this.keep(now);
      // A move is for the post as it was seen; others write in the text all the time.
      const isMove = Object.keys(body).length === 0;
      if (isMove ? changed.some((field) => field !== 'body') : touches(body, changed)) throw error;
      return send(now.version);
    });
  }

  private held(id: number): PostView {
    const open = this.post();
    return open?.id === id ? open : this.left.get(id)!;
  }

  private keep(post: PostView): void {
    if (this.post()?.id === post.id) this.post.set(post);
    else this.left.set(post.id, post);
  }

  async addPicture(file: File): Promise<number> {
    return (await this.api.call('media.add', { file })).id;
  }

  /** Takes what others changed. A line that is being typed here stays as it is typed. */
  private async catchUp(): Promise<void> {
    const before = this.post();
    if (!before) return;
    const now = await this.api.call('posts.see', { id: before.id }).catch(() => null);
    const held = this.post();
    if (!now || held?.id !== now.id || now.version <= held.version) return;
    // Sent upon the version that it was typed upon, so that the server says when both changed the same line.
    if (this.fields.has() || this.fields.isSending) return;
    this.post.set(now);
  }

  /** Shown out of the text: somebody put the post in the bin, or it is no longer one's own to see. */
  private async lookWhy(): Promise<void> {
    const id = this.post()?.id;
    if (id === undefined) return;
    await this.api.call('posts.see', { id }).catch((error: unknown) => {
      const gone = error instanceof ApiError && error.code === 'not-found';
      this.failed.set(
        gone
          ? 'This post is in the bin now, or no longer yours to see. What is on the screen is not stored any more.'
          : sentenceOf(error),
      );
    });
  }

  private async announceOpen(): Promise<void> {
    const post = this.post();
    if (post && document.visibilityState === 'visible')
      await this.api.call('posts.open', { id: post.id, body: {} }).catch(() => undefined);
  }

  private async learnLastRead({ id, version, rights }: PostView): Promise<void> {
    if (!rights.history) return;
    const page = await this.api.call('versions.list', { id, query: { limit: 1 } }).catch(() => null);
    if (page?.lastRead && page.lastRead < version && this.post()?.id === id) this.lastRead.set(page.lastRead);
  }

  /**
   * A batch that changed the open post is told in a sentence; what it changed is taken as any change of
   * others.
   */
  private async notifyBatch(personId: number | null): Promise<void> {
    const before = this.post();
    await this.catchUp();
    const now = this.post();
    if (!before || !now || now.id !== before.id || personId === this.session.me()?.id) return;
    const who =
      (await this.api.call('people.list', {}).catch(() => [])).find((p) => p.id === personId)?.name ??
      'Somebody';
    const word = batchWord(who, before, now);
    if (word) this.news.set(word);
  }
}
