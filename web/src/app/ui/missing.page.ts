import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink } from '@angular/router';

@Component({
  imports: [RouterLink],
  template: `<div class="screen">
    <h1>There is nothing at this address</h1>
    <p style="margin-top: 8px">
      The page may have been removed, or the address may be mistyped. <a routerLink="/today">Back to Today</a>
    </p>
  </div>`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MissingPage {}
