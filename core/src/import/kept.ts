import type { BodyNode } from '../body/schema.js';
import { isSuggestion } from '../suggestions/outside.js';
import type { ImportReport, Kept } from './report.js';

const KINDS: Record<string, Kept> = {
  heading: 'heading',
  paragraph: 'paragraph',
  bulletList: 'list',
  orderedList: 'list',
  checkList: 'list',
  blockquote: 'quote',
  pullQuote: 'quote',
  table: 'table',
  picture: 'picture',
  video: 'video',
  noteBox: 'note box',
  button: 'button',
  codeBlock: 'code block',
  horizontalRule: 'divider',
};

/** Counts what stands in a text, by kind. */
export function countKept(content: readonly BodyNode[]): ImportReport['kept'] {
  const kept: ImportReport['kept'] = {};
  const add = (kind: Kept) => {
    kept[kind] = (kept[kind] ?? 0) + 1;
  };
  const visit = (node: BodyNode, inBlock: boolean): void => {
    const kind = KINDS[node.type];
    if (kind && !(kind === 'paragraph' && inBlock)) add(kind);
    let last = '';
    for (const child of node.content ?? []) {
      // A passage that keeps its mark over several runs is one passage.
      const marks = (child.marks ?? []).map((m) => JSON.stringify(m));
      // Suggestions are reported separately.
      for (const mark of child.marks ?? [])
        if (!isSuggestion(mark) && !last.includes(JSON.stringify(mark))) add(mark.type as Kept);
      last = marks.join();
      visit(child, inBlock || ['listItem', 'blockquote', 'table'].includes(node.type));
    }
  };
  for (const node of content) visit(node, false);
  return kept;
}
