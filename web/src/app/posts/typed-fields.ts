import { signal } from '@angular/core';
import type { PostChanges, PostView } from '@keyroster/contract';
import { ApiError, sentenceOf, type Api } from '../api/api';
import type { Queue } from '../api/queue';
import { dropDraft, findDraft, storeDraft } from './draft-keeper';
import { sameParts, stands, type Typed, type TypedField } from './typed-words';

export type Saving = 'saved' | 'typing' | 'saving' | 'unreachable' | 'refused';

const QUIET_MS = 700;
const RETRY_MS = 3000;

/** Mine and theirs, when both changed the same line of a post. */
export interface Meanwhile {
  field: TypedField;
  mine: string;
  theirs: string;
  by: string;
}

/** The post that lines are typed in. */
export interface TypedInto {
  post(): PostView | null;
  /** Takes what the server answered. */
  keep(post: PostView): void;
  personId(): number | undefined;
}

/**
 * The lines around a text, title and excerpt: kept on this device as they are typed, and on the server after a short
 * quiet, field by field. What others change elsewhere is included; the same line changed by both is asked about.
 */
export class TypedFields {
  private timer: ReturnType<typeof setTimeout> | undefined;
  private sending: Promise<void> | null = null;
  private typed: Typed = {};
  readonly saving = signal<Saving>('saved');
  readonly error = signal('');
  readonly meanwhile = signal<Meanwhile | null>(null);

  constructor(
    private readonly api: Api,
    private readonly edits: Queue,
    private readonly into: TypedInto,
    private readonly onSaved: () => void,
  ) {}

  has(): boolean {
    return Object.keys(this.typed).length > 0;
  }
  isTyped = (field: TypedField): boolean => this.typed[field] !== undefined;
  get isSending(): boolean {
    return this.sending !== null;
  }

  /** Something was typed: kept on this device at once, and on the server after a short quiet. */
  type(change: Typed): void {
    const [post, me] = [this.into.post(), this.into.personId()];
    if (!post || me === undefined || Object.keys(change).length === 0) return;
    Object.assign(this.typed, change);
    this.saving.set(this.saving() === 'unreachable' ? 'unreachable' : 'typing');
    const kept = storeDraft(me, {
      ...this.typed,
      postId: post.id,
      baseVersion: post.version,
      at: new Date().toISOString(),
    });
    this.later(kept ? QUIET_MS : 0);
  }

  /** Sends what was typed, one request at a time, and comes back for what was typed meanwhile. */
  flush(leaving = false): Promise<void> {
    // A page that goes away cannot wait for its turn.
    const sent = () => (leaving ? this.send(true) : this.edits.run(() => this.send(false)));
    return (this.sending ??= sent().finally(() => {
      this.sending = null;
      if (this.has() && this.saving() === 'typing') this.later(QUIET_MS);
    }));
  }

  stop(): void {
    clearTimeout(this.timer);
    if (this.has()) void this.flush();
  }

  /** Which of two lines stands; both people see it. */
  async settle(keep: 'mine' | 'theirs'): Promise<void> {
    const at = this.meanwhile();
    if (!at) return;
    this.meanwhile.set(null);
    if (keep === 'theirs') {
      delete this.typed[at.field];
      const me = this.into.personId();
      if (!this.has()) {
        this.saving.set('saved');
        if (me !== undefined) dropDraft(me, this.into.post()!.id);
      }
      const post = this.into.post();
      if (post) this.into.keep({ ...post, [at.field]: at.theirs });
    } else this.typed[at.field] ??= at.mine;
    await this.flush();
  }

  /** What this device kept and the server never got is taken up again, as if just typed. */
  resume(post: PostView): void {
    const me = this.into.personId();
    const draft = me === undefined ? null : findDraft(me, post.id);
    if (me === undefined || !draft) return;
    const mine = sameParts(draft, draft);
    if (stands(mine, post)) return dropDraft(me, post.id);
    if (!post.rights.write) return;
    // Upon the version that it was typed upon: the server says what changed since, and who did it.
    this.into.keep({ ...post, ...mine, version: draft.baseVersion });
    this.type(mine);
  }

  private later(ms: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.flush(), ms);
  }

  private async send(leaving: boolean): Promise<void> {
    clearTimeout(this.timer);
    const [post, me] = [this.into.post(), this.into.personId()];
    if (!post || me === undefined || !this.has() || this.meanwhile()) return;
    const going = this.typed;
    this.typed = {};
    this.saving.set('saving');
    try {
      const { title, excerpt } = going;
      const body: PostChanges = {
        ...(title?.trim() ? { title } : {}),
        ...(excerpt === undefined ? {} : { excerpt }),
      };
      if (Object.keys(body).length > 0) {
        const ifMatch = post.version;
        const done = await this.api.call('posts.change', { id: post.id, ifMatch, body, leaving });
        const now = this.into.post();
        // What is being typed already is further than what the server answers.
        if (now?.id === post.id) this.into.keep({ ...now, ...done.post, ...this.typed });
      }
      if (title?.trim() === '')
        this.error.set('A post needs a title. The last one stands until you type another.');
      else this.error.set('');
      if (this.has()) return this.saving.set('typing');
      dropDraft(me, post.id);
      this.saving.set('saved');
      this.onSaved();
    } catch (error) {
      this.typed = { ...going, ...this.typed };
      await this.unsent(error, post.id);
    }
  }

  private async unsent(error: unknown, postId: number): Promise<void> {
    const problem = error instanceof ApiError ? error.problem : null;
    if (problem?.code === 'version-conflict') {
      const theirs = await this.api.call('posts.see', { id: postId }).catch(() => null);
      if (theirs) return this.join(theirs, problem.changed ?? [], problem.changedBy ?? 'Somebody');
    }
    if (!problem || problem.status >= 500 || problem.code === 'signed-out') {
      this.saving.set('unreachable');
      this.later(RETRY_MS);
    } else {
      this.saving.set('refused');
      this.error.set(`${sentenceOf(error)} What you typed is kept on this device.`);
    }
  }

  /** Brings what is typed here together with what somebody stored meanwhile. */
  private join(theirs: PostView, changed: readonly string[], by: string): void {
    const me = this.into.personId()!;
    if (stands(this.typed, theirs)) {
      // It had arrived before, with the page that was closed or with an answer that was lost.
      this.typed = {};
      dropDraft(me, theirs.id);
      this.into.keep(theirs);
      this.saving.set('saved');
      return;
    }
    const field = (Object.keys(this.typed) as TypedField[]).find((f) => changed.includes(f));
    // What is typed stays on the screen, whatever becomes of it.
    this.into.keep({ ...theirs, ...this.typed });
    if (field) {
      this.saving.set('refused');
      this.meanwhile.set({ field, mine: this.typed[field]!, theirs: theirs[field], by });
    } else {
      this.saving.set('typing');
      this.later(0);
    }
  }
}
