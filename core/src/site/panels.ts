/** What can stand beside the posts. */
export const PANEL_KINDS = [
  'about',
  'recent posts',
  'recent comments',
  'categories',
  'months',
  'search',
  'letter',
  'links',
  'free text',
  'spotlight',
] as const;
export type PanelKind = (typeof PANEL_KINDS)[number];

/** A side panel. One that is taken away keeps what was written in it. */
export interface Panel {
  kind: PanelKind;
  shown: boolean;
  /** What stands over it; empty: as its kind is called. */
  title: string;
  /** Of about and free text: paragraphs, with empty lines between them. */
  text: string;
  links: readonly { label: string; url: string }[];
  /** Of posts and months: how many. */
  count: number;
}

export const MAX_PANELS = 20;
export const MAX_PANEL_LINKS = 30;
export const PANEL_COUNT = { min: 1, max: 24, usual: 5 } as const;

const TITLES: Record<PanelKind, string> = {
  about: 'About',
  'recent posts': 'Newest',
  'recent comments': 'Lately said',
  categories: 'Categories',
  months: 'By month',
  search: 'Search',
  letter: 'The letter',
  links: 'Elsewhere',
  'free text': '',
  spotlight: 'In the spotlight',
};
export const panelTitle = ({ kind, title }: Pick<Panel, 'kind' | 'title'>): string => title || TITLES[kind];

export const newPanel = (kind: PanelKind): Panel => ({
  kind,
  shown: true,
  title: '',
  text: '',
  links: [],
  count: PANEL_COUNT.usual,
});

/** Paragraphs of a text, without empty ones. */
export const paragraphsOf = (text: string): string[] =>
  text
    .split(/\n\s*\n/)
    .map((p) => p.trim())
    .filter((p) => p !== '');
