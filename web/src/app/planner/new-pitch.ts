import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { Router } from '@angular/router';
import type { PostView } from '@keyroster/contract';
import { SessionService } from '../accounts/session.service';
import { maxOf } from '@keyroster/core';
import { Api, ApiError, sentenceOf } from '../api/api';
import { Outbox } from '../capture/outbox.service';
import { landRefusal } from '../api/refusals';
import { Messages } from '../ui/messages.service';
import { watchDialog } from '../ui/unsaved';
import { ChoiceField, TextField } from '../ui/fields';
import { ErrorLine } from '../ui/error-line';

@Component({
  selector: 'kr-new-pitch',
  imports: [MatButton, MatDialogModule, ReactiveFormsModule, ChoiceField, TextField, ErrorLine],
  template: `
    <form class="dialog" [formGroup]="form" (ngSubmit)="keep()" novalidate>
      <h2>New pitch</h2>
      <kr-error [of]="error()" />
      <kr-text label="Title" formControlName="title" [max]="max('title')" cdkFocusInitial />
      <kr-text label="A line of thought" formControlName="thought" rows="3" [max]="max('thought')" />
      <kr-choice label="Category" formControlName="categoryId" none="none yet" [options]="categories()" />
      <div class="ends">
        <button type="button" matButton="outlined" mat-dialog-close>Cancel</button>
        @if (session.may('changeMany')) {
          <button matButton="outlined" type="button" (click)="write()">Start writing it</button>
        }
        <button matButton="filled" type="submit">Put it in the tray</button>
      </div>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NewPitch {
  protected readonly session = inject(SessionService);
  private readonly api = inject(Api);
  private readonly messages = inject(Messages);
  private readonly router = inject(Router);
  private readonly outbox = inject(Outbox);
  private readonly dialog = inject(MatDialogRef<NewPitch>);
  protected readonly error = signal('');
  protected readonly max = maxOf;
  protected readonly categories = computed(() =>
    (this.session.blog()?.categories ?? []).filter(
      (c) => this.session.isDeskFor(c.id) || this.session.me()?.role === 'contributor',
    ),
  );
  protected readonly form = new FormGroup({
    title: new FormControl('', { nonNullable: true }),
    thought: new FormControl('', { nonNullable: true }),
    categoryId: new FormControl<number | null>(null),
  });

  constructor() {
    watchDialog(this.dialog, () => this.form.dirty);
  }

  protected async keep(): Promise<void> {
    const post = await this.pitch();
    if (post) this.messages.done(`“${post.title}” is in the tray.`);
  }

  /** Without waiting in the tray: one's own to write, at once. */
  protected async write(): Promise<void> {
    if (!this.session.isDeskFor(this.form.value.categoryId ?? null)) {
      this.error.set('Choose a category that you edit, to begin it at once.');
      return;
    }
    const post = await this.pitch(this.session.me()!.id);
    if (!post) return;
    await this.api
      .call('posts.move', { id: post.id, ifMatch: post.version, body: { to: 'drafting' } })
      .catch((error: unknown) => this.messages.done(sentenceOf(error)));
    void this.router.navigate(['/posts', post.id]);
  }

  /** Without a connection it is kept on the device, and arrives later. */
  private async saveHere({
    title,
    thought,
    categoryId,
  }: {
    title: string;
    thought: string;
    categoryId: number | null;
  }) {
    await this.outbox.put({ title: title.trim(), thought, text: '', categoryId });
    this.form.markAsPristine();
    this.dialog.close();
    this.messages.done(`There is no connection. “${title.trim()}” is kept on this device and arrives later.`);
  }

  private async pitch(bylineId?: number): Promise<PostView | null> {
    const typed = this.form.getRawValue();
    if (typed.title.trim() === '') {
      this.error.set('It needs a title, however rough.');
      return null;
    }
    try {
      const body = bylineId === undefined ? typed : { ...typed, bylineId };
      const post = await this.api.call('posts.pitch', { body });
      this.form.markAsPristine();
      this.dialog.close();
      return post;
    } catch (error) {
      if (bylineId === undefined && error instanceof ApiError && error.code === 'unreachable')
        await this.saveHere(typed);
      else this.error.set(landRefusal(this.form, error));
      return null;
    }
  }
}
