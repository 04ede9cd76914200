import { ChangeDetectionStrategy, Component } from '@angular/core';
import { BittingMark } from '../ui/bitting-mark';

/** The quiet page in front of the newsroom: sign-in and first set-up stand in it. */
@Component({
  selector: 'kr-door',
  imports: [BittingMark],
  template: `<main>
    <header><kr-mark stage="published" [width]="46" aria-hidden="true" /> <b>Key Roster</b></header>
    <ng-content />
  </main>`,
  styles: `
    :host {
      display: grid;
      min-height: 100vh;
      place-items: start center;
      padding: min(12vh, 90px) 16px 32px;
    }
    main {
      width: 100%;
      max-width: 430px;
    }
    header {
      display: flex;
      gap: 12px;
      align-items: center;
      font: 600 26px var(--serif);
      padding-bottom: 14px;
      border-bottom: 2px solid var(--ink);
      margin-bottom: 18px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Door {}
