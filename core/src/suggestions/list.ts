import type { BodyNode } from '../body/schema.js';
import { makerOf, readBlockSuggestion, type SuggestionMaker } from '../body/suggestion-key.js';

/** One suggestion of a text, as people read it. */
export interface Suggestion extends SuggestionMaker {
  key: string;
  kind: 'insert' | 'delete' | 'replace' | 'format' | 'insert block' | 'delete block' | 'replace block';
  /** The words that would go, and those that would come. */
  was: string;
  becomes: string;
}

interface Gathered {
  was: string;
  becomes: string;
  blocks: boolean;
}

/** The suggestions of a text, in the order in which they stand. */
export function suggestionsIn(body: BodyNode): Suggestion[] {
  const found = new Map<string, Gathered>();
  const add = (key: string, side: 'was' | 'becomes', text: string, block: boolean) => {
    const known = found.get(key) ?? { was: '', becomes: '', blocks: false };
    found.set(key, known);
    known[side] += block && known[side] !== '' ? `\n${text}` : text;
    known.blocks ||= block;
  };
  for (const block of body.content ?? []) {
    const whole = readBlockSuggestion(block.attrs?.['suggested']);
    if (whole) add(whole.key, whole.does === 'deleted' ? 'was' : 'becomes', wordsOf(block), true);
    walk(block, (text, { inserted, deleted }) => {
      if (deleted) add(deleted, 'was', text, false);
      if (inserted) add(inserted, 'becomes', text, false);
    });
  }
  return [...found].flatMap(([key, gathered]) => {
    const maker = makerOf(key);
    return maker
      ? [{ key, ...maker, kind: kindOf(gathered), was: gathered.was, becomes: gathered.becomes }]
      : [];
  });
}

function kindOf({ was, becomes, blocks }: Gathered): Suggestion['kind'] {
  if (!blocks && was !== '' && was === becomes) return 'format';
  const kind = was === '' ? 'insert' : becomes === '' ? 'delete' : 'replace';
  return blocks ? `${kind} block` : kind;
}

type Keys = Partial<Record<'inserted' | 'deleted', string>>;

function walk(node: BodyNode, see: (text: string, keys: Keys) => void): void {
  const text = node.type === 'hardBreak' ? '\n' : node.text;
  if (text !== undefined)
    see(
      text,
      Object.fromEntries((node.marks ?? []).map(({ type, attrs }) => [type, attrs?.['key']])) as Keys,
    );
  for (const child of node.content ?? []) walk(child, see);
}

/** What a block says; of one without words, what it is. */
function wordsOf(block: BodyNode): string {
  let words = '';
  walk(block, (text) => (words += text));
  return words || (block.type === 'paragraph' ? '' : `(${block.type})`);
}
