import { createDecoder, readVarUint, readVarUint8Array } from 'lib0/decoding';
import { writeVarString, writeVarUint } from 'lib0/encoding';
import { messageYjsSyncStep1, messageYjsUpdate } from 'y-protocols/sync';
import { mergeUpdates } from 'yjs';
import { TEXT_CLOSED, TEXT_MESSAGES } from '@keyroster/contract';
import { isSharedUpdate } from '@keyroster/core/texts';
import type { Db } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { emit, type Notifier } from '../live/live.js';
import { log } from '../log.js';
import { leavePost, openPost } from '../posts/open-posts.js';
import { message, PROCESS, SharedText } from './shared-text.js';
import { storeText } from './store-text.js';
import { maySee, rightOf } from './text-right.js';
import { bindClient, boundTo, clientsIn, writerBefore } from './clients.js';
import { TextStoring } from './text-storing.js';
import type { TextLink } from './text-link.js';
import {
  addUpdate,
  requestAwareness,
  beginText,
  fillText,
  readText,
  publishAwareness,
  TEXT_CHANNEL,
  unstoredTexts,
} from './updates.js';

/** Words that a process left behind when it died are looked for so often. */
const SWEEP_MS = 60_000;

/** How often loading a text is retried when its post changes at that very time. */
const BEGIN_TRIES = 20;

const REFUSED = 'Changing the text of this post is not yours to do.';
const ONLY_SUGGESTS =
  'You correct this post by suggestion: what you typed changed its words, or what somebody else suggests.';
const NOT_YOUR_CLIENT =
  'What was typed here came through a window of somebody else. Reload the page and type it again.';
const FULL =
  'This text has grown larger than one post can hold, counting all that was ever typed into it. What you typed last was ' +
  'not taken in.';

interface Open {
  text: SharedText;
  /** Updates that came and are not kept yet. */
  waiting: { link: TextLink; content: Uint8Array }[];
  keeping: Promise<void> | null;
  storing: TextStoring;
}

/**
 * The texts that are open in this process. An update is kept in the database, in order, before it is answered or
 * shown to anybody; processes tell each other of what is kept. The post's row takes a text in at every pause.
 */
export class SharedTexts {
  private readonly open = new Map<number, Promise<Open>>();
  private sweep: NodeJS.Timeout | undefined;
  private stopped = false;

  constructor(
    private readonly db: Db,
    live: Notifier,
  ) {
    live.onChannel(TEXT_CHANNEL, (payload) => void this.hear(payload).catch(this.say));
    live.onChannel('key_roster_ended', (sessionId) => void this.closeWhere((l) => l.sessionId === sessionId));
    live.onEvent((event) => {
      if (event === 'gap' || event.kind === 'people') void this.lookAgain();
      else if (event.kind === 'post' && event.postId) void this.lookAgain(event.postId);
      else if (event.kind === 'batch') void this.lookAgain();
    });
  }

  start(): void {
    const look = () => void this.storeLeft().catch(this.say);
    look();
    this.sweep = setInterval(look, SWEEP_MS);
    this.sweep.unref();
  }

  async stop(): Promise<void> {
    this.stopped = true;
    clearInterval(this.sweep);
    for (const opening of this.open.values()) {
      const open = await opening.catch(() => null);
      if (!open) continue;
      await open.keeping;
      for (const link of open.text.everybody as TextLink[]) link.close(TEXT_CLOSED.restarts);
      await open.storing.finish();
      open.text.close();
    }
    this.open.clear();
  }

  /** Lets somebody into a text; the caller has checked that they may see it. */
  async join(link: TextLink): Promise<void> {
    let opening = this.opened(link.postId);
    let open = await opening;
    // The last reader may have left while it was waited for, and the text been closed.
    while (this.open.get(link.postId) !== opening) open = await (opening = this.opened(link.postId));
    open.text.join(link);
    await openPost(this.db, link.postId, link.personId);
    await this.notifyPresence(link);
  }

  async leave(link: TextLink): Promise<void> {
    const open = await this.open.get(link.postId)?.catch(() => null);
    if (!open) return;
    open.text.leave(link);
    if (!open.text.everybody.some((other) => other.personId === link.personId) && !this.stopped) {
      await leavePost(this.db, link.postId, link.personId);
      await this.notifyPresence(link);
    }
    if (!open.text.isEmpty) return;
    await open.keeping;
    await open.storing.finish();
    if (open.text.isEmpty && this.open.get(link.postId) && !this.stopped) {
      this.open.delete(link.postId);
      open.storing.stop();
      open.text.close();
    }
  }

  /** Has the post take in what was typed until now, by whomever and through whichever process. */
  async settle(postId: number): Promise<void> {
    const open = await this.open.get(postId)?.catch(() => null);
    await open?.keeping;
    if (open) await open.storing.now();
    else await storeText(this.db, postId);
  }

  /** What a client says. Anything may come; what is not understood ends the connection. */
  async receive(link: TextLink, data: Uint8Array): Promise<void> {
    const open = await this.open.get(link.postId);
    if (!open) return;
    const from = createDecoder(data);
    const kind = readVarUint(from);
    if (kind === TEXT_MESSAGES.awareness) return open.text.receiveStates(link, readVarUint8Array(from));
    if (kind === TEXT_MESSAGES.store) {
      await open.keeping;
      return open.storing.now();
    }
    if (kind !== TEXT_MESSAGES.sync) throw new RangeError('An unknown message.');
    const step = readVarUint(from);
    const content = readVarUint8Array(from);
    if (step === messageYjsSyncStep1) return open.text.answerStep1(link, content);
    if (step !== messageYjsUpdate || !isSharedUpdate(content)) throw new RangeError('Not an update.');
    open.waiting.push({ link, content });
    open.keeping ??= this.keep(open).finally(() => (open.keeping = null));
  }

  /** Somebody came or went: lists say who is in a text. */
  private async notifyPresence({ blogId, postId, personId }: TextLink): Promise<void> {
    await inTransaction(this.db, (trx) => emit(trx, { blogId, kind: 'text', postId, personId }));
  }

  private opened(postId: number): Promise<Open> {
    const known = this.open.get(postId);
    if (known) return known;
    const opening = this.load(postId);
    this.open.set(postId, opening);
    opening.catch(() => this.open.delete(postId));
    return opening;
  }

  private async load(postId: number): Promise<Open> {
    for (let tries = 0; tries < BEGIN_TRIES; tries++) {
      const kept = await readText(this.db, postId);
      if (kept) {
        const tell = (states: Uint8Array) =>
          void publishAwareness(this.db, postId, PROCESS, states).catch(this.say);
        const text = new SharedText(postId, kept, tell);
        if (text.lacksTexts) {
          await fillText(this.db, postId);
          text.merge((await readText(this.db, postId, text.lastId))!);
        }
        await requestAwareness(this.db, postId, PROCESS);
        return { text, waiting: [], keeping: null, storing: new TextStoring(this.db, text, this.say) };
      }
      const row = await this.db('all_posts').where({ id: postId }).first('body', 'suggested');
      if (!row) throw new Error(`Post ${postId} is gone.`);
      await beginText(this.db, postId, row.suggested ?? row.body);
    }
    throw new Error(`The text of post ${postId} changes too often to be opened.`);
  }

  /** Keeps what waits, as long as something does: of each person at once, who must be allowed to write by now. */
  private async keep(open: Open): Promise<void> {
    while (open.waiting.length > 0) {
      const batch = open.waiting.splice(0);
      const byLink = new Map<TextLink, Uint8Array[]>();
      for (const { link, content } of batch) byLink.set(link, [...(byLink.get(link) ?? []), content]);
      for (const [link, contents] of byLink)
        try {
          const right = await rightOf(this.db, link);
          if (right === null) this.refuse(link, REFUSED);
          else await this.storeFrom(open, link, contents, right);
        } catch (error) {
          // Neither kept nor answered: the client sends it again to the next process.
          this.say(error);
          link.close(TEXT_CLOSED.restarts);
        }
    }
  }

  private async storeFrom(
    open: Open,
    link: TextLink,
    contents: Uint8Array[],
    right: 'write' | 'suggest',
  ): Promise<void> {
    const content = contents.length === 1 ? contents[0]! : mergeUpdates(contents);
    for (const client of clientsIn(content))
      if (!(await this.mayWriteAs(open.text, client, link))) return this.refuse(link, NOT_YOUR_CLIENT);
    if (right === 'suggest' && !(await open.text.suggestsOnly(content, link.personId)))
      return this.refuse(link, ONLY_SUGGESTS);
    if (!open.text.hasRoomFor(content)) return this.refuse(link, FULL);
    const id = await addUpdate(this.db, link.postId, link.personId, content);
    if (id === null) return this.refuse(link, 'This post is no longer here.');
    open.text.letIn(content, id, link);
    link.send(
      message(TEXT_MESSAGES.kept, (to) => {
        writeVarUint(to, contents.length);
        writeVarUint(to, id);
      }),
    );
    open.storing.later();
  }

  /** Is this client theirs? One that is seen, or that wrote already, is whose it was then. */
  private async mayWriteAs(
    text: SharedText,
    client: number,
    { postId, personId }: TextLink,
  ): Promise<boolean> {
    let owner = text.owners.get(client);
    if (owner === undefined) {
      const seen = text.seenAs(client);
      if (seen !== null && seen !== personId) return false;
      if (text.holds(client)) {
        const bound = await boundTo(this.db, postId, client);
        owner = bound ?? (await writerBefore(this.db, postId, client)) ?? undefined;
        if (owner !== personId) return false;
      }
      owner = await bindClient(this.db, postId, client, personId);
      text.owners.set(client, owner);
    }
    return owner === personId;
  }

  private refuse(link: TextLink, sentence: string): void {
    link.send(message(TEXT_MESSAGES.refused, (to) => writeVarString(to, sentence)));
  }

  private async storeLeft(): Promise<void> {
    for (const postId of await unstoredTexts(this.db))
      if (!this.open.has(postId)) await storeText(this.db, postId);
  }

  /** What another process tells of a text, or this one of itself. */
  private async hear(payload: string): Promise<void> {
    if (payload === 'gap') {
      for (const opening of this.open.values()) await this.catchUp(await opening);
      return;
    }
    const received = JSON.parse(payload) as {
      post: number;
      update?: number;
      from?: string;
      states?: string;
      asks?: boolean;
    };
    const open = await this.open.get(received.post)?.catch(() => null);
    if (!open || received.from === PROCESS) return;
    if (received.update !== undefined) {
      if (!open.text.isOwn(received.update) && received.update > open.text.lastId) await this.catchUp(open);
      return;
    }
    if (received.states) open.text.mergeStates(new Uint8Array(Buffer.from(received.states, 'base64')));
    const own = received.asks ? open.text.ownStates() : null;
    if (own) await publishAwareness(this.db, received.post, PROCESS, own);
  }

  private async catchUp({ text }: Open): Promise<void> {
    const kept = await readText(this.db, text.postId, text.lastId);
    if (kept) text.merge(kept);
  }

  /** A post, or somebody's role, has changed: who may not see a text any more is shown out. */
  private async lookAgain(postId?: number): Promise<void> {
    await this.closeWhere(async (link) => {
      if (postId !== undefined && link.postId !== postId) return false;
      return !(await maySee(this.db, link));
    });
  }

  private async closeWhere(ends: (link: TextLink) => boolean | Promise<boolean>): Promise<void> {
    for (const opening of this.open.values()) {
      const open = await opening.catch(() => null);
      for (const link of (open?.text.everybody ?? []) as TextLink[])
        if (await Promise.resolve(ends(link)).catch(() => false)) link.close(TEXT_CLOSED.notYours);
    }
  }

  private readonly say = (error: unknown): void => {
    if (!this.stopped) log.warn({ err: error }, 'shared text');
  };
}
