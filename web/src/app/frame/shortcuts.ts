import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialogModule } from '@angular/material/dialog';

/** Is the key meant for a text that is being typed? */
export function isTyping(event: KeyboardEvent): boolean {
  const { target } = event;
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || target.matches('input:not([type=checkbox], [type=radio]), textarea, select'))
  );
}

const KEYS: [string, string][] = [
  ['/', 'Find or do anything'],
  ['P', 'New pitch'],
  ['?', 'This list'],
  ['Ctrl Z', 'Undo what the message at the bottom says was done'],
  ['Space', 'Planner: lift a card, or drop it where it is'],
  ['← → ↑ ↓', 'Planner: carry a lifted card from day to day'],
  ['Esc', 'Planner: put a lifted card back; elsewhere: close what is open'],
  ['M', 'Planner: move the card by a menu'],
  ['N', 'Planner: a new post on the day in focus'],
  ['1 … 5, 0', 'Planner: rate the pitch in focus, or clear its rating'],
  ['Enter', 'Open what is in focus'],
  ['Ctrl B, Ctrl I, Ctrl K', 'Writing: bold, italic, link'],
  ['Ctrl Alt 2, 3, 4, 0', 'Writing: heading level, or a paragraph'],
  ['Ctrl Alt N', 'Writing: a note on the selected words'],
  ['Ctrl Alt I', 'Writing: insert a block; + on an empty line does the same'],
  ['Alt Shift ↑ ↓', 'Writing: move the block up or down; Alt ↑ ↓ in the outline moves a section'],
  ['Ctrl Alt D', 'Writing: duplicate the block'],
  ['Ctrl Alt F', 'Writing: find and replace'],
  ['Ctrl Alt Enter', 'Writing: focus mode, and back'],
  ['Ctrl S', 'Writing: save now'],
];

@Component({
  selector: 'kr-shortcuts',
  imports: [MatButton, MatDialogModule],
  template: `
    <div class="dialog">
      <h2>Keyboard shortcuts</h2>
      <dl>
        @for (k of keys; track k[0]) {
          <div>
            <dt>
              <kbd>{{ k[0] }}</kbd>
            </dt>
            <dd>{{ k[1] }}</dd>
          </div>
        }
      </dl>
      <div class="ends"><button matButton="filled" mat-dialog-close>Close</button></div>
    </div>
  `,
  styles: `
    dl {
      margin: 0;
    }
    div > dt {
      width: 190px;
      flex: none;
    }
    dl div {
      display: flex;
      gap: 12px;
      padding: 5px 0;
      border-bottom: 1px solid var(--hair);
    }
    dd {
      margin: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Shortcuts {
  protected readonly keys = KEYS;
}
