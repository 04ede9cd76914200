import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import { formatList, initials } from '@keyroster/core';
import { PersonBadge } from '../../ui/person-badge';
import { SharedText } from './shared-text.service';

/** Who else is in the text. */
@Component({
  selector: 'kr-here',
  imports: [MatTooltip, PersonBadge],
  template: `
    @if (people().length > 0) {
      <span class="here" role="group" [attr.aria-label]="'Also in this text: ' + names()">
        @for (p of people(); track p.id) {
          <kr-person [person]="p" [named]="false" [matTooltip]="p.name" [style.--verdigris]="p.hue" />
        }
      </span>
    }
  `,
  styles: `
    .here {
      display: inline-flex;
      gap: 3px;
      align-items: center;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Here {
  private readonly texts = inject(SharedText);
  protected readonly people = computed(() =>
    this.texts
      .people()
      .map((p) => ({ ...p, initials: initials(p.name), hue: `var(--hue-${(p.id % 10) + 1})` })),
  );
  protected readonly names = computed(() => formatList(this.people().map((p) => p.name)));
}
