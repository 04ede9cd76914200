import { parse as parseCookie } from 'cookie';
import { LRUCache } from 'lru-cache';
import { anybody, dueAt, isDelayed, type Instant, type ReaderRights, type SerialPart } from '@keyroster/core';
import type { Db } from '../db/connect.js';
import { Rereader } from '../db/rereader.js';
import { log } from '../log.js';
import { Signer, digestOf } from '../http/secrets.js';

/** A reader as their browser shows them: nothing of who they are, only what decides what they may read. */
export interface ReaderIdentity {
  /** Null: as anybody, so that pages made for all are right for them. */
  rights: ReaderRights | null;
  /** The same for readers with the same rights, so that they share pages; empty: pages made for all. */
  key: string;
  firstVisit: Instant | null;
  memberId: number | null;
}

const ANYBODY: ReaderIdentity = { rights: null, key: '', firstVisit: null, memberId: null };

/** A reader, and whether they bring no first visit where one counts. */
export interface Found {
  reader: ReaderIdentity;
  isNew: boolean;
}
const NEW: Found = { reader: ANYBODY, isNew: true };
const KNOWN: Found = { reader: ANYBODY, isNew: false };
/** Longer cookies are looked at each time. */
const MAX_AT_HAND = 600;

export const visitCookie = (blogId: number) => `kr_visit_${blogId}`;
export const memberCookie = (blogId: number) => `kr_member_${blogId}`;
export const openedCookie = (blogId: number) => `kr_opened_${blogId}`;
/** By which who said something under a post is known the next time. */
export const commenterCookie = (blogId: number) => `kr_commenter_${blogId}`;
/** What a browser sends that may hold any of these. */
const ANY_COOKIE = /\bkr_(?:visit|member|opened)_/;

export const MINUTE_MS = 60_000;
const minuteOf = (ms: number) => Math.floor(ms / MINUTE_MS);
const instantOfMinute = (minute: number): Instant => new Date(minute * MINUTE_MS).toISOString();

const openedText = (postId: number, password: string) => `opened:${postId}:${password}`;

interface BlogParts {
  zone: string;
  parts: SerialPart[];
}
const NO_PARTS: BlogParts = { zone: 'UTC', parts: [] };

/** Passwords that a reader's cookie may hold at once. */
export const MAX_OPENED = 20;

/**
 * Knows readers by what their browsers bring: the minute of a first visit, signed; a session of a member; posts whose
 * password was given. Which posts are parts that come later is cached, and read again when it changes.
 */
export class Identities {
  private known = new Map<number, BlogParts>();
  private readonly reading = new Rereader(() =>
    this.load().catch((error: unknown) => log.warn({ err: error }, 'parts of serials')),
  );
  private readonly signer: Signer;
  /** Due times by blog and minute of the first visit; many readers came in the same minutes. */
  private readonly due = new LRUCache<string, { postId: number; at: number }[]>({ max: 5000 });
  private readonly minutes = new LRUCache<string, { minute: number | null }>({ max: 20_000 });
  /** What was found of a browser's cookies, until the next part is due for it. */
  private readonly atHand = new LRUCache<string, { found: Found; until: number }>({ max: 20_000 });
  private made = { minute: -1, values: new Map<number, string>() };

  constructor(
    private readonly db: Db,
    secret: string,
  ) {
    this.signer = new Signer(secret);
  }

  refresh(): Promise<void> {
    return this.reading.again();
  }

  private async load(): Promise<void> {
    const rows = await this.db('serial_parts as p')
      .join('serials as s', 's.id', 'p.serial_id')
      .join('blogs as b', 'b.id', 's.blog_id')
      .where('p.delayed', true)
      .select<
        { blogId: number; zone: string; postId: number; days: number; hours: number; minutes: number }[]
      >('b.id as blogId', 'b.zone', 'p.post_id as postId', 'p.days', 'p.hours', 'p.minutes');
    const known = new Map<number, BlogParts>();
    for (const { blogId, zone, postId, ...delay } of rows) {
      const blog = known.get(blogId) ?? { zone, parts: [] };
      blog.parts.push({ postId, delay });
      known.set(blogId, blog);
    }
    this.known = known;
    this.due.clear();
    this.atHand.clear();
  }

  /** Does a reader's first visit to this blog count for what they get? */
  countsVisits(blogId: number): boolean {
    return this.known.has(blogId);
  }

  /** What a browser keeps that comes first at this moment. */
  newVisit(blogId: number, now: number): string {
    const minute = minuteOf(now);
    if (this.made.minute !== minute) this.made = { minute, values: new Map() };
    const made =
      this.made.values.get(blogId) ??
      `${minute.toString(36)}.${this.signer.sign(`visit:${blogId}:${minute}`)}`;
    this.made.values.set(blogId, made);
    return made;
  }

  /** The minute of a first visit; null for what nobody signed, or what is yet to come. */
  private minuteIn(blogId: number, value: string, now: number): number | null {
    const key = `${blogId} ${value}`;
    const kept = this.minutes.get(key);
    if (kept) return kept.minute !== null && kept.minute > minuteOf(now) ? null : kept.minute;
    const [, text, mac] = /^([0-9a-z]{1,8})\.([\w-]{22})$/.exec(value) ?? [];
    const minute = text === undefined ? NaN : parseInt(text, 36);
    const signed = mac !== undefined && this.signer.isSigned(`visit:${blogId}:${minute}`, mac);
    this.minutes.set(key, { minute: signed ? minute : null });
    return signed && minute <= minuteOf(now) ? minute : null;
  }

  /** The parts that are not due for who came first in a minute. */
  private withheld(blogId: number, minute: number, now: number): number[] {
    const key = `${blogId} ${minute}`;
    const { zone, parts } = this.known.get(blogId) ?? NO_PARTS;
    let due = this.due.get(key);
    if (!due) {
      const first = instantOfMinute(minute);
      due = parts
        .map(({ postId, delay }) => ({ postId, at: Date.parse(dueAt(first, delay, zone)) }))
        .sort((a, b) => a.at - b.at || a.postId - b.postId);
      this.due.set(key, due);
    }
    return due.filter((p) => p.at > now).map((p) => p.postId);
  }

  /** A reader by what needs no database; null where it does. `isNew`: they bring no first visit that counts. */
  atOnce(cookies: string | undefined, blogId: number, now: number): Found | null {
    const counts = this.countsVisits(blogId);
    if (cookies === undefined) return counts ? NEW : KNOWN;
    const key = `${blogId} ${cookies}`;
    const kept = this.atHand.get(key);
    if (kept && now < kept.until) return kept.found;
    if (!ANY_COOKIE.test(cookies)) return counts ? NEW : KNOWN;
    const jar = parseCookie(cookies);
    if (jar[memberCookie(blogId)] !== undefined || jar[openedCookie(blogId)] !== undefined) return null;
    const value = counts ? jar[visitCookie(blogId)] : undefined;
    const minute = value === undefined ? null : this.minuteIn(blogId, value, now);
    if (minute === null) return counts ? NEW : KNOWN;
    const reader = this.identity(blogId, now, { minute, memberId: null, opened: [] });
    const found = { reader, isNew: false };
    if (cookies.length < MAX_AT_HAND)
      this.atHand.set(key, { found, until: this.nextDue(blogId, minute, now) });
    return found;
  }

  /** When a part is due next for who came first in a minute. */
  private nextDue(blogId: number, minute: number, now: number): number {
    const due = this.due.get(`${blogId} ${minute}`) ?? [];
    return Math.min(Infinity, ...due.filter((p) => p.at > now).map((p) => p.at));
  }

  private identity(
    blogId: number,
    now: number,
    { minute, memberId, opened }: { minute: number | null; memberId: number | null; opened: number[] },
  ): ReaderIdentity {
    const all = (this.known.get(blogId) ?? NO_PARTS).parts.filter((p) => isDelayed(p.delay));
    const withheld = minute === null ? all.map((p) => p.postId) : this.withheld(blogId, minute, now);
    const firstVisit = minute === null ? null : instantOfMinute(minute);
    if (memberId === null && opened.length === 0 && withheld.length === all.length)
      return { ...ANYBODY, firstVisit };
    return {
      rights: { ...anybody(withheld), member: memberId !== null, opened },
      key: `${memberId === null ? '' : 'm'}o${opened.join('.')}w${withheld.join('.')}`,
      firstVisit,
      memberId,
    };
  }

  /** A reader by all that they bring. */
  async of(cookies: string | undefined, blogId: number, now = Date.now()): Promise<Found> {
    const known = this.atOnce(cookies, blogId, now);
    if (known) return known;
    const jar = parseCookie(cookies!);
    const visit = jar[visitCookie(blogId)];
    const own = visit === undefined ? null : this.minuteIn(blogId, visit, now);
    const member = await memberOf(this.db, blogId, jar[memberCookie(blogId)]);
    const kept = member ? minuteOf(Date.parse(member.firstVisit)) : null;
    const opened = await this.openedIn(blogId, jar[openedCookie(blogId)]);
    const minutes = [own, kept].filter((m) => m !== null);
    const minute = minutes.length === 0 ? null : Math.min(...minutes);
    return {
      reader: this.identity(blogId, now, { minute, memberId: member?.id ?? null, opened }),
      isNew: minute === null && this.countsVisits(blogId),
    };
  }

  /** What a browser keeps once a password was given; another password makes it worth nothing. */
  withOpened(cookies: string | undefined, blogId: number, postId: number, password: string): string {
    const before = (parseCookie(cookies ?? '')[openedCookie(blogId)] ?? '').split('~');
    const others = before.filter(
      (mark) => /^\d{1,9}\.[\w-]{22}$/.test(mark) && !mark.startsWith(`${postId}.`),
    );
    return [
      ...others.slice(1 - MAX_OPENED),
      `${postId}.${this.signer.sign(openedText(postId, password))}`,
    ].join('~');
  }

  private async openedIn(blogId: number, value: string | undefined): Promise<number[]> {
    const marks = (value ?? '').split('~').slice(0, MAX_OPENED);
    const asked = marks.flatMap((mark) => {
      const found = /^(\d{1,9})\.([\w-]{22})$/.exec(mark);
      return found ? [{ id: Number(found[1]), mac: found[2]! }] : [];
    });
    if (asked.length === 0) return [];
    const rows = await this.db('posts')
      .where({ blog_id: blogId, access: 'password' })
      .whereNot('reading_password', '')
      .whereIn(
        'id',
        asked.map((a) => a.id),
      )
      .orderBy('id')
      .select<{ id: number; password: string }[]>('id', 'reading_password as password');
    return rows
      .filter(({ id, password }) =>
        asked.some((a) => a.id === id && this.signer.isSigned(openedText(id, password), a.mac)),
      )
      .map((row) => row.id);
  }
}

/** The member whose session a secret is of. */
async function memberOf(
  db: Db,
  blogId: number,
  secret: string | undefined,
): Promise<{ id: number; firstVisit: string } | null> {
  if (secret === undefined) return null;
  const row = await db('member_sessions as s')
    .join('members as m', 'm.id', 's.member_id')
    .where({ 's.digest': digestOf(secret), 'm.blog_id': blogId, 'm.blocked': false })
    .whereRaw('s.expires_at > now()')
    .first<{ id: number; firstVisit: string } | undefined>('m.id', 'm.first_visit as firstVisit');
  return row ?? null;
}
