import { Node } from 'prosemirror-model';
import { Transform } from 'prosemirror-transform';
import { bodySchema, canonicalBody, EMPTY_BODY, type BodyNode } from '../body/schema.js';
import { makerOf, readBlockSuggestion } from '../body/suggestion-key.js';

/** What becomes of a suggestion: it is done, or it is undone, or it stays one. */
export type Decide = (key: string) => 'accept' | 'refuse' | 'keep';

const INLINE = ['inserted', 'deleted'] as const;

/** The key of an inline node's suggestion, by what it does to it. */
function inlineKeys(node: Node): Partial<Record<(typeof INLINE)[number], string>> {
  const keys: ReturnType<typeof inlineKeys> = {};
  for (const { type, attrs } of node.marks)
    if (type.name === 'inserted' || type.name === 'deleted') keys[type.name] = attrs['key'] as string;
  return keys;
}

/**
 * Settles suggestions of a document, step by step, from its end to its beginning. Words that were put in go when their
 * suggestion is refused, and words that were taken out when theirs is accepted; so do whole blocks.
 */
export function settleSuggestions(tr: Transform, decide: Decide): void {
  const blocks: { node: Node; pos: number }[] = [];
  tr.doc.forEach((node, pos) => blocks.push({ node, pos }));
  for (const { node, pos } of blocks.reverse()) {
    const block = readBlockSuggestion(node.attrs['suggested']);
    const decided = block ? decide(block.key) : 'keep';
    if (block && decided !== 'keep') {
      if ((decided === 'accept') === (block.does === 'deleted')) {
        deleteBlock(tr, pos, node);
        continue;
      }
      tr.setNodeAttribute(pos, 'suggested', null);
    }
    settleInline(tr, node, pos, decide);
  }
}

/** A text is never without a block. */
function deleteBlock(tr: Transform, pos: number, node: Node): void {
  if (tr.doc.childCount > 1) tr.delete(pos, pos + node.nodeSize);
  else tr.replaceWith(pos, pos + node.nodeSize, tr.doc.type.schema.node('paragraph'));
}

function settleInline(tr: Transform, block: Node, at: number, decide: Decide): void {
  const found: { from: number; to: number; node: Node }[] = [];
  block.descendants((node, pos) => {
    if (!node.isInline || !node.marks.some((m) => INLINE.includes(m.type.name as never))) return;
    const from = at + 1 + pos;
    found.push({ from, to: from + node.nodeSize, node });
  });
  for (const { from, to, node } of found.reverse()) {
    const { inserted, deleted } = inlineKeys(node);
    const [putIn, takenOut] = [inserted && decide(inserted), deleted && decide(deleted)];
    if (putIn === 'refuse' || takenOut === 'accept') {
      tr.delete(from, to);
      continue;
    }
    const { marks } = tr.doc.type.schema;
    if (putIn === 'accept') tr.removeMark(from, to, marks['inserted']);
    if (takenOut === 'refuse') tr.removeMark(from, to, marks['deleted']);
  }
}

/** Does a text hold suggestions? */
export function hasSuggestions(node: BodyNode): boolean {
  if (typeof node.attrs?.['suggested'] === 'string') return true;
  if (node.marks?.some(({ type }) => type === 'inserted' || type === 'deleted')) return true;
  return node.content?.some(hasSuggestions) ?? false;
}

function settled(body: BodyNode, decide: Decide): BodyNode {
  if (!hasSuggestions(body)) return body;
  return canonicalBody(settledNode(Node.fromJSON(bodySchema, body), decide));
}

function settledNode(doc: Node, decide: Decide): Node {
  const tr = new Transform(doc);
  settleSuggestions(tr, decide);
  return tr.doc;
}

/** The text before anything was suggested: what readers, checks, counts, pieces and exports see. */
export const asItWas = (body: BodyNode): BodyNode => settled(body, () => 'refuse');

/** The text if all that is suggested were accepted. */
export const asItWouldBe = (body: BodyNode): BodyNode => settled(body, () => 'accept');

/** The text with these suggestions accepted or refused, and the others as they are. */
export const settleIn = (body: BodyNode, keys: readonly string[], how: 'accept' | 'refuse'): BodyNode =>
  settled(body, (key) => (keys.includes(key) ? how : 'keep'));

/**
 * Did a person do nothing to a text but suggest, and take back what they had suggested themselves? So it is when both
 * states are the same without anything of theirs: no word of the text and no suggestion of others changed.
 */
export function suggestsOnly(before: BodyNode, after: BodyNode, personId: number): boolean {
  const others: Decide = (key) => (makerOf(key)?.personId === personId ? 'refuse' : 'keep');
  const without = (body: BodyNode) => {
    const doc = Node.fromJSON(bodySchema, { ...body, content: body.content ?? EMPTY_BODY.content });
    doc.check();
    return settledNode(doc, others);
  };
  try {
    return without(after).eq(without(before));
  } catch {
    return false;
  }
}
