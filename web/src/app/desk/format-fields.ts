import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { EMPTY_BODY, bodyText, faultOfValue, type BodyNode, type FormatField, type FormatValue, type FormatValues } from '@keyroster/core';
import { sentenceOf } from '../api/api';
import { MeasureService } from './measure.service';
import { PostService } from './post.service';

/** The post's format: which one, its fields, and its starter text while the post is empty. */
@Component({
  selector: 'kr-format',
  template: `
    @if (posts.post(); as p) {
      <fieldset [disabled]="!p.rights.write">
        <label class="field"><span>Format</span><select #which data-format (change)="choose(which.value)"><option value="" [selected]="p.formatId === null">none</option>@for (f of offered(); track f.id) { <option [value]="f.id" [selected]="f.id === p.formatId">{{ f.name }}</option> }</select>@if (format()?.hint) { <small>{{ format()!.hint }}</small> }</label>
        @if (format(); as f) {
          @for (field of f.fields; track field.key) {
            <label class="field"><span>{{ field.label }}@if (field.required) { <em> wanted</em> }</span>
              @if (field.kind === 'choice') { <select #v (change)="put(field, v.value)"><option value="">not chosen</option>@for (c of field.choices; track c) { <option [value]="c" [selected]="c === value(field)">{{ c }}</option> }</select> }
              @else if (field.kind === 'lines' || field.kind === 'text') { <textarea #v rows="3" maxlength="4000" [value]="value(field)" (change)="put(field, v.value)"></textarea> }
              @else { <input #v [type]="field.kind === 'date' ? 'date' : 'text'" [attr.inputmode]="field.kind === 'number' || field.kind === 'minutes' ? 'decimal' : null" maxlength="2000" [value]="value(field)" (change)="put(field, v.value)" /> }
              @if (faults()[field.key]; as wrong) { <small class="wrong" role="alert">{{ wrong }}</small> } @else if (field.hint || field.kind === 'lines') { <small>{{ field.hint || 'One on a line.' }}</small> }</label>
          }
          @if (p.rights.write && isEmpty() && hasStarter()) { <p class="field"><button class="btn small" type="button" (click)="started.emit(f.starter)">Start from the text of “{{ f.name }}”</button></p> }
        }
      </fieldset>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
    }
  `,
  styles: `fieldset { border: 0; padding: 0; margin: 0; min-width: 0; } em { font-style: normal; font-weight: 450; color: var(--soft); } .wrong { color: var(--madder) !important; }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FormatFields {
  protected readonly posts = inject(PostService);
  private readonly measure = inject(MeasureService);
  /** Starter text that should be put into the post. */
  readonly started = output<BodyNode>();
  protected readonly fault = signal('');
  protected readonly faults = signal<Record<string, string>>({});
  protected readonly offered = computed(() => this.measure.formats().filter((f) => !f.retired || f.id === this.posts.post()?.formatId));
  protected readonly format = computed(() => this.measure.formats().find((f) => f.id === this.posts.post()?.formatId) ?? null);
  protected readonly isEmpty = computed(() => bodyText(this.measure.body() ?? EMPTY_BODY) === '');
  protected readonly hasStarter = computed(() => bodyText(this.format()?.starter ?? EMPTY_BODY) !== '');

  protected value(field: FormatField): string {
    const value = this.posts.post()?.formatValues[field.key];
    return Array.isArray(value) ? value.join('\n') : value === undefined ? '' : String(value);
  }

  protected choose(id: string): void {
    void this.store({ formatId: id === '' ? null : Number(id) });
  }

  protected put(field: FormatField, text: string): void {
    const typed = text.trim();
    const value: FormatValue = field.kind === 'lines' ? typed.split('\n').map((l) => l.trim()).filter(Boolean) : (field.kind === 'number' || field.kind === 'minutes') && typed !== '' && Number.isFinite(Number(typed.replace(',', '.'))) ? Number(typed.replace(',', '.')) : typed;
    const wrong = faultOfValue(field, value);
    this.faults.update((f) => ({ ...f, [field.key]: wrong ?? '' }));
    if (wrong) return;
    const { [field.key]: _, ...others } = this.posts.post()!.formatValues;
    void this.store({ formatValues: typed === '' ? others : { ...others, [field.key]: value } });
  }

  private async store(changes: { formatId?: number | null; formatValues?: FormatValues }): Promise<void> {
    try {
      await this.posts.change(changes);
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    }
  }
}
