import type { Mark, Node } from '@tiptap/pm/model';
import { Selection, TextSelection, type EditorState, type Transaction } from '@tiptap/pm/state';
import { Transform } from '@tiptap/pm/transform';
import {
  keyOf,
  makerOf,
  readBlockSuggestion,
  settleSuggestions,
  writeBlockSuggestion,
} from '@keyroster/core';

/** Who suggests, and when. */
export interface Suggesting {
  personId(): number;
  /** To the minute, as keys have it. */
  now(): string;
}

/** So long a suggestion goes on where one types beside it, in ms. */
const GOES_ON_MS = 10 * 60_000;

/** What changed between two nodes: from one place in their content on, up to one in each. */
interface Changed {
  from: number;
  oldTo: number;
  newTo: number;
}

function changedBetween(before: Node, after: Node): Changed | null {
  const from = before.content.findDiffStart(after.content);
  const ends = from === null ? null : before.content.findDiffEnd(after.content);
  if (from === null || !ends) return null;
  // The same letters before and behind: the ends may not overlap the beginning.
  const over = Math.max(0, from - Math.min(ends.a, ends.b));
  return { from, oldTo: ends.a + over, newTo: ends.b + over };
}

/** Does a change lie within one line of words, of the same kind before and after? */
function isInLine(before: Node, after: Node, { from, oldTo, newTo }: Changed): boolean {
  const [old, now] = [before.resolve(from), after.resolve(from)];
  return (
    old.parent.isTextblock &&
    old.sameParent(before.resolve(oldTo)) &&
    now.sameParent(after.resolve(newTo)) &&
    now.parent.hasMarkup(old.parent.type, old.parent.attrs, old.parent.marks) &&
    old.parent.type.allowsMarkType(old.parent.type.schema.marks['inserted']!)
  );
}

/**
 * A person who writes in the middle of what another suggests writes words of their own: null when there is nothing
 * to do.
 */
export function plainWords(before: EditorState, after: EditorState): Transaction | null {
  const changed = changedBetween(before.doc, after.doc);
  if (!changed || changed.newTo === changed.from || !isInLine(before.doc, after.doc, changed)) return null;
  const { from, oldTo, newTo } = changed;
  if (after.doc.textBetween(from, newTo) === before.doc.textBetween(from, oldTo)) return null;
  const { inserted, deleted } = after.schema.marks;
  const tr = after.tr.removeMark(from, newTo, inserted).removeMark(from, newTo, deleted);
  return tr.docChanged ? tr : null;
}

/**
 * What makes a change into a suggestion of it; null when there is nothing to do. Within a line, words are marked as put
 * in or taken out; where blocks changed, those before are suggested to go and those that came to be put in.
 */
export function suggestionOf(
  suggesting: Suggesting,
  before: EditorState,
  after: EditorState,
): Transaction | null {
  const rewrite = new Rewrite(suggesting, before, after);
  if (before.doc.childCount === after.doc.childCount) rewrite.blockByBlock();
  else rewrite.runOfBlocks();
  return rewrite.tr.docChanged ? rewrite.tr : null;
}

class Rewrite {
  readonly tr: Transaction;
  private readonly inserted;
  private readonly deleted;

  constructor(
    private readonly suggesting: Suggesting,
    private readonly before: EditorState,
    private readonly after: EditorState,
  ) {
    this.tr = after.tr;
    this.inserted = after.schema.marks['inserted']!;
    this.deleted = after.schema.marks['deleted']!;
  }

  /** Each block that changed for itself, from the end on, so that places before stay what they are. */
  blockByBlock(): void {
    const [old, now] = [this.before.doc, this.after.doc];
    let at = now.content.size;
    for (let i = now.childCount - 1; i >= 0; i--) {
      const [was, is] = [old.child(i), now.child(i)];
      at -= is.nodeSize;
      // What stands in a block that one put in oneself is part of that suggestion already.
      if (was.eq(is) || (this.isOwnBlock(was) && this.isOwnBlock(is))) continue;
      const changed = was.hasMarkup(is.type, is.attrs, is.marks) ? changedBetween(was, is) : null;
      if (changed && isInLine(was, is, changed)) this.inLine(was, is, changed, at + 1);
      else this.replaceBlocks([was], [is], at);
    }
  }

  /** Blocks came or went: all between those that are the same at both ends. */
  runOfBlocks(): void {
    const [old, now] = [this.before.doc, this.after.doc];
    const most = Math.min(old.childCount, now.childCount);
    let first = 0;
    while (first < most && old.child(first).eq(now.child(first))) first++;
    let last = 0;
    const fromEnd = (doc: Node) => doc.child(doc.childCount - 1 - last);
    while (last < most - first && fromEnd(old).eq(fromEnd(now))) last++;
    const start = sizeOf(blocksOf(now, 0, now.childCount - first));
    this.replaceBlocks(blocksOf(old, first, last), blocksOf(now, first, last), start);
  }

  private isMine = (key: unknown) => makerOf(key)?.personId === this.suggesting.personId();
  private isOwnWord(node: Node): boolean {
    const mark = this.inserted.isInSet(node.marks);
    return mark !== undefined && this.isMine(mark.attrs['key']);
  }
  private isOwnBlock(block: Node): boolean {
    const suggested = readBlockSuggestion(block.attrs['suggested']);
    return suggested?.does === 'inserted' && this.isMine(suggested.key);
  }

  private inLine(was: Node, is: Node, { from, oldTo, newTo }: Changed, start: number): void {
    const key = this.keyBeside(is, from, newTo);
    const kept: Node[] = [];
    was.slice(from, oldTo).content.forEach((node) => {
      if (this.isOwnWord(node)) return;
      const isOut = this.deleted.isInSet(node.marks);
      kept.push(isOut ? node : node.mark(this.deleted.create({ key }).addToSet(node.marks)));
    });
    const come: Node[] = [];
    is.slice(from, newTo).content.forEach((node) => {
      const marks = this.deleted.removeFromSet(node.marks) as Mark[];
      come.push(node.mark(this.isOwnWord(node) ? marks : this.inserted.create({ key }).addToSet(marks)));
    });
    const [place, size] = [start + from, sizeOf(kept)];
    this.tr.replaceWith(place, start + newTo, [...kept, ...come]);
    const { anchor, head } = this.after.selection;
    if (head < place || head > start + newTo) return;
    if (come.length > 0) {
      const moved = (pos: number) => (pos >= place ? pos + size : pos);
      this.tr.setSelection(TextSelection.create(this.tr.doc, moved(anchor), moved(head)));
      return;
    }
    // Deleted forwards, the caret goes past what is marked, so that the next press takes the next letter.
    const { empty, head: caret } = this.before.selection;
    this.tr.setSelection(TextSelection.create(this.tr.doc, empty && caret === place ? place + size : place));
  }

  /** One's own suggestion beside the change goes on; else a new one begins. */
  private keyBeside(block: Node, from: number, newTo: number): string {
    for (const node of [block.resolve(from).nodeBefore, block.resolve(newTo).nodeAfter])
      for (const { type, attrs } of node?.marks ?? []) {
        const key = type === this.inserted || type === this.deleted ? (attrs['key'] as string) : null;
        if (key !== null && this.isMine(key) && this.isRecent(makerOf(key)!.at)) return key;
      }
    return this.newKey();
  }

  private isRecent = (at: string) =>
    Math.abs(Date.parse(this.suggesting.now()) - Date.parse(at)) <= GOES_ON_MS;
  private newKey = () =>
    keyOf({
      personId: this.suggesting.personId(),
      at: this.suggesting.now(),
      id: Math.random().toString(36).slice(2, 8) || '0',
    });

  private replaceBlocks(goes: readonly Node[], comes: readonly Node[], start: number): void {
    const { tr } = this;
    const end = start + sizeOf(comes);
    // A fold line is moved by those who write; everything else may be suggested.
    if (comes.some(isFold)) {
      tr.replaceWith(start, end, [...goes]).setSelection(Selection.near(tr.doc.resolve(start)));
      return;
    }
    const key = this.newKey();
    const kept = goes
      .filter((block) => !this.isOwnBlock(block))
      .map((block) => (isOut(block) ? block : suggestedAs(block, 'deleted', key)));
    const made = cleaned(this.after.doc, comes).map((block) => suggestedAs(block, 'inserted', key));
    // What one put in oneself, and nothing else: the block that a text always has stays.
    if (kept.length + made.length === 0 && this.after.doc.childCount === comes.length) return;
    tr.replaceWith(start, end, [...kept, ...made]);
    const { head } = this.after.selection;
    if (head < start || head > end) return;
    const inside = Math.min(head - start, sizeOf(made) - 1);
    const at = made.length > 0 ? start + sizeOf(kept) + inside : start;
    tr.setSelection(Selection.near(tr.doc.resolve(Math.min(at, tr.doc.content.size))));
  }
}

const isFold = (block: Node) => block.type.name === 'foldLine';
const isOut = (block: Node) => readBlockSuggestion(block.attrs['suggested'])?.does === 'deleted';
const sizeOf = (nodes: readonly Node[]) => nodes.reduce((sum, n) => sum + n.nodeSize, 0);

/** The blocks of a document without so many at its beginning and at its end. */
function blocksOf(doc: Node, first: number, last: number): Node[] {
  const found: Node[] = [];
  for (let i = first; i < doc.childCount - last; i++) found.push(doc.child(i));
  return found;
}

const withSuggestion = (block: Node, suggested: string | null): Node =>
  block.type.create({ ...block.attrs, suggested }, block.content, block.marks);
const suggestedAs = (block: Node, does: 'inserted' | 'deleted', key: string): Node =>
  withSuggestion(block, writeBlockSuggestion({ does, key }));

/** Blocks as they would be: what is suggested in them stays with those that they take the place of. */
function cleaned(doc: Node, made: readonly Node[]): Node[] {
  if (made.length === 0) return [];
  const tr = new Transform(
    doc.type.create(
      null,
      made.map((block) => withSuggestion(block, null)),
    ),
  );
  settleSuggestions(tr, () => 'accept');
  return blocksOf(tr.doc, 0, 0);
}
