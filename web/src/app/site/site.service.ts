import { Injectable, inject, signal } from '@angular/core';
import type { LookTried, SiteChanges, SiteView } from '@keyroster/contract';
import { sameValue, type Look, type Mount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError, sentenceOf } from '../api/api';
import { Live } from '../api/live';

const keysOf = <T extends object>(of: T) => Object.keys(of) as (keyof T)[];

/** What was decided about the readers' pages, and how it is changed. Provided by each screen that shows it. */
@Injectable()
export class SiteService {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  readonly site = signal<SiteView | null>(null);
  readonly error = signal('');

  constructor() {
    void this.refresh();
    inject(Live).whenever(['blog', 'release'], () => this.refresh());
  }

  async refresh(): Promise<void> {
    try {
      this.site.set(await this.api.call('site.see', {}));
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }

  /**
   * True when it is saved. `seen` is the site as it was when somebody began to decide this: where the same was decided
   * otherwise since, the newsroom refuses, and nothing of it is lost.
   */
  change(changes: Omit<SiteChanges, 'version'>, seen = this.site()): Promise<boolean> {
    return this.attempt(async (version) =>
      this.api.call('site.change', {
        body: { version: seen && this.isOvertaken(changes, seen) ? seen.version : version, ...changes },
      }),
    );
  }
  private isOvertaken({ settings, ...others }: Omit<SiteChanges, 'version'>, seen: SiteView): boolean {
    const now = this.site()!;
    return (
      keysOf(others).some((key) => !sameValue(now[key], seen[key])) ||
      keysOf(settings ?? {}).some((key) => !sameValue(now.settings[key], seen.settings[key]))
    );
  }

  applyLook(look: Look): Promise<boolean> {
    return this.attempt(async (version) => this.api.call('site.look', { body: { version, look } }));
  }

  setAround(theme: string | null, mount: Mount | null): Promise<boolean> {
    return this.attempt(async (version) => this.api.call('site.around', { body: { version, theme, mount } }));
  }

  /** A page as a look would have it. */
  readonly tryOut = (body: LookTried) => this.api.request('site.try', { body });

  private async attempt(ask: (version: number) => Promise<SiteView>): Promise<boolean> {
    const site = this.site();
    if (!site) return false;
    try {
      this.site.set(await ask(site.version));
      this.error.set('');
      await this.session.refresh();
      return true;
    } catch (error) {
      if (error instanceof ApiError && error.code === 'version-conflict') await this.refresh();
      this.error.set(sentenceOf(error));
      return false;
    }
  }
}
