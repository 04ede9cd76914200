import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatRadioModule } from '@angular/material/radio';
import {
  LOOKS,
  LOOK_KEYS,
  MEASURES,
  PALETTE_KEYS,
  POST_FACTS,
  READER_PALETTES,
  READING_SIZES,
  type Look,
  type Measure,
  type PostFact,
  type ReadingSize,
} from '@keyroster/core';
import { SwitchField } from '../ui/fields';
import { SectionHead } from '../ui/section-head';

/** Chooses a look: its kind, colours, measure and size, and the facts shown with a post. */
@Component({
  selector: 'kr-look-choice',
  imports: [MatCheckbox, MatRadioModule, SectionHead, SwitchField],
  templateUrl: './look-choice.html',
  styleUrl: './look-choice.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LookChoice {
  readonly look = input.required<Look>();
  readonly changed = output<Look>();
  protected readonly looks = LOOK_KEYS.map((value) => ({ value, ...LOOKS[value] }));
  protected readonly palettes = PALETTE_KEYS.map((value) => ({ value, ...READER_PALETTES[value] }));
  protected readonly measures = Object.keys(MEASURES) as Measure[];
  protected readonly sizes = Object.keys(READING_SIZES) as ReadingSize[];
  protected readonly facts = POST_FACTS;

  protected put(part: Partial<Look>): void {
    this.changed.emit({ ...this.look(), ...part });
  }
  protected tell(fact: PostFact, told: boolean): void {
    this.put({ facts: POST_FACTS.filter((f) => (f === fact ? told : this.look().facts.includes(f))) });
  }
}
