import { segmentsOf } from '../text/segment.js';
import type { BodyNode } from './schema.js';

const BREAKING = new Set([
  'paragraph',
  'heading',
  'codeBlock',
  'pullQuote',
  'picture',
  'video',
  'button',
  'signUp',
  'contents',
  'horizontalRule',
  'foldLine',
]);

/** Blocks without text of their own, and the attributes whose words readers see. */
const SHOWN_WORDS: Record<string, readonly string[]> = {
  picture: ['caption'],
  video: ['title', 'description'],
  button: ['label'],
  signUp: ['invitation'],
};

/** Every node of a body, in order, parents first. */
export function* nodesOf(body: BodyNode): Generator<BodyNode> {
  yield body;
  for (const child of body.content ?? []) yield* nodesOf(child);
}

/** The plain text of a body or part of one: blocks on lines of their own, hard breaks as line breaks. */
export function bodyText(body: BodyNode): string {
  const lines: string[] = [];
  const visit = (node: BodyNode): void => {
    if (BREAKING.has(node.type)) lines.push(inlineText(node));
    else for (const child of node.content ?? []) visit(child);
  };
  visit(body);
  return lines.filter((line) => line !== '').join('\n');
}

export function inlineText(node: BodyNode): string {
  const shown = SHOWN_WORDS[node.type];
  if (shown)
    return shown
      .map((name) => String(node.attrs?.[name] ?? ''))
      .filter(Boolean)
      .join('\n');
  return (node.content ?? []).map((n) => (n.type === 'hardBreak' ? '\n' : (n.text ?? ''))).join('');
}

/**
 * Words of a text by Unicode word boundaries (UAX #29): a run counts when it holds a letter or a digit. Parts
 * joined by a hyphen or an apostrophe count as one, as writers count them.
 */
export function countWords(text: string): number {
  let count = 0;
  /** Directly behind a word, or behind what joins it to the next. */
  let behind: 'word' | 'joint' | null = null;
  for (const { segment, isWordLike } of segmentsOf(text, 'word')) {
    if (isWordLike) {
      if (behind !== 'joint') count++;
      behind = 'word';
    } else behind = behind === 'word' && /^[-‐‑'’]$/u.test(segment) ? 'joint' : null;
  }
  return count;
}

const counted = new WeakMap<BodyNode, number>();

/** Words of a body as readers see it. Bodies are never changed in place, so each is counted once. */
export function bodyWords(body: BodyNode): number {
  let n = counted.get(body);
  if (n === undefined) counted.set(body, (n = countWords(bodyText(body))));
  return n;
}

/**
 * Minutes to read, at 238 words a minute (Brysbaert 2019, silent reading of English non-fiction), at least 1.
 */
export function readingMinutes(words: number): number {
  return words === 0 ? 0 : Math.max(1, Math.round(words / 238));
}

/** Headings in order, for the outline: text, level and position among headings. */
export function outline(body: BodyNode): { text: string; level: number; index: number }[] {
  return [...nodesOf(body)]
    .filter((n) => n.type === 'heading')
    .map((n, index) => ({ text: inlineText(n), level: Number(n.attrs?.['level'] ?? 2), index }));
}

/** Pictures of a body, posters of its videos among them. */
export function pictureIds(body: BodyNode): number[] {
  const ids = [...nodesOf(body)].flatMap((n) =>
    n.type === 'picture'
      ? [Number(n.attrs?.['media'])]
      : n.type === 'video'
        ? [Number(n.attrs?.['poster'] ?? 0)]
        : [],
  );
  return [...new Set(ids.filter((id) => id !== 0))];
}

/** Videos and captions of a body. */
export function fileIds(body: BodyNode): number[] {
  const ids = [...nodesOf(body)].flatMap((n) =>
    n.type === 'video' ? [Number(n.attrs?.['file'] ?? 0), Number(n.attrs?.['captions'] ?? 0)] : [],
  );
  return [...new Set(ids.filter((id) => id !== 0))];
}

/** Where a body's links and buttons lead, with the words that lead there. */
export function linksOf(body: BodyNode): { href: string; text: string }[] {
  const links: { href: string; text: string }[] = [];
  for (const node of nodesOf(body)) {
    if (node.type === 'button')
      links.push({ href: String(node.attrs?.['href'] ?? ''), text: String(node.attrs?.['label'] ?? '') });
    let before = '';
    for (const child of node.content ?? []) {
      const href = String(child.marks?.find((m) => m.type === 'link')?.attrs?.['href'] ?? '');
      if (href !== '' && href === before) links[links.length - 1]!.text += child.text ?? '';
      else if (href !== '') links.push({ href, text: child.text ?? '' });
      before = href;
    }
  }
  return links;
}

export function picturesWithoutAlt(body: BodyNode): number {
  return [...nodesOf(body)].filter(
    (n) => n.type === 'picture' && String(n.attrs?.['alt'] ?? '').trim() === '',
  ).length;
}

/**
 * The part of a body above its fold line; `folded` tells whether there is more below. Without a fold line:
 * the first two blocks.
 */
export function aboveFold(body: BodyNode): { body: BodyNode; folded: boolean } {
  const blocks = body.content ?? [];
  const at = blocks.findIndex((n) => n.type === 'foldLine');
  const shown = at >= 0 ? blocks.slice(0, at) : blocks.slice(0, 2);
  return { body: { ...body, content: shown }, folded: shown.length < blocks.length };
}
