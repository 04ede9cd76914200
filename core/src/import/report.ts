import { formatList } from '../text/list.js';
import { formatCount } from '../time/format.js';

export type Kept =
  | 'heading'
  | 'paragraph'
  | 'list'
  | 'quote'
  | 'table'
  | 'picture'
  | 'code block'
  | 'divider'
  | 'video'
  | 'note box'
  | 'button'
  | 'link'
  | 'bold'
  | 'italic'
  | 'code';
export type Dropped =
  | 'styling'
  | 'script'
  | 'embed'
  | 'drawing'
  | 'form'
  | 'comment'
  | 'unsafe link'
  | 'picture from elsewhere'
  | 'raised or lowered'
  | 'hidden text'
  | 'page break'
  | 'header or footer'
  | 'other mark';

/** What was kept and what was dropped when a text was brought in: counts by kind. */
export interface ImportReport {
  kept: Partial<Record<Kept, number>>;
  dropped: Partial<Record<Dropped, number>>;
  /** Sentences about anything that was changed rather than kept or dropped. */
  remarks: string[];
}

const KEPT: [Kept, string, string][] = [
  ['heading', 'heading', 'headings'],
  ['paragraph', 'paragraph', 'paragraphs'],
  ['list', 'list', 'lists'],
  ['quote', 'quote', 'quotes'],
  ['table', 'table', 'tables'],
  ['picture', 'picture', 'pictures'],
  ['code block', 'code block', 'code blocks'],
  ['divider', 'divider', 'dividers'],
  ['video', 'video', 'videos'],
  ['note box', 'note box', 'note boxes'],
  ['button', 'button', 'buttons'],
  ['link', 'link', 'links'],
  ['bold', 'bold passage', 'bold passages'],
  ['italic', 'italic passage', 'italic passages'],
  ['code', 'code passage', 'code passages'],
];
const DROPPED: [Dropped, string, string][] = [
  ['styling', 'piece of styling', 'pieces of styling'],
  ['script', 'script', 'scripts'],
  ['embed', 'embedded page', 'embedded pages'],
  ['drawing', 'drawing', 'drawings'],
  ['form', 'form part', 'form parts'],
  ['comment', 'hidden comment', 'hidden comments'],
  ['unsafe link', 'unsafe link', 'unsafe links'],
  [
    'picture from elsewhere',
    'picture from elsewhere (kept as a link)',
    'pictures from elsewhere (kept as links)',
  ],
  ['raised or lowered', 'raised or lowered passage', 'raised and lowered passages'],
  ['hidden text', 'passage of hidden text', 'passages of hidden text'],
  ['page break', 'page break', 'page breaks'],
  ['header or footer', 'header or footer', 'headers and footers'],
  ['other mark', 'underline or strike-through', 'underlines and strike-throughs'],
];

function list<K extends string>(counts: Partial<Record<K, number>>, names: [K, string, string][]): string {
  const parts = names.flatMap(([kind, one, many]) =>
    counts[kind] ? [formatCount(counts[kind]!, one, many)] : [],
  );
  return formatList(parts) || 'nothing';
}

/** One line for the person: `Kept 3 headings and 2 links. Dropped 14 pieces of styling.` */
export function formatReport(report: ImportReport): string {
  return [
    `Kept ${list(report.kept, KEPT)}.`,
    `Dropped ${list(report.dropped, DROPPED)}.`,
    ...report.remarks,
  ].join(' ');
}
