import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output, signal } from '@angular/core';
import type { FormatView } from '@keyroster/contract';
import { FIELD_KINDS, FIELD_KIND_NAMES, faultOfFields, type FieldKind, type FormatField } from '@keyroster/core';
import { Api, sentenceOf } from '../api/api';

/** One format: its name, its fields with their kinds, and the text posts start from. */
@Component({
  selector: 'kr-format-form',
  template: `
    <form (submit)="store($event, name.value, hint.value, text.value)" novalidate>
      <h2>{{ format()?.name ?? 'New format' }}</h2>
      @if (fault()) { <p class="fault" role="alert">{{ fault() }}</p> }
      <fieldset [disabled]="!editable()">
        <div class="two"><label class="field"><span>Name</span><input #name maxlength="60" [value]="format()?.name ?? ''" /></label><label class="field"><span>In a sentence</span><input #hint maxlength="300" [value]="format()?.hint ?? ''" /></label></div>
        <table><caption class="unseen">Fields</caption><thead><tr><th scope="col">Field</th><th scope="col">Takes</th><th scope="col">Hint, or what to choose from</th><th scope="col">Wanted</th><th scope="col"><span class="unseen">Order</span></th></tr></thead><tbody>
          @for (f of fields(); track f.key; let i = $index; let last = $last) {
            <tr><td><input [value]="f.label" maxlength="80" [attr.aria-label]="'Name of field ' + (i + 1)" (input)="put(i, { label: $any($event.target).value })" /></td>
              <td><select [attr.aria-label]="'Kind of ' + f.label" (change)="put(i, { kind: $any($event.target).value })">@for (k of kinds; track k) { <option [value]="k" [selected]="k === f.kind">{{ kindNames[k] }}</option> }</select></td>
              <td>@if (f.kind === 'choice') { <input [value]="f.choices.join(', ')" maxlength="2000" [attr.aria-label]="'Choices of ' + f.label" placeholder="parted by commas" (change)="put(i, { choices: split($any($event.target).value) })" /> } @else { <input [value]="f.hint" maxlength="200" [attr.aria-label]="'Hint of ' + f.label" (change)="put(i, { hint: $any($event.target).value })" /> }</td>
              <td><input type="checkbox" [checked]="f.required" [attr.aria-label]="f.label + ' is wanted'" (change)="put(i, { required: $any($event.target).checked })" /></td>
              <td class="row"><button type="button" class="btn small plain" [disabled]="i === 0" (click)="move(i, -1)" [attr.aria-label]="f.label + ' up'">↑</button><button type="button" class="btn small plain" [disabled]="last" (click)="move(i, 1)" [attr.aria-label]="f.label + ' down'">↓</button><button type="button" class="btn small plain" (click)="remove(i)" [attr.aria-label]="'Remove ' + f.label">✕</button></td></tr>
          } @empty { <tr><td colspan="5" class="soft">No field yet.</td></tr> }
        </tbody></table>
        <p><button type="button" class="btn small" (click)="add()">Add a field</button></p>
        <label class="field"><span>Starter text, as Markdown</span><textarea #text rows="12" maxlength="100000" [value]="format()?.starterText ?? ''"></textarea><small>Headings with ##, lists with -, things to tick off with - [ ]. A writer puts it into an empty post with one press.</small></label>
      </fieldset>
      <div class="row">@if (editable()) { <button class="btn act" type="submit" [disabled]="busy()">Store the format</button> @if (format(); as f) { <button class="btn" type="button" (click)="retire(f)">{{ f.retired ? 'Offer it again' : 'Retire it' }}</button> } }<button class="btn" type="button" (click)="closed.emit()">Close</button></div>
    </form>
  `,
  styles: `h2 { border-top: 2px solid var(--ink); padding: 6px 0 10px; } fieldset { border: 0; padding: 0; margin: 0; min-width: 0; } .two { display: grid; grid-template-columns: 1fr 2fr; gap: 0 14px; } table { width: 100%; border-collapse: collapse; margin-bottom: 6px; } th { text-align: left; font-weight: 600; font-size: 12px; color: var(--soft); padding: 3px 4px; } td { padding: 3px 4px; vertical-align: middle; } td:nth-child(4) { text-align: center; } td.row { flex-wrap: nowrap; gap: 0; } p { margin-bottom: 12px; } textarea { font: 13px/1.5 ui-monospace, monospace; } @media (max-width: 700px) { .two { grid-template-columns: 1fr; } table, tbody, tr, td { display: block; } thead { display: none; } tr { border-bottom: 1px solid var(--line); padding: 6px 0; } td.row { display: flex; } }`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FormatForm {
  private readonly api = inject(Api);
  readonly format = input.required<FormatView | null>();
  readonly editable = input(true);
  readonly stored = output<FormatView>();
  readonly closed = output();
  protected readonly fields = linkedSignal<FormatField[]>(() => this.format()?.fields ?? []);
  protected readonly kinds = FIELD_KINDS;
  protected readonly kindNames: Record<FieldKind, string> = FIELD_KIND_NAMES;
  protected readonly fault = signal('');
  protected readonly busy = signal(false);
  private readonly keys = computed(() => new Set(this.fields().map((f) => f.key)));

  protected split(text: string): string[] {
    return text.split(',').map((c) => c.trim()).filter(Boolean);
  }
  protected put(i: number, change: Partial<FormatField>): void {
    this.fields.update((fields) => fields.map((f, at) => (at === i ? { ...f, ...change } : f)));
  }
  protected add(): void {
    let n = this.fields().length + 1;
    while (this.keys().has(`field-${n}`)) n++;
    this.fields.update((fields) => [...fields, { key: `field-${n}`, label: '', kind: 'line', required: false, hint: '', choices: [] }]);
    setTimeout(() => document.querySelector<HTMLInputElement>('kr-format-form tbody tr:last-child input')?.focus());
  }
  protected remove(i: number): void {
    this.fields.update((fields) => fields.filter((_, at) => at !== i));
  }
  protected move(i: number, by: -1 | 1): void {
    this.fields.update((fields) => {
      const next = [...fields];
      [next[i], next[i + by]] = [next[i + by]!, next[i]!];
      return next;
    });
  }

  protected async store(event: Event, name: string, hint: string, starterText: string): Promise<void> {
    event.preventDefault();
    const fields = this.fields().map((f) => ({ ...f, label: f.label.trim(), choices: f.kind === 'choice' ? f.choices : [] }));
    const fault = name.trim() === '' ? 'A format needs a name.' : faultOfFields(fields);
    if (fault) return this.fault.set(fault);
    const body = { name: name.trim(), hint: hint.trim(), fields, starterText };
    await this.act(() => { const f = this.format(); return f ? this.api.call('formats.change', { id: f.id, body }) : this.api.call('formats.add', { body }); });
  }

  protected retire(f: FormatView): Promise<void> {
    return this.act(() => this.api.call('formats.change', { id: f.id, body: { retired: !f.retired } }));
  }

  private async act(what: () => Promise<FormatView>): Promise<void> {
    this.busy.set(true);
    try {
      this.stored.emit(await what());
      this.fault.set('');
    } catch (error) {
      this.fault.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
