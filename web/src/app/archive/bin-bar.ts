import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { formatCount } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Messages } from '../ui/messages.service';
import { ArchiveService } from './archive.service';
import { ChosenService } from './chosen.service';
import { ErrorLine } from '../ui/error-line';

/**
 * What can be done with posts in the bin: they come back as drafts, or are erased permanently, which is said
 * first.
 */
@Component({
  selector: 'kr-bin-bar',
  imports: [MatButton, ErrorLine],
  template: `
    <div class="bar">
      <kr-error [of]="error()" />
      @if (asked(); as sentence) {
        <p role="alert">
          <b>{{ sentence }}</b>
        </p>
        <div class="row">
          <button matButton="outlined" class="refuse" [disabled]="busy()" (click)="erase()">
            Erase permanently</button
          ><button matButton="outlined" (click)="asked.set('')">Keep in the bin</button>
        </div>
      } @else {
        <div class="row">
          <span class="soft">{{
            session.blog()?.binDays
              ? 'The bin empties itself of what has lain here for ' + session.blog()?.binDays + ' days.'
              : 'Posts wait here until somebody restores or erases them.'
          }}</span><span class="gap"></span>
          @if (session.may('changeMany')) {
            <button matButton="filled" [disabled]="chosen.count() === 0 || busy()" (click)="restore()">
              Restore {{ chosen.count() ? count() : '' }} as drafts
            </button>
          }
          @if (session.may('manageBlog')) {
            <button matButton="outlined" [disabled]="chosen.count() === 0 || busy()" (click)="weigh()">
              Erase …
            </button>
          }
        </div>
      }
    </div>
  `,
  styles: `
    .bar {
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
      padding: 8px 12px;
      margin-bottom: 8px;
    }
    .gap {
      flex: 1;
    }
    p {
      margin-bottom: 7px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BinBar {
  protected readonly session = inject(SessionService);
  protected readonly chosen = inject(ChosenService);
  private readonly archive = inject(ArchiveService);
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  protected readonly asked = signal('');
  protected readonly error = signal('');
  protected readonly busy = signal(false);
  protected readonly count = () => formatCount(this.chosen.count(), 'post');

  protected restore(): Promise<void> {
    return this.act(async (ids) =>
      this.over((await this.api.call('bin.restore', { body: { ids } })).sentence),
    );
  }
  protected weigh(): Promise<void> {
    return this.act(async (ids) =>
      this.asked.set((await this.api.call('bin.weigh', { body: { ids } })).sentence),
    );
  }
  protected erase(): Promise<void> {
    return this.act(async (ids) => this.over((await this.api.call('bin.erase', { body: { ids } })).sentence));
  }

  private async over(sentence: string): Promise<void> {
    this.asked.set('');
    this.chosen.clear();
    this.messages.done(sentence);
    await this.archive.find(this.archive.line(), this.archive.sort());
  }

  private async act(what: (ids: number[]) => Promise<void> | void): Promise<void> {
    this.busy.set(true);
    this.error.set('');
    try {
      await what(this.chosen.ids());
    } catch (error) {
      this.error.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
