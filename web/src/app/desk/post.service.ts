import { DestroyRef, Injectable, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { NewMove, PostChanges, PostView } from '@keyroster/contract';
import equal from 'fast-deep-equal';
import { interval } from 'rxjs';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { Queue } from '../api/queue';
import { batchWord } from './batch-word';
import { dropDraft, findDraft, keepDraft } from './draft-keeper';
import { NotesService } from './notes.service';
import { watchPageEnds } from './page-ends';
import { sameParts, stands, touches, type Conflict, type Typed } from './typed-words';

export type Saving = 'saved' | 'typing' | 'saving' | 'unreachable' | 'conflict' | 'refused';

const QUIET_MS = 700;
const RETRY_MS = 3000;
/** How often the server is told that the post is open here. */
const OPEN_MS = 45_000;

/**
 * One open post: what stands on the server, what is typed and not there yet, and how the two come together.
 */
@Injectable()
export class PostService {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  private readonly notes = inject(NotesService);
  private timer: ReturnType<typeof setTimeout> | undefined;
  private sending: Promise<void> | null = null;
  private typed: Typed = {};
  /** One's own edits of a post follow each other, each upon what the one before left. */
  private readonly edits = new Queue();
  /** Posts that were open before and whose edits may still be on their way. */
  private readonly left = new Map<number, PostView>();

  readonly post = signal<PostView | null>(null);
  readonly saving = signal<Saving>('saved');
  readonly error = signal('');
  readonly conflict = signal<Conflict | null>(null);
  /** Has the editor hand over what stands on its screen and was not handed over yet. */
  screen: (() => void) | null = null;
  /** What somebody else did to this post while it was open. */
  readonly told = signal('');
  /** Told when the text on screen has to be drawn from the post again. */
  readonly redraw = signal(0);

  constructor() {
    const live = inject(Live);
    live.whenever(['post'], () => void this.catchUp());
    live.gathered(['batch'], (events) => void this.notifyBatch(events.at(-1)!.personId));
    interval(OPEN_MS)
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.announceOpen());
    // What was typed last goes out with the page, however hard it is closed; it is kept on this device besides.
    watchPageEnds({
      online: () => void this.flush(),
      hidden: () => this.post() && void this.flush(true),
      unsaved: () => this.saving() !== 'saved' && this.saving() !== 'refused',
    });
    inject(DestroyRef).onDestroy(() => {
      clearTimeout(this.timer);
      if (this.hasTyped()) void this.flush();
    });
  }

  async open(id: number): Promise<void> {
    if (this.hasTyped()) await this.flush();
    this.error.set('');
    this.told.set('');
    const before = this.post();
    if (before) this.left.set(before.id, before);
    this.post.set(null);
    try {
      const post = await this.api.call('posts.see', { id });
      this.post.set(post);
      this.redraw.update((n) => n + 1);
      this.announceOpen();
      await this.notes.show(id);
      this.takeUpDraft(post);
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  /** A key was pressed in the text; what it made of the text follows. */
  touch(): void {
    if (this.saving() === 'saved') this.saving.set('typing');
  }

  /** Something was typed: kept on this device at once, and on the server after a short quiet. */
  type(change: Typed): void {
    const post = this.post();
    const me = this.session.me();
    if (!post || !me || this.conflict()) return;
    Object.assign(this.typed, change);
    this.saving.set(this.saving() === 'unreachable' ? 'unreachable' : 'typing');
    const kept = keepDraft(me.id, {
      ...this.typed,
      postId: post.id,
      baseVersion: post.version,
      at: new Date().toISOString(),
    });
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.flush(), kept ? QUIET_MS : 0);
  }

  /** Sends what was typed, one request at a time, and comes back for what was typed meanwhile. */
  flush(leaving = false): Promise<void> {
    this.screen?.();
    // A page that goes away cannot wait for its turn.
    const sent = () => (leaving ? this.send(true) : this.edits.run(() => this.send(false)));
    return (this.sending ??= sent().finally(() => {
      this.sending = null;
      if (this.hasTyped() && this.saving() === 'typing')
        this.timer = setTimeout(() => void this.flush(), QUIET_MS);
    }));
  }

  /**
   * Changes fields, those of the post that is open now, when earlier changes are through. What depends on how the
   * post stands by then is given as a function. When somebody changed other fields in the meantime, theirs are
   * taken and the change goes on top of them.
   */
  async change(changes: PostChanges | ((post: PostView) => PostChanges)): Promise<string> {
    const { id } = this.post()!;
    await this.flush();
    return this.edits.run(() => this.changeNow(id, changes));
  }

  private async changeNow(
    id: number,
    changes: PostChanges | ((post: PostView) => PostChanges),
  ): Promise<string> {
    const before = this.held(id);
    const body = typeof changes === 'function' ? changes(before) : changes;
    const send = (ifMatch: number) => this.api.call('posts.change', { id, ifMatch, body });
    const done = await send(before.version).catch(async (error: unknown) => {
      const changed =
        error instanceof ApiError && error.code === 'version-conflict' ? error.problem?.changed : undefined;
      if (!changed) throw error;
      const now = await this.api.call('posts.see', { id });
      this.keep(now);
      if (touches(body, changed)) throw error;
      return send(now.version);
    });
    // The text did not change with it, and was current: the server asked for the version it belongs to.
    this.keep({ ...done.post, body: this.held(id).body });
    return done.sentence;
  }

  private held(id: number): PostView {
    const open = this.post();
    return open?.id === id ? open : this.left.get(id)!;
  }

  private keep(post: PostView): void {
    if (this.post()?.id === post.id) this.post.set(post);
    else this.left.set(post.id, post);
  }

  async move(body: NewMove): Promise<string> {
    await this.flush();
    if (this.saving() !== 'saved')
      throw new ApiError(null, 'What you typed is not stored yet. Wait until it is, then try again.');
    const { id } = this.post()!;
    const done = await this.edits.run(() =>
      this.api.call('posts.move', { id, ifMatch: this.held(id).version, body }),
    );
    if (this.post()?.id === id) this.post.update((p) => p && { ...p, ...done.post });
    await this.notes.refresh();
    return done.sentence;
  }

  async keepPicture(file: File): Promise<number> {
    return (await this.api.call('media.add', { file })).id;
  }

  /** Settles a conflict. Both texts end up among the post's versions, whichever stands. */
  async resolve(keep: 'mine' | 'theirs'): Promise<void> {
    const conflict = this.conflict();
    if (!conflict) return;
    this.conflict.set(null);
    this.post.set(conflict.theirs);
    const store = async (typed: Typed) => {
      this.typed = typed;
      this.saving.set('typing');
      await this.flush();
    };
    await store(sameParts(conflict.mine, conflict.mine));
    if (keep === 'theirs') await store(sameParts(conflict.mine, conflict.theirs));
    const post = await this.api.call('posts.see', { id: conflict.theirs.id });
    this.post.set(post);
    this.redraw.update((n) => n + 1);
  }

  private hasTyped(): boolean {
    return Object.keys(this.typed).length > 0;
  }

  private async send(leaving: boolean): Promise<void> {
    clearTimeout(this.timer);
    const post = this.post();
    const me = this.session.me();
    if (!post || !me || !this.hasTyped() || this.conflict()) return;
    const going = this.typed;
    this.typed = {};
    this.saving.set('saving');
    try {
      if (going.body) {
        const { version, words, stage } = await this.api.call('body.store', {
          id: post.id,
          ifMatch: this.post()!.version,
          body: { body: going.body },
          leaving,
        });
        this.post.update((p) => p && { ...p, version, words, body: going.body! });
        // A stage that changed with the text brings other moves and rights along.
        if (stage !== post.stage)
          this.post.set({ ...(await this.api.call('posts.see', { id: post.id })), body: going.body });
        delete going.body;
      }
      const { title, excerpt } = going;
      const fields: PostChanges = {
        ...(title?.trim() ? { title } : {}),
        ...(excerpt === undefined ? {} : { excerpt }),
      };
      if (Object.keys(fields).length > 0) {
        const ifMatch = this.post()!.version;
        const done = await this.api.call('posts.change', { id: post.id, ifMatch, body: fields, leaving });
        this.post.update((p) => p && { ...p, ...done.post });
      }
      if (title?.trim() === '')
        this.error.set('A post needs a title. The last one stands until you type another.');
      else if (this.error()) this.error.set('');
      if (this.hasTyped()) this.saving.set('typing');
      else {
        dropDraft(me.id, post.id);
        this.saving.set('saved');
        void this.catchUp();
      }
    } catch (error) {
      this.typed = { ...going, ...this.typed };
      await this.unsent(error, post.id);
    }
  }

  private async unsent(error: unknown, postId: number): Promise<void> {
    const problem = error instanceof ApiError ? error.problem : null;
    if (problem?.code === 'version-conflict') {
      const theirs = await this.api.call('posts.see', { id: postId }).catch(() => null);
      const mine = Object.keys(this.typed);
      if (theirs && stands(this.typed, theirs)) {
        // It had arrived before, with the page that was closed or with an answer that was lost.
        this.typed = {};
        dropDraft(this.session.me()!.id, postId);
        this.post.set(theirs);
        this.saving.set('saved');
        return;
      }
      if (theirs && !(problem.changed ?? []).some((field) => mine.includes(field))) {
        // Somebody changed another part: theirs is taken, mine goes on top of it.
        this.post.set(theirs);
        this.saving.set('typing');
        this.timer = setTimeout(() => void this.flush());
        return;
      }
      if (theirs) {
        this.conflict.set({
          mine: { ...this.typed, postId, baseVersion: this.post()!.version, at: new Date().toISOString() },
          theirs,
          by: problem.changedBy ?? 'Somebody',
        });
        this.typed = {};
        this.saving.set('conflict');
        return;
      }
    }
    if (!problem || problem.status >= 500 || problem.code === 'signed-out') {
      this.saving.set('unreachable');
      this.timer = setTimeout(() => void this.flush(), RETRY_MS);
    } else {
      this.saving.set('refused');
      this.error.set(`${sentenceOf(error)} What you typed is kept on this device.`);
    }
  }

  /** Takes what others changed, unless something is being typed here; then the next store brings it along. */
  private async catchUp(): Promise<void> {
    this.screen?.();
    const before = this.post();
    if (!before || this.hasTyped() || this.sending || this.conflict()) return;
    const now = await this.api.call('posts.see', { id: before.id }).catch(() => null);
    if (
      !now ||
      this.hasTyped() ||
      this.sending ||
      this.post()?.id !== now.id ||
      now.version <= this.post()!.version
    )
      return;
    const textChanged = !equal(now.body, this.post()!.body);
    this.post.set(now);
    if (textChanged) this.redraw.update((n) => n + 1);
  }

  private announceOpen(): void {
    const post = this.post();
    if (post && document.visibilityState === 'visible')
      void this.api.call('posts.open', { id: post.id, body: {} }).catch(() => undefined);
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
    if (word) this.told.set(word);
  }

  /** A draft on this device that the server never got is taken up again, as if just typed. */
  private takeUpDraft(post: PostView): void {
    const me = this.session.me();
    const draft = me && findDraft(me.id, post.id);
    if (!me || !draft) return;
    const mine = sameParts(draft, draft);
    if (stands(mine, post)) dropDraft(me.id, post.id);
    else if (post.rights.write) this.takeUp(post, mine, draft.baseVersion);
  }

  /** Stored upon the version that it was typed upon: the server says what changed since, and who did it. */
  private takeUp(post: PostView, mine: Typed, version: number): void {
    this.post.set({ ...post, ...mine, version });
    this.redraw.update((n) => n + 1);
    this.type(mine);
  }
}
