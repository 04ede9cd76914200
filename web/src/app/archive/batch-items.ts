import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { BatchItemView, ItemState } from '@keyroster/contract';

/** What a batch does, post by post: what was and what comes, or why not. */
@Component({
  selector: 'kr-batch-items',
  imports: [RouterLink],
  template: `
    <ul aria-label="Post by post">
      @for (i of items(); track i.postId) {
        <li [class.off]="i.state !== 'changes'"><div><a [routerLink]="['/posts', i.postId]">{{ i.title }}</a>
          <p>@switch (i.state) { @case ('refused') { <b class="refused">refused</b> {{ i.sentence }} } @case ('same') { already so{{ i.sentence ? ', ' + i.sentence : '' }} } @default {
            @for (d of i.differences; track d.field) { <span class="d">@if (d.field === 'body') { text is changed } @else { @if (d.was) { <del>{{ d.was }}</del> } @if (d.was && d.becomes) { <span aria-hidden="true">→</span> } @if (d.becomes) { <ins>{{ d.becomes }}</ins> } }</span> }
            @if (i.sentence) { <span class="since">{{ i.sentence }}</span> } } }</p></div>
          @if (choosable() && (i.state === 'changes' || i.state === 'left')) { <button class="small" (click)="state.emit({ postId: i.postId, state: i.state === 'left' ? 'changes' : 'left' })" [attr.aria-label]="(i.state === 'left' ? 'Take in again: ' : 'Leave out: ') + i.title">{{ i.state === 'left' ? 'Take in' : 'Leave out' }}</button> }</li>
      }
    </ul>
    @if (items().length < total()) { <button class="btn small" (click)="more.emit()">Show more of {{ total() }}</button> }
  `,
  styles: `ul { list-style: none; margin: 0 0 8px; padding: 0; max-height: 46vh; overflow: auto; } li { display: flex; justify-content: space-between; gap: 8px; border-bottom: 1px solid var(--hair); padding: 6px 0; } li > div { min-width: 0; overflow-wrap: anywhere; } a { font: 540 15px/1.25 var(--serif); color: var(--ink); text-decoration: none; } a:hover { text-decoration: underline; } p { font-size: 12px; color: var(--soft); } .d { margin-right: 9px; } del { color: var(--madder); } .d > span { margin: 0 4px; } ins { color: var(--verdigris); font-weight: 600; text-decoration: none; } .off a { color: var(--soft); } .refused { color: var(--madder); } .since { color: var(--brass); font-weight: 600; } button.small { border: 0; background: none; color: var(--soft); cursor: pointer; white-space: nowrap; align-self: start; padding: 2px 4px; min-height: 24px; } button.small:hover { color: var(--ink); text-decoration: underline; }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BatchItems {
  readonly items = input.required<BatchItemView[]>();
  readonly total = input(0);
  readonly choosable = input(false);
  readonly state = output<{ postId: number; state: ItemState }>();
  readonly more = output();
}
