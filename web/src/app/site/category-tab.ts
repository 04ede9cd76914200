import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { SessionService } from '../accounts/session.service';

/**
 * A category's small tab in its hue; its name beside it, or as tooltip and accessible name where there is no
 * room.
 */
@Component({
  selector: 'kr-category',
  template: `@if (category(); as c) {
      <i
        [style.background]="'var(--hue-' + c.hue + ')'"
        [title]="c.name"
        [attr.role]="bare() ? 'img' : null"
        [attr.aria-label]="bare() ? c.name : null"
        [attr.aria-hidden]="bare() ? null : true"
      ></i>
      @if (!bare()) {
        <span>{{ c.name }}</span>
      }
    } @else if (!bare()) {
      <span class="none">no category</span>
    }`,
  styles: `
    :host {
      display: inline-flex;
      align-items: center;
      gap: 6px;
    }
    i {
      width: 12px;
      height: 7px;
      border-radius: 0 0 3px 3px;
      flex: none;
    }
    .none {
      color: var(--soft);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CategoryTab {
  private readonly session = inject(SessionService);
  readonly id = input.required<number | null>();
  readonly bare = input(false);
  protected readonly category = computed(() => this.session.category(this.id()));
}
