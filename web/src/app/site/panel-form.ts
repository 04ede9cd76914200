import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MAX_PANEL_LINKS, PANEL_COUNT, panelTitle, type Panel } from '@keyroster/core';
import { NumberField, TextField } from '../ui/fields';

/** What stands in a side panel, as far as its kind asks for it. */
@Component({
  selector: 'kr-panel-form',
  imports: [MatButton, NumberField, TextField],
  templateUrl: './panel-form.html',
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
