import { Injectable, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { ComparisonView, PostView, Restoring, VersionView } from '@keyroster/contract';
import type { ComparedBlock } from '@keyroster/core';
import { EMPTY, Subject, catchError, of, switchMap, tap } from 'rxjs';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { Messages } from '../ui/messages.service';
import { Comparing } from './comparing';

/** The versions of one post, and two of them side by side. */
@Injectable()
export class VersionsService {
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly comparing = inject(Comparing);
  private readonly wanted = new Subject<{ id: number; from: number; to: number } | null>();

  readonly post = signal<PostView | null>(null);
  readonly versions = signal<VersionView[]>([]);
  readonly more = signal(false);
  readonly lastRead = signal<number | null>(null);
  /** The version that readers see, where it is not the one that stands. */
  readonly readersSee = signal<number | null>(null);
  readonly comparison = signal<ComparisonView | null>(null);
  readonly blocks = signal<ComparedBlock[] | null>(null);
  readonly error = signal('');
  readonly busy = signal(false);

  constructor() {
    // Two other versions are requested: the request before is cancelled, and its comparison.
    this.wanted
      .pipe(
        tap(() => this.blocks.set(null)),
        switchMap((pair) =>
          pair === null
            ? EMPTY
            : this.api
                .request('versions.compare', { id: pair.id, query: { from: pair.from, to: pair.to } })
                .pipe(
                  tap((comparison) => {
                    this.comparison.set(comparison);
                    this.error.set('');
                  }),
                  switchMap((comparison) => this.comparing.compare(comparison)),
                  catchError((error: unknown) => {
                    this.error.set(sentenceOf(error));
                    return of(null);
                  }),
                ),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((blocks) => this.blocks.set(blocks));
    inject(Live).gathered(['post'], (events) => {
      const id = this.post()?.id;
      if (id && events.some((e) => e.postId === null || e.postId === id)) void this.open(id);
    });
  }

  /** The post with its newest versions; those further back stay as they are. */
  async open(id: number): Promise<void> {
    try {
      const [post, page] = await Promise.all([
        this.api.call('posts.see', { id }),
        this.api.call('versions.list', { id, query: {} }),
      ]);
      const oldest = page.versions.at(-1)?.version ?? 0;
      const older = this.post()?.id === id ? this.versions().filter((v) => v.version < oldest) : [];
      if (older.length === 0) this.more.set(page.more);
      this.versions.set([...page.versions, ...older]);
      this.lastRead.set(page.lastRead);
      this.readersSee.set(page.readersSee);
      this.post.set(post);
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  async older(): Promise<void> {
    await this.act(async () => {
      const query = { before: this.versions().at(-1)!.version };
      const page = await this.api.call('versions.list', { id: this.post()!.id, query });
      this.versions.update((all) => [...all, ...page.versions]);
      this.more.set(page.more);
    });
  }

  show(from: number, to: number): void {
    const id = this.post()?.id;
    this.wanted.next(id === undefined ? null : { id, from, to });
  }

  async name(version: number, name: string): Promise<void> {
    await this.act(async () => {
      const named = await this.api.call('versions.name', { id: this.post()!.id, body: { version, name } });
      this.versions.update((all) => all.map((v) => (v.version === version ? named : v)));
    });
  }

  /** Restores upon the post as it stands on this screen; what somebody changed since is told and stays. */
  async restore(restoring: Restoring): Promise<boolean> {
    return this.act(async () => {
      const { id, version } = this.post()!;
      const done = await this.api.call('versions.restore', { id, ifMatch: version, body: restoring });
      this.messages.done(done.sentence);
      await this.open(id);
    });
  }

  private async act(what: () => Promise<void>): Promise<boolean> {
    this.busy.set(true);
    this.error.set('');
    try {
      await what();
      return true;
    } catch (error) {
      this.error.set(sentenceOf(error));
      return false;
    } finally {
      this.busy.set(false);
    }
  }
}
