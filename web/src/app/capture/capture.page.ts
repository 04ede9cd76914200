import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import { maxOf } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { ErrorLine } from '../ui/error-line';
import { ChoiceField, TextField } from '../ui/fields';
import { Outbox } from './outbox.service';

/** A pitch or a first draft, written down with a thumb, wherever one is; without a connection it arrives later. */
@Component({
  imports: [ChoiceField, ErrorLine, MatButton, ReactiveFormsModule, RouterLink, TextField],
  templateUrl: './capture.page.html',
  styles: `
    main {
      max-width: 560px;
      margin: 0 auto;
      padding: 14px 16px 40px;
    }
    header {
      display: flex;
      justify-content: space-between;
      align-items: baseline;
      border-bottom: 3px double var(--ink);
      margin-bottom: 12px;
    }
    h1 {
      font: 560 26px var(--serif);
      margin: 0 0 6px;
    }
    h2 {
      font: 650 13px var(--sans);
      margin: 18px 0 4px;
    }
    .wide {
      width: 100%;
      min-height: 48px;
      margin-top: 8px;
    }
    ul {
      list-style: none;
      margin: 0;
      padding: 0;
    }
    li {
      display: flex;
      justify-content: space-between;
      align-items: center;
      gap: 10px;
      min-height: 44px;
      border-bottom: 1px solid var(--hair);
    }
    small {
      display: block;
      color: var(--soft);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CapturePage {
  protected readonly outbox = inject(Outbox);
  protected readonly session = inject(SessionService);
  protected readonly error = signal('');
  protected readonly status = signal('');
  protected readonly max = maxOf;
  protected readonly form = new FormGroup({
    title: new FormControl('', { nonNullable: true }),
    text: new FormControl('', { nonNullable: true }),
    categoryId: new FormControl<number | null>(null),
  });
  private readonly draft = () => `capture-draft-${this.outbox.author()?.personId ?? ''}`;
  private readonly text = signal('');
  protected readonly label = computed(() =>
    this.text().trim() === '' ? 'Put it in the tray' : 'Keep the draft',
  );

  constructor() {
    // What is being typed outlives a page that is closed by a slip of the thumb. It is its writer's alone.
    const typed = localStorage.getItem(this.draft());
    if (typed) this.form.patchValue(JSON.parse(typed) as { title: string; text: string });
    this.form.valueChanges.pipe(takeUntilDestroyed()).subscribe((value) => {
      this.text.set(value.text ?? '');
      localStorage.setItem(this.draft(), JSON.stringify(value));
    });
    this.text.set(this.form.value.text ?? '');
  }

  protected async keep(): Promise<void> {
    const { title, text, categoryId } = this.form.getRawValue();
    if (title.trim() === '') {
      this.error.set('It needs a title, however rough.');
      return;
    }
    this.error.set('');
    const known = this.outbox.author()?.categories.some((c) => c.id === categoryId) ?? false;
    const kept = this.outbox.put({
      title: title.trim(),
      thought: '',
      text,
      categoryId: known ? categoryId : null,
    });
    this.form.reset({ title: '', text: '', categoryId });
    localStorage.removeItem(this.draft());
    await kept;
    this.status.set(
      this.outbox.own().some((w) => w.title === title.trim())
        ? `“${title}” is kept on this device.`
        : `“${title}” arrived in the newsroom.`,
    );
  }

  /** What was refused is put back into the form, to be said otherwise. */
  protected again(key: string): void {
    const waiting = this.outbox.own().find((w) => w.key === key);
    if (!waiting) return;
    this.outbox.drop(key);
    this.form.setValue({ title: waiting.title, text: waiting.text, categoryId: waiting.categoryId });
  }
}
