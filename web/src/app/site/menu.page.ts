import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { FormGroup } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatMenuModule } from '@angular/material/menu';
import {
  MAX_MENU,
  MAX_PANELS,
  MENU_PAGES,
  PANEL_KINDS,
  menuPageLabel,
  newPanel,
  panelTitle,
  sameValue,
  type MenuEntry,
  type Panel,
  type PanelKind,
} from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { EmptyState } from '../ui/empty-state';
import { ErrorLine } from '../ui/error-line';
import { FormMerge } from '../ui/form-merge';
import { Messages } from '../ui/messages.service';
import { SectionHead } from '../ui/section-head';
import { TwoValues } from '../ui/two-values';
import { watchUnsaved } from '../ui/unsaved';
import { EntryForm } from './entry-form';
import { OrderedList } from './ordered-list';
import { PanelForm } from './panel-form';
import { PostPicker, type PickedPost } from './post-picker';
import { SiteHead } from './site-head';
import { SiteService } from './site.service';

interface Arranged {
  menu: readonly MenuEntry[];
  panels: readonly Panel[];
}

/** What the menu leads to, and what stands beside the posts; both put in order by dragging or by keys. */
@Component({
  imports: [
    MatButton,
    MatMenuModule,
    EmptyState,
    EntryForm,
    ErrorLine,
    OrderedList,
    PanelForm,
    PostPicker,
    SectionHead,
    SiteHead,
    TwoValues,
  ],
  providers: [SiteService],
  templateUrl: './menu.page.html',
  styleUrl: './menu.page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MenuPage {
  protected readonly service = inject(SiteService);
  protected readonly session = inject(SessionService);
  private readonly messages = inject(Messages);
  protected readonly pages = MENU_PAGES;
  protected readonly kinds = PANEL_KINDS;
  protected readonly pageLabel = menuPageLabel;
  protected readonly panelTitle = panelTitle;
  protected readonly menu = signal<readonly MenuEntry[]>([]);
  protected readonly panels = signal<readonly Panel[]>([]);
  protected readonly open = signal<{ of: 'menu' | 'panels'; index: number } | null>(null);
  private readonly picked = signal<ReadonlyMap<number, string>>(new Map());

  protected readonly full = computed(() => this.menu().length >= MAX_MENU);
  protected readonly manyPanels = computed(() => this.panels().length >= MAX_PANELS);
  protected readonly merge = new FormMerge<Arranged>(new FormGroup({}), {
    labels: { menu: 'Menu', panels: 'Side panels' },
    read: () => ({ menu: this.menu(), panels: this.panels() }),
    draw: {
      menu: (menu) => {
        this.menu.set(menu);
        this.close('menu');
      },
      panels: (panels) => {
        this.panels.set(panels);
        this.close('panels');
      },
    },
    say: {
      menu: (menu) => menu.map(this.entryName).join(', ') || 'empty',
      panels: (panels) =>
        panels.map((p) => `${this.panelName(p)}${p.shown ? '' : ' (hidden)'}`).join(', ') || 'empty',
    },
  });
  protected readonly unsaved = computed(() => this.merge.isUnsaved());

  constructor() {
    watchUnsaved(() => this.unsaved());
    effect(() => {
      const site = this.service.site();
      if (site) untracked(() => this.merge.meet(site));
    });
  }

  protected readonly entryName = (entry: MenuEntry): string => {
    if (entry.label) return entry.label;
    switch (entry.kind) {
      case 'page':
        return menuPageLabel(entry.page);
      case 'category':
        return this.session.category(entry.id)?.name ?? 'a category that is gone';
      case 'post':
        return this.postTitle(entry.id);
      case 'address':
        return entry.url;
    }
  };
  /** Where an entry leads, where its name does not say it. */
  protected readonly entryNote = (entry: MenuEntry): string => {
    switch (entry.kind) {
      case 'page':
        return entry.label ? `page “${menuPageLabel(entry.page)}”` : 'page';
      case 'category':
        return 'category';
      case 'post':
        return this.shown(entry.id) ? 'post' : 'post that readers cannot see: left out';
      case 'address':
        return entry.url;
    }
  };
  protected readonly panelName = (panel: Panel): string => panelTitle(panel) || 'Free text';
  protected readonly panelNote = ({ kind, shown }: Panel): string =>
    shown ? kind : `${kind} · hidden, its settings kept`;

  private postTitle(id: number): string {
    return (
      this.picked().get(id) ??
      this.service.site()?.titles.find((t) => t.id === id)?.title ??
      'a post that is gone'
    );
  }
  private shown(id: number): boolean {
    return this.picked().has(id) || (this.service.site()?.titles.find((t) => t.id === id)?.shown ?? false);
  }

  protected addPage(page: (typeof MENU_PAGES)[number]): void {
    this.putMenu([...this.menu(), { kind: 'page', page, label: '' }]);
  }
  protected addCategory(id: number): void {
    this.putMenu([...this.menu(), { kind: 'category', id, label: '' }]);
  }
  protected addPost({ id, title }: PickedPost): void {
    this.picked.update((known) => new Map(known).set(id, title));
    this.putMenu([...this.menu(), { kind: 'post', id, label: '' }]);
  }
  protected addAddress(): void {
    this.putMenu([...this.menu(), { kind: 'address', url: 'https://', label: 'Elsewhere' }]);
    this.open.set({ of: 'menu', index: this.menu().length - 1 });
  }
  protected addPanel(kind: PanelKind): void {
    this.putPanels([...this.panels(), newPanel(kind)]);
    this.open.set({ of: 'panels', index: this.panels().length - 1 });
  }
  /** A panel that is taken away stays here with what was written in it. */
  protected show(index: number, shown: boolean): void {
    this.putPanels(this.panels().map((p, i) => (i === index ? { ...p, shown } : p)));
  }

  protected putMenu(menu: readonly MenuEntry[]): void {
    this.menu.set(menu);
  }
  protected putPanels(panels: readonly Panel[]): void {
    this.panels.set(panels);
  }
  protected change(index: number, entry: MenuEntry): void {
    this.putMenu(this.menu().map((e, i) => (i === index ? entry : e)));
  }
  protected changePanel(index: number, panel: Panel): void {
    this.putPanels(this.panels().map((p, i) => (i === index ? panel : p)));
  }
  protected remove(index: number): void {
    this.open.set(null);
    this.putMenu(this.menu().filter((_, i) => i !== index));
  }
  protected deletePanel(index: number): void {
    this.open.set(null);
    this.putPanels(this.panels().filter((_, i) => i !== index));
  }
  protected toggle(of: 'menu' | 'panels', index: number): void {
    const open = this.open();
    this.open.set(open?.of === of && open.index === index ? null : { of, index });
  }
  protected isOpen(of: 'menu' | 'panels', index: number): boolean {
    const open = this.open();
    return open?.of === of && open.index === index;
  }

  private close(of: 'menu' | 'panels'): void {
    if (this.open()?.of === of) this.open.set(null);
  }

  protected async save(): Promise<void> {
    if (this.merge.mustChoose()) return;
    const before = this.service.site()!;
    const sent = { menu: this.menu(), panels: this.panels() };
    const changed = {
      menu: !sameValue(sent.menu, before.menu),
      panels: !sameValue(sent.panels, before.panels),
    };
    const saved = await this.service.change({
      ...(changed.menu ? { menu: [...sent.menu] } : {}),
      ...(changed.panels ? { panels: [...sent.panels] } : {}),
    });
    if (!saved) return;
    this.merge.saved(sent);
    const after = this.service.site()!;
    this.messages.done('Saved. Readers see it now.', async () => {
      const { menu, menuIsUsual, panels } = before;
      await this.service.change(
        {
          ...(changed.menu ? { menu: menuIsUsual ? null : menu } : {}),
          ...(changed.panels ? { panels } : {}),
        },
        after,
      );
    });
  }
  protected cancel(): void {
    const site = this.service.site();
    if (site) this.merge.open(site);
  }
}
