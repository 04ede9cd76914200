import { ChangeDetectionStrategy, Component, inject, output } from '@angular/core';
import {
  fieldHeading,
  LEFTOVER_FIELDS,
  maxOf,
  POST_FIELDS,
  textFieldsIn,
  type PostField,
} from '@keyroster/core';
import { FieldSet, TextField } from '../ui/fields';
import { LeftOver } from './left-over';
import { PostService } from '../posts/post.service';
import type { Stored } from './stored';

/** A box for every field of text that the registry shows in the details. */
@Component({
  selector: 'kr-plain-texts',
  imports: [FieldSet, LeftOver, TextField],
  template: `
    @if (posts.post(); as p) {
      @for (field of fields; track field.name) {
        <fieldset [off]="!p.rights[field.right]">
          <kr-text
            guarded
            [label]="field.heading"
            [max]="field.max"
            [value]="p[field.name]"
            (changed)="put(field, $event)"
          />
          @if (field.leftover; as leftover) {
            <kr-left-over [of]="leftover" />
          }
        </fieldset>
      }
    }
  `,
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0;
      min-width: 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PlainTexts {
  protected readonly posts = inject(PostService);
  readonly store = output<Stored>();
  protected readonly fields = textFieldsIn('details').map((name) => ({
    name,
    label: POST_FIELDS[name].label,
    heading: fieldHeading(name),
    max: maxOf(name),
    right: POST_FIELDS[name].set,
    leftover: LEFTOVER_FIELDS.find((f) => f === name),
  }));

  protected put({ name, label }: { name: PostField; label: string }, text: string): void {
    this.store.emit([{ [name]: text.trim() }, `The ${label}`]);
  }
}
