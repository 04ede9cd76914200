import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import {
  EMPTY_BODY,
  bodyText,
  errorOfValue,
  formatValueOf,
  type BodyNode,
  type FormatField,
} from '@keyroster/core';
import { sentenceOf } from '../api/api';
import { ChoiceField, DateField, FieldSet, TextField } from '../ui/fields';
import { MeasureService } from '../posts/measure.service';
import { PostService } from '../posts/post.service';
import { ErrorLine } from '../ui/error-line';

/** The post's format: which one, its fields, and its starter text while the post is empty. */
@Component({
  selector: 'kr-format',
  imports: [ChoiceField, DateField, FieldSet, MatButton, TextField, ErrorLine],
  templateUrl: './format-fields.html',
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
export class FormatFields {
  protected readonly posts = inject(PostService);
  private readonly measure = inject(MeasureService);
  /** Starter text that should be put into the post. */
  readonly started = output<BodyNode>();
  protected readonly error = signal('');
  protected readonly errors = signal<Record<string, string>>({});
  protected readonly offered = computed(() =>
    this.measure.formats().filter((f) => !f.retired || f.id === this.posts.post()?.formatId),
  );
  protected readonly format = computed(
    () => this.measure.formats().find((f) => f.id === this.posts.post()?.formatId) ?? null,
  );
  protected readonly isEmpty = computed(() => bodyText(this.measure.body() ?? EMPTY_BODY) === '');
  protected readonly hasStarter = computed(() => bodyText(this.format()?.starter ?? EMPTY_BODY) !== '');

  protected value(field: FormatField): string {
    const value = this.posts.post()?.formatValues[field.key];
    return Array.isArray(value) ? value.join('\n') : value === undefined ? '' : String(value);
  }

  protected readonly labelOf = (field: FormatField) =>
    field.required ? `${field.label} (wanted)` : field.label;
  protected readonly choices = (field: FormatField) => field.choices ?? [];

  protected put(field: FormatField, text: string): void {
    const value = formatValueOf(field, text);
    const wrong = errorOfValue(field, value ?? undefined);
    this.errors.update((f) => ({ ...f, [field.key]: wrong ?? '' }));
    if (wrong) return;
    void this.store((post) => {
      const { [field.key]: _, ...others } = post.formatValues;
      return { formatValues: value === null ? others : { ...others, [field.key]: value } };
    });
  }

  protected async store(changes: Parameters<PostService['change']>[0]): Promise<void> {
    try {
      await this.posts.change(changes);
      this.error.set('');
    } catch (error) {
      this.error.set(sentenceOf(error));
    }
  }
}
