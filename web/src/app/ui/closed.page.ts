import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink } from '@angular/router';

/** Stands at an address that somebody's role does not open. */
@Component({
  imports: [RouterLink],
  template: `<div class="screen">
    <h1>This page is not open to you</h1>
    <p style="margin-top: 8px">
      Your role in this newsroom does not reach it. If it should, ask a managing editor.
      <a routerLink="/today">Back to Today</a>
    </p>
  </div>`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ClosedPage {}
