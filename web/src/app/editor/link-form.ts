import {
  ChangeDetectionStrategy,
  Component,
  afterNextRender,
  input,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { Editor } from '@tiptap/core';
import { safeHref } from '@keyroster/core';
import { TextField, textControl } from '../ui/fields';
import { ReactiveFormsModule } from '@angular/forms';

const WRONG =
  'A link leads to a web address (https://…), an e-mail address (mailto:…) or a page of this blog (/…).';

/** Asks where the chosen words lead to. */
@Component({
  selector: 'kr-link-form',
  imports: [MatButton, ReactiveFormsModule, TextField],
  templateUrl: './link-form.html',
  styleUrl: './link-form.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LinkForm {
  readonly editor = input.required<Editor>();
  readonly closed = output();
  protected readonly href = textControl();
  /** Where the words lead to now. */
  protected readonly was = signal('');
  private readonly field = viewChild.required(TextField);

  constructor() {
    afterNextRender(() => {
      this.was.set((this.editor().getAttributes('link')['href'] as string | undefined) ?? '');
      this.href.setValue(this.was());
      this.field().focus();
    });
  }

  protected set(text: string): void {
    const typed = text.trim();
    const href = safeHref(/^[\w-]+(\.[\w-]+)+([/?#]|$)/.test(typed) ? `https://${typed}` : typed);
    // An address beside the post is no address here: it would lead elsewhere from every page.
    if (typed !== '' && !(href && /^(?:https?:|mailto:|[/#])/i.test(href))) {
      this.href.setErrors({ sentence: WRONG });
      this.href.markAsTouched();
      return;
    }
    const editor = this.editor();
    const chain = editor.chain().focus();
    if (!href) chain.extendMarkRange('link').unsetLink().run();
    else if (editor.state.selection.empty && !editor.isActive('link'))
      chain.insertContent({ type: 'text', text: typed, marks: [{ type: 'link', attrs: { href } }] }).run();
    else chain.extendMarkRange('link').setLink({ href }).run();
    this.closed.emit();
  }
}
