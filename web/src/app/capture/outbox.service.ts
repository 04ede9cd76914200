import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import type { Captured, NewCapture } from '@keyroster/contract';
import { AUTHOR, SessionService } from '../accounts/session.service';
import { Api, ApiError } from '../api/api';
import { Live } from '../api/live';

/** Something written down that has not arrived yet. */
export interface Waiting extends NewCapture {
  personId: number;
  blogId: number;
  at: string;
  /** Why the newsroom did not take it; null: it was not asked yet, or could not be reached. */
  refused: string | null;
}

/** Who wrote here last, so that more can be written down while nobody can be asked. */
export interface Author {
  personId: number;
  blogId: number;
  name: string;
  categories: { id: number; name: string }[];
}

const OUTBOX = 'captures';

/** Says nothing of what was written: it is sent again. */
const LATER: readonly ApiError['code'][] = ['unreachable', 'signed-out', 'busy', 'unavailable', 'internal'];

function read<T>(key: string, otherwise: T): T {
  try {
    return (JSON.parse(localStorage.getItem(key) ?? 'null') as T | null) ?? otherwise;
  } catch {
    return otherwise;
  }
}

/**
 * Keeps on the device what is written down, and brings it to the newsroom as soon as that can be reached: each thing
 * once, by the key that it was given here. Nothing leaves the device before the newsroom says that it is there.
 */
@Injectable({ providedIn: 'root' })
export class Outbox {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  readonly waiting = signal<readonly Waiting[]>(read<Waiting[]>(OUTBOX, []));
  /** What arrived since this page was opened, the newest first. */
  readonly arrived = signal<readonly Captured[]>([]);
  /** Those of the person signed in; nothing of others on the same device is shown. */
  readonly own = computed(() => this.waiting().filter((w) => w.personId === this.author()?.personId));
  private readonly remembered = signal(read<Author | null>(AUTHOR, null));
  readonly author = computed((): Author | null => {
    const [me, blog] = [this.session.me(), this.session.blog()];
    if (!me || !blog) return this.remembered();
    const mine = blog.categories.filter((c) => this.session.isDeskFor(c.id) || me.role === 'contributor');
    return {
      personId: me.id,
      blogId: blog.id,
      name: me.name,
      categories: mine.map(({ id, name }) => ({ id, name })),
    };
  });
  private sending = false;

  constructor() {
    window.addEventListener('online', () => void this.send());
    // Another tab of this device may have brought something.
    window.addEventListener('storage', () => this.waiting.set(read<Waiting[]>(OUTBOX, [])));
    inject(Live).whenever(['post'], () => this.send());
    // Who is here is remembered for when nobody can be asked; what waited is brought now.
    effect(() => {
      const author = this.session.me() && this.author();
      if (!author) return;
      localStorage.setItem(AUTHOR, JSON.stringify(author));
      untracked(() => void this.send());
    });
  }

  /** Keeps it, and tries to bring it. */
  async put(capture: Omit<NewCapture, 'key'>): Promise<void> {
    const author = this.author();
    if (!author) return;
    const { personId, blogId } = author;
    const at = new Date().toISOString();
    this.keep([
      ...read<Waiting[]>(OUTBOX, []),
      { ...capture, key: crypto.randomUUID(), personId, blogId, at, refused: null },
    ]);
    await this.send();
  }

  drop(key: string): void {
    this.keep(read<Waiting[]>(OUTBOX, []).filter((w) => w.key !== key));
  }

  /** Brings what waits, one after the other; what is refused stays, with the sentence that says why. */
  async send(): Promise<void> {
    const me = this.session.me();
    if (this.sending || !me) return;
    this.sending = true;
    try {
      // Read again each time: more may be captured meanwhile.
      for (let next; (next = this.nextOf(me.id));) if (!(await this.bring(next))) return;
    } finally {
      this.sending = false;
    }
  }

  private nextOf(personId: number): Waiting | undefined {
    const blogId = this.session.blog()?.id;
    return this.waiting().find((w) => w.personId === personId && w.blogId === blogId && w.refused === null);
  }

  /** False when the newsroom cannot be reached. */
  private async bring({ key, title, thought, text, categoryId }: Waiting): Promise<boolean> {
    try {
      const there = await this.api.call('posts.capture', { body: { key, title, thought, text, categoryId } });
      this.drop(key);
      this.arrived.update((all) => [there, ...all]);
      return true;
    } catch (error) {
      const code = error instanceof ApiError ? error.code : 'unreachable';
      if (LATER.includes(code)) return false;
      this.keep(
        read<Waiting[]>(OUTBOX, []).map((w) =>
          w.key === key ? { ...w, refused: (error as Error).message } : w,
        ),
      );
      return true;
    }
  }

  private keep(waiting: readonly Waiting[]): void {
    localStorage.setItem(OUTBOX, JSON.stringify(waiting));
    this.waiting.set(waiting);
  }
}
