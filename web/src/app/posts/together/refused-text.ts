import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Clipboard } from '@angular/cdk/clipboard';
import { MatButton } from '@angular/material/button';
import { Messages } from '../../ui/messages.service';
import { SharedText } from './shared-text.service';

/** What one typed and the server refused: it is not in the post, and it is not lost. */
@Component({
  selector: 'kr-refused-text',
  imports: [MatButton],
  template: `
    @if (texts.refused(); as r) {
      <div class="remark" role="alert">
        <p>
          <b>{{ r.sentence }}</b> This is the text as it stood on your screen. Copy what you need of it.
        </p>
        <pre>{{ r.text || 'There were no words in it.' }}</pre>
        <div class="row">
          <button matButton="outlined" (click)="copy(r.text)">Copy the text</button
          ><button matButton (click)="texts.refused.set(null)">Close</button>
        </div>
      </div>
    }
  `,
  styles: `
    pre {
      white-space: pre-wrap;
      overflow-wrap: anywhere;
      max-height: 200px;
      overflow: auto;
      background: var(--sheet);
      border: 1px solid var(--line);
      padding: 8px;
      margin: 8px 0;
      font: 430 14px/1.45 var(--serif);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RefusedText {
  protected readonly texts = inject(SharedText);
  private readonly clipboard = inject(Clipboard);
  private readonly messages = inject(Messages);

  protected copy(text: string): void {
    if (this.clipboard.copy(text)) this.messages.done('The text is on the clipboard.');
  }
}
