import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { FACT_NAMES, FORM_NAMES } from '@keyroster/core';
import type { TitleFacts } from './title-facts';

const round = (n: number) => Math.round(n).toLocaleString('en-GB');

/** The facts of one title, each in a sentence, and how titles of its form did on this blog. */
@Component({
  selector: 'kr-title-facts',
  template: `
    <dl>
      @for (f of facts().facts; track f.key) {
        <dt>{{ names[f.key] }}</dt>
        <dd [class.alert]="f.alert">{{ f.sentence }}</dd>
      }
      <dt>How such titles did here</dt>
      <dd>{{ did() }}</dd>
    </dl>
  `,
  styles: `
    dl {
      margin: 2px 0 8px;
    }
    dt {
      font-weight: 600;
      font-size: 11.5px;
    }
    dd {
      margin: 0 0 5px;
      font-size: 12px;
      color: var(--soft);
    }
    .alert {
      color: var(--brass);
      font-weight: 550;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TitleFactsList {
  readonly facts = input.required<TitleFacts>();
  protected readonly names = FACT_NAMES;
  protected readonly did = computed(() => {
    const { form, count, median, interval, all, allCount, verdict } = this.facts().did;
    const what = FORM_NAMES[form];
    if (median === null || interval === null || all === null)
      return `${count} published ${what} with figures: too few to tell.`;
    const said =
      `${count} ${what} were read ${round(median)} times in their first week, in the middle ` +
      `(${round(interval[0])} to ${round(interval[1])} with 95% certainty); all ${allCount} posts ${round(all)} times. `;
    return (
      said +
      {
        above: 'That is more.',
        below: 'That is less.',
        'no difference': 'It may be chance.',
        'too few': '',
      }[verdict]
    );
  });
}
