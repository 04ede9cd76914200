import { Injectable, inject, signal } from '@angular/core';
import type { LookTried, SiteChanges, SiteView } from '@keyroster/contract';
import type { Look, Mount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, ApiError, sentenceOf } from '../api/api';
import { Live } from '../api/live';
import { Saving } from '../changes/saving.service';

/** What was decided, by the names that changes of it have. */
const valuesOf = ({ settings, menuIsUsual, menu, ...site }: SiteView) => ({
  ...site,
  ...settings,
  menu: menuIsUsual ? null : menu,
});

/** What was decided about the readers' pages, and how it is changed. Provided by each screen that shows it. */
@Injectable()
export class SiteService {
  private readonly api = inject(Api);
  private readonly saving = inject(Saving);
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

  /** True when it is saved. `seen` is the site as it was when somebody began to decide this. */
  change(changes: SiteChanges, seen = this.site()): Promise<boolean> {
    return this.attempt(seen, (site) => this.saving.save('site.change', site, changes));
  }
  applyLook(look: Look): Promise<boolean> {
    return this.attempt(this.site(), (site) => this.saving.save('site.look', site, { look }));
  }
  /** Refused where anything was decided since: a theme file cannot be compared with what was made of another. */
  setAround(theme: string | null, mount: Mount | null): Promise<boolean> {
    return this.attempt(this.site(), ({ version }) =>
      this.api.call('site.around', { ifMatch: version, body: { theme, mount } }),
    );
  }

  /** A page as a look would have it. */
  readonly tryOut = (body: LookTried) => this.api.request('site.try', { body });

  private async attempt(
    seen: SiteView | null,
    save: (seen: ReturnType<typeof valuesOf>) => Promise<SiteView>,
  ): Promise<boolean> {
    if (!seen) return false;
    try {
      this.site.set(await save(valuesOf(seen)));
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
