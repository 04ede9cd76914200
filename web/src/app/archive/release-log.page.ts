import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { ReleaseLogEntry } from '@keyroster/contract';
import { sayClock, sayShortDate, wallTimeOf } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Live } from '../api/live';

/** Every release, planned against actual. */
@Component({
  imports: [RouterLink],
  template: `
    <div class="screen">
      <div class="row spread"><h1>Release log</h1><a class="btn" routerLink="/archive">Archive</a></div>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <table>
        <caption class="unseen">Releases, newest first</caption>
        <thead><tr><th scope="col">Post</th><th scope="col">Planned</th><th scope="col">Released</th><th scope="col">After its time</th><th scope="col">Checks</th></tr></thead>
        <tbody>
          @for (entry of entries(); track entry.id) {
            <tr><td><a [routerLink]="['/posts', entry.postId]">{{ entry.title }}</a></td><td>{{ say(entry.plannedLocal) }}</td><td>{{ say(local(entry.releasedAt)) }}</td>
              <td [class.late]="entry.late">{{ after(entry) }}</td><td class="checks">{{ checks(entry) }}</td></tr>
          }
        </tbody>
      </table>
      @if (entries()?.length === 0) { <p class="soft" style="padding: 14px 0">Nothing has been released yet. Schedule a post, and its release is written down here.</p> }
    </div>
  `,
  styles: `
    table { width: 100%; border-collapse: collapse; background: var(--sheet); border: 1px solid var(--line); margin-top: 10px; } th { text-align: left; font-weight: 600; color: var(--soft); border-bottom: 2px solid var(--ink); padding: 7px 10px; } td { padding: 6px 10px; border-bottom: 1px solid var(--hair); }
    td a { font: 540 15px/1.25 var(--serif); color: var(--ink); text-decoration: none; } .checks { color: var(--soft); } .late { color: var(--madder); font-weight: 600; } td:not(:first-child) { white-space: nowrap; } @media (max-width: 700px) { td:not(:first-child) { white-space: normal; } th:nth-child(3), td:nth-child(3) { display: none; } }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReleaseLogPage {
  private readonly api = inject(Api);
  private readonly session = inject(SessionService);
  protected readonly entries = signal<ReleaseLogEntry[] | null>(null);
  protected readonly fault = signal('');
  protected readonly say = (local: string) => `${sayShortDate(local, new Date().toISOString())} ${sayClock(local)}`;
  protected readonly local = (at: string) => wallTimeOf(at, this.session.blog()?.zone ?? 'UTC');

  constructor() {
    void this.refresh();
    inject(Live).whenever(['release'], () => void this.refresh());
  }

  protected after(entry: ReleaseLogEntry): string {
    if (entry.backdated) return 'dated back';
    const s = entry.lateness / 1000;
    const text = s < 1 ? `${entry.lateness} ms` : s < 120 ? `${s.toFixed(1)} s` : s < 7200 ? `${Math.round(s / 60)} min` : `${Math.round(s / 3600)} h`;
    return entry.late ? `${text}, late` : text;
  }

  /** What the checks said when it went out. They ask before a post is scheduled; a promised time is kept whatever they say since. */
  protected checks({ checks }: ReleaseLogEntry): string {
    if (!checks) return '';
    if (checks.blocks > 0) return checks.blocks === 1 ? '1 held it back since' : `${checks.blocks} held it back since`;
    return checks.warns > 0 ? `${checks.warns} warned` : 'fine';
  }

  private async refresh(): Promise<void> {
    try {
      this.entries.set(await this.api.call('releaseLog.list', {}));
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }
}
