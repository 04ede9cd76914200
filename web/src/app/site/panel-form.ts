import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAX_PANEL_LINKS, PANEL_COUNT, panelTitle, type Panel } from '@keyroster/core';
import { NumberField, TextField } from '../ui/fields';

/** What stands in a side panel, as far as its kind asks for it. */
@Component({
  selector: 'kr-panel-form',
  imports: [MatButton, NumberField, TextField],
  template: `
    <kr-text
      label="Title"
      [placeholder]="usual()"
      [max]="60"
      [value]="panel().title"
      (changed)="set({ title: $event })"
    />
    @if (hasText()) {
      <kr-text
        label="Text"
        rows="5"
        hint="An empty line begins a new paragraph"
        [max]="4000"
        [value]="panel().text"
        (changed)="set({ text: $event })"
      />
    }
    @if (hasCount()) {
      <kr-number
        label="How many"
        [min]="counts.min"
        [max]="counts.max"
        [value]="panel().count"
        (changed)="set({ count: $event ?? counts.usual })"
      />
    }
    @if (hasLinks()) {
      @for (l of panel().links; track $index; let i = $index) {
        <div class="link">
          <kr-text
            [label]="'Link ' + (i + 1)"
            [max]="60"
            [value]="l.label"
            (changed)="link(i, { label: $event })"
          />
          <kr-text label="leads to" [max]="500" [value]="l.url" (changed)="link(i, { url: $event })" />
          <button matButton="outlined" class="small" type="button" (click)="drop(i)">Take away</button>
        </div>
      }
    }
    <p class="row">
      @if (hasLinks()) {
        <button
          matButton="outlined"
          class="small"
          type="button"
          [disabled]="panel().links.length >= most"
          (click)="add()"
        >
          Add a link
        </button>
      }
      <button matButton="outlined" class="small refuse" type="button" (click)="removed.emit()">
        Delete the panel
      </button>
    </p>
  `,
  styles: `
    :host {
      display: grid;
      gap: 4px;
      padding: 6px 0 2px;
    }
    .link {
      display: grid;
      grid-template-columns: 1fr 2fr auto;
      gap: 0 8px;
      align-items: end;
    }
    .link button {
      margin-bottom: 4px;
    }
    @media (max-width: 700px) {
      .link {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PanelForm {
  readonly panel = input.required<Panel>();
  readonly changed = output<Panel>();
  readonly removed = output();
  protected readonly counts = PANEL_COUNT;
  protected readonly most = MAX_PANEL_LINKS;
  protected readonly usual = computed(() => panelTitle({ kind: this.panel().kind, title: '' }));
  protected readonly hasText = computed(() =>
    ['about', 'free text', 'links', 'letter'].includes(this.panel().kind),
  );
  protected readonly hasCount = computed(() =>
    ['recent posts', 'recent comments', 'months'].includes(this.panel().kind),
  );
  protected readonly hasLinks = computed(() => ['about', 'free text', 'links'].includes(this.panel().kind));

  protected set(changes: Partial<Panel>): void {
    this.changed.emit({ ...this.panel(), ...changes });
  }
  protected link(index: number, changes: Partial<Panel['links'][number]>): void {
    this.set({ links: this.panel().links.map((l, i) => (i === index ? { ...l, ...changes } : l)) });
  }
  protected add(): void {
    this.set({ links: [...this.panel().links, { label: '', url: 'https://' }] });
  }
  protected drop(index: number): void {
    this.set({ links: this.panel().links.filter((_, i) => i !== index) });
  }
}
