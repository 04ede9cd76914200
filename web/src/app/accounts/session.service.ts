import { Injectable, computed, inject, signal } from '@angular/core';
import { Router } from '@angular/router';
import type { CategoryView, SessionView, SetUp } from '@keyroster/contract';
import { postPath, roleMay, wallTimeOf, type RoleAction } from '@keyroster/core';
import { Api, ApiError } from '../api/api';
import { chooseBlog, chosenBlog } from '../api/blog-choice';
import { SignedOut } from '../api/problem.interceptor';
import { Clock } from '../api/clock';
import { Live } from '../api/live';

/** Where the device remembers who was here, for what is written down without a connection. */
export const AUTHOR = 'captures-by';

const NOBODY: SessionView = { me: null, blog: null, blogs: [], needsSetup: false, demo: false, mails: false };

/** Who is signed in, and the blog they work for. */
@Injectable({ providedIn: 'root' })
export class SessionService {
  private readonly api = inject(Api);
  private readonly live = inject(Live);
  private readonly router = inject(Router);
  private readonly clock = inject(Clock);
  private readonly view = signal<SessionView>(NOBODY);
  private asked: Promise<void> | null = null;

  /** The newsroom did not answer when it was last asked who is here. */
  readonly unreachable = signal(false);
  readonly me = computed(() => this.view().me);
  readonly blog = computed(() => this.view().blog);
  /** The blogs on which one does more than read. */
  readonly blogs = computed(() => this.view().blogs);
  readonly needsSetup = computed(() => this.view().needsSetup);
  readonly demo = computed(() => this.view().demo);
  /** Can the newsroom send mail to its people? */
  readonly mails = computed(() => this.view().mails);
  readonly categories = computed(
    () => new Map((this.blog()?.categories ?? []).map((c): [number, CategoryView] => [c.id, c])),
  );

  constructor() {
    inject(SignedOut).subscribe(() => {
      if (!this.me()) return;
      this.leave();
      void this.router.navigate(['/sign-in'], { queryParams: { to: this.router.url } });
    });
    this.live.all().subscribe((event) => {
      if (event.kind === 'blog' || event.kind === 'people') void this.refresh();
    });
  }

  /** Where readers find a post, once it is out. */
  addressOf({ slug, runLocal }: { slug: string; runLocal: string | null }): string {
    const blog = this.blog();
    if (!blog) return '';
    const path = runLocal === null ? `/${slug}` : postPath(blog.addressPattern, { slug, runLocal });
    return `${blog.home}${path}`;
  }

  known(): Promise<void> {
    return (this.asked ??= this.refresh());
  }

  async refresh(): Promise<void> {
    try {
      this.receive(await this.api.call('session.see', {}));
      this.unreachable.set(false);
    } catch (error) {
      this.unreachable.set(!(error instanceof ApiError) || error.code === 'unreachable');
      // The blog that this tab was at is not theirs any more: back to one that is.
      if (!(error instanceof ApiError) || error.code !== 'not-yours' || chosenBlog() === null) return;
      chooseBlog(null);
      await this.refresh();
    }
  }

  async signIn(email: string, password: string): Promise<void> {
    chooseBlog(null);
    this.receive(await this.api.call('session.open', { body: { email, password } }));
  }

  async setUp(input: SetUp): Promise<void> {
    this.receive(await this.api.call('setup.make', { body: input }));
  }

  /** Switches to another blog; the newsroom is loaded again for it. */
  async choose(blogId: number): Promise<void> {
    await this.api.call('session.choose', { body: { blogId } });
    chooseBlog(blogId);
    location.assign('today');
  }

  async signOut(everywhere: boolean): Promise<void> {
    await this.api.call(everywhere ? 'session.closeAll' : 'session.close', {});
    // Nobody is remembered on a device that somebody left.
    localStorage.removeItem(AUTHOR);
    this.leave();
    await this.router.navigate(['/sign-in']);
  }

  may(action: RoleAction): boolean {
    const me = this.me();
    return me !== null && roleMay(me.role, action);
  }

  /** The wall time of the blog now. */
  now(): string {
    return this.local(this.clock.now().toISOString());
  }
  /** An instant as the clocks of the blog show it. */
  local(instant: string): string {
    return wallTimeOf(instant, this.blog()?.zone ?? 'UTC');
  }
  /** The day that it is on the blog now. */
  today(): string {
    return this.now().slice(0, 10);
  }

  /**
   * May this person commission and plan in a category? The server decides; this only hides what would be
   * refused.
   */
  isDeskFor(categoryId: number | null): boolean {
    const me = this.me();
    return (
      me?.role === 'managing editor' ||
      (me?.role === 'editor' && categoryId !== null && me.categories.includes(categoryId))
    );
  }

  category(id: number | null): CategoryView | null {
    return id === null ? null : (this.categories().get(id) ?? null);
  }

  private receive(view: SessionView): void {
    // From now on this tab says at which blog it is, whatever another one chooses.
    if (view.blog && view.blogs.length > 1) chooseBlog(view.blog.id);
    this.view.set(view);
    if (view.me && roleMay(view.me.role, 'enterNewsroom')) this.live.open();
  }

  private leave(): void {
    this.live.close();
    chooseBlog(null);
    this.view.set({ ...NOBODY, demo: this.demo() });
  }
}
