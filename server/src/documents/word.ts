import { zipSync } from 'fflate';
import mammoth from 'mammoth';
import { importHtml, type HtmlElement, type HtmlNode } from '@keyroster/core';
import { ProblemError } from '../http/problem.js';
import { parseHtml } from './parse-html.js';
import type { ReadText } from './read-text.js';
import { unzipWord } from './unzip.js';
import { readWordXml, type TrackedChange } from './word-xml.js';

/** Where the numbers of notes lead to. */
const NOTES = 'key-roster-notes';

const STYLE_MAP = [
  "p[style-name='Title'] => h1.word-title:fresh",
  "p[style-name='Quote'] => blockquote:fresh",
  "p[style-name='Intense Quote'] => blockquote:fresh",
  "p[style-name='Code Block'] => pre:separator('\n')",
  "p[style-name='Divider'] => p.divider:fresh",
  "r[style-name='Code'] => code",
];

/** Reads a .docx: what stands in it as Word shows it, without its styling. */
export async function readWord(bytes: Uint8Array, name: string): Promise<ReadText> {
  const damaged = new ProblemError(
    'wrong-file',
    `“${name}” is not a Word document we can read; it may be damaged. Open it in your ` +
      'word processor, save it again as .docx, and bring that in.',
  );
  const parts = unzipWord(bytes);
  if (parts === 'damaged') throw damaged;
  if (parts === 'too large')
    throw new ProblemError('too-large', `“${name}” unpacks to more than one post can hold.`);
  const xmlOf = (part: string) => new TextDecoder().decode(parts[part]);
  const { xml, dropped, tracked } = readWordXml(
    xmlOf('word/document.xml'),
    Object.keys(parts)
      .filter((part) => /^word\/(?:header|footer)/.test(part))
      .map((part) => ({ name: part, xml: xmlOf(part) })),
  );
  let html: string;
  try {
    const buffer = Buffer.from(
      zipSync({ ...parts, 'word/document.xml': new TextEncoder().encode(xml) }, { level: 0 }),
    );
    html = (
      await mammoth.convertToHtml(
        { buffer },
        { styleMap: [...STYLE_MAP, ...tracked.map(changeStyle)], ignoreEmptyParagraphs: false },
      )
    ).value
      // A divider's paragraph is its line, whatever stands for it.
      .replace(/<p class="divider">.*?<\/p>/gs, '<hr />');
  } catch {
    throw damaged;
  }
  const read = importHtml(withChanges(withNotes(parseHtml(html)), tracked), { suggestions: true });
  for (const [kind, n] of Object.entries(dropped) as [keyof typeof dropped, number][])
    read.report.dropped[kind] = (read.report.dropped[kind] ?? 0) + n;
  return { ...read, excerpt: null };
}

const changeStyle = ({ style, tag }: TrackedChange): string => `r.${style} => ${tag}.${style}`;

/** Tracked changes with who made them and when. */
function withChanges(root: HtmlElement, tracked: readonly TrackedChange[]): HtmlElement {
  if (tracked.length === 0) return root;
  const by = new Map(tracked.map((t) => [t.style, t]));
  const withChange = (node: HtmlNode): HtmlNode => {
    if (typeof node === 'string') return node;
    const change = by.get(node.attrs['class'] ?? '');
    const attrs = change
      ? { datetime: change.at, 'data-by': change.by, 'data-suggestion': change.id }
      : node.attrs;
    return { ...node, attrs, children: node.children.map(withChange) };
  };
  return withChange(root) as HtmlElement;
}

/**
 * Footnotes and endnotes stand under a heading of their own, which their numbers in the text lead to; the way
 * back is left out.
 */
function withNotes(root: HtmlElement): HtmlElement {
  const isNotes = (node: HtmlElement) =>
    node.tag === 'ol' &&
    node.children.some((li) => typeof li !== 'string' && /^(?:foot|end)note-/.test(li.attrs['id'] ?? ''));
  const repaired = (node: HtmlNode): HtmlNode[] => {
    if (typeof node === 'string') return [node];
    const { id: _, ...unnamed } = node.attrs;
    const href = node.attrs['href'] ?? '';
    if (/^#(?:foot|end)note-ref-/.test(href)) return [];
    const children = node.children.flatMap(repaired);
    if (isNotes(node))
      return [
        { tag: 'h2', attrs: { id: NOTES }, children: ['Notes'] },
        { ...node, children },
      ];
    if (/^#(?:foot|end)note-/.test(href))
      return [{ ...node, attrs: { ...unnamed, href: `#${NOTES}` }, children }];
    return [
      { ...node, attrs: /^(?:foot|end)note-/.test(node.attrs['id'] ?? '') ? unnamed : node.attrs, children },
    ];
  };
  return { ...root, children: root.children.flatMap(repaired) };
}
