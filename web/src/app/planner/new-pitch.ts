import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { SessionService } from '../accounts/session.service';
import { Api, sentenceOf } from '../api/api';
import { Messages } from '../ui/messages.service';

@Component({
  selector: 'kr-new-pitch',
  imports: [MatDialogModule],
  template: `
    <form class="dialog" (submit)="keep($event, title.value, thought.value, category.value)" novalidate>
      <h2>New pitch</h2>
      @if (error()) {
        <p class="error" role="alert">{{ error() }}</p>
      }
      <label class="field"
        ><span>Title</span><input #title name="title" maxlength="300" autocomplete="off" cdkFocusInitial
      /></label>
      <label class="field"
        ><span>A line of thought</span><textarea #thought name="thought" rows="3" maxlength="4000"></textarea>
      </label>
      <label class="field"
        ><span>Category</span>
        <select #category name="category">
          <option value="">none yet</option>
          @for (c of session.blog()?.categories ?? []; track c.id) {
            @if (session.isDeskFor(c.id) || session.me()?.role === 'contributor') {
              <option [value]="c.id">{{ c.name }}</option>
            }
          }
        </select></label
      >
      <div class="ends">
        <button type="button" class="btn" mat-dialog-close>Cancel</button
        ><button class="btn act" type="submit">Put it in the tray</button>
      </div>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NewPitch {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly dialog = inject(MatDialogRef<NewPitch>);
  protected readonly error = signal('');

  protected async keep(event: Event, title: string, thought: string, category: string): Promise<void> {
    event.preventDefault();
    if (title.trim() === '') {
      this.error.set('A pitch needs a title, however rough.');
      return;
    }
    try {
      await this.api.call('posts.pitch', {
        body: { title, thought, categoryId: category ? Number(category) : null },
      });
      this.dialog.close();
      this.messages.done(`“${title.trim()}” is in the tray.`);
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
