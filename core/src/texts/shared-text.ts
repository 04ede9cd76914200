import { Node } from 'prosemirror-model';
import { prosemirrorToYXmlFragment, updateYFragment, yXmlFragmentToProsemirrorJSON } from '@tiptap/y-tiptap';
import * as Y from 'yjs';
import {
  bodySchema,
  bodySizeError,
  checkBody,
  EMPTY_BODY,
  type BodyAnswer,
  type BodyNode,
} from '../body/schema.js';

/** Where the text lies within its shared document. */
export const TEXT_FIELD = 'text';

/**
 * Gives an empty text to every block for words that has none, in the parts of a document named. Two people who start to
 * write in the same empty block, without seeing each other, then write into one text. With a text for each, both
 * editors would join the two, and the words of one would be there twice.
 */
export function fillEmptyBlocks(parts: Iterable<unknown>): void {
  for (const block of bareBlocks(parts)) block.insert(0, [new Y.XmlText()]);
}

/** Is there an empty block without a text of its own? */
export const hasBareBlocks = (parts: Iterable<unknown>): boolean => !bareBlocks(parts).next().done;

function* bareBlocks(parts: Iterable<unknown>): Generator<Y.XmlElement> {
  for (const part of parts) {
    if (!(part instanceof Y.XmlFragment)) continue;
    const isBlock = part instanceof Y.XmlElement && bodySchema.nodes[part.nodeName]?.inlineContent;
    if (!isBlock) yield* bareBlocks(part.toArray());
    else if (part.length === 0) yield part;
  }
}

/** A new shared document that holds a text, as one update. Made once a post: two of them would hold it twice. */
export function sharedFrom(body: BodyNode): Uint8Array {
  const doc = new Y.Doc();
  const text = doc.getXmlFragment(TEXT_FIELD);
  prosemirrorToYXmlFragment(Node.fromJSON(bodySchema, body), text);
  fillEmptyBlocks([text]);
  return Y.encodeStateAsUpdate(doc);
}

/** The document that updates make, in whatever order they come and however often. */
export function sharedOf(updates: readonly Uint8Array[]): Y.Doc {
  const doc = new Y.Doc();
  doc.transact(() => updates.forEach((update) => Y.applyUpdate(doc, update)));
  return doc;
}

/** What a shared document holds, whether it fits a text or not. */
export const rawBody = (doc: Y.Doc): BodyNode =>
  yXmlFragmentToProsemirrorJSON(doc.getXmlFragment(TEXT_FIELD)) as BodyNode;

/**
 * The text that a shared document holds. Blocks that fit no text are left out (two changes that each are good may
 * leave one of them behind, and programs may send anything), and of several fold lines the first stays; what is too
 * long or too deep is refused as `checkBody` does.
 */
export function bodyOfShared(doc: Y.Doc): BodyAnswer {
  const { content = [] } = rawBody(doc);
  const whole = checkBody({ type: 'doc', content: content.length > 0 ? content : EMPTY_BODY.content });
  if (whole.ok || bodySizeError({ type: 'doc', content }) !== null) return whole;
  let folds = 0;
  const good = content.filter(
    (block) =>
      checkBody({ type: 'doc', content: [block] }).ok && (block.type !== 'foldLine' || ++folds === 1),
  );
  return good.length > 0 ? checkBody({ type: 'doc', content: good }) : { ok: true, body: EMPTY_BODY };
}

/**
 * Makes a shared document hold another text: what is the same stays, so that people who write in it meanwhile go
 * on. Returns the update that does it, or null when the text is that already.
 */
export function changeShared(doc: Y.Doc, body: BodyNode): Uint8Array | null {
  const before = Y.encodeStateVector(doc);
  let changed = false;
  doc.once('update', () => (changed = true));
  updateYFragment(doc, doc.getXmlFragment(TEXT_FIELD), Node.fromJSON(bodySchema, body), {
    mapping: new Map(),
    isOMark: new Map(),
  });
  if (!changed) return null;
  fillEmptyBlocks([doc.getXmlFragment(TEXT_FIELD)]);
  return Y.encodeStateAsUpdate(doc, before);
}

/**
 * Gives every empty block of a shared document its text, see `fillEmptyBlocks`: documents that were made before that
 * was done have none. Returns the update that does it, or null when nothing is missing.
 */
export function fillShared(doc: Y.Doc): Uint8Array | null {
  const before = Y.encodeStateVector(doc);
  let changed = false;
  doc.once('update', () => (changed = true));
  doc.transact(() => fillEmptyBlocks([doc.getXmlFragment(TEXT_FIELD)]));
  return changed ? Y.encodeStateAsUpdate(doc, before) : null;
}

/** Is this an update of a shared document at all? Anything may come over the wire. */
export function isSharedUpdate(update: Uint8Array): boolean {
  try {
    Y.decodeUpdate(update);
    return true;
  } catch {
    return false;
  }
}
