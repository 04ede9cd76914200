import chardet from 'chardet';
import iconv from 'iconv-lite';
import { zipSync } from 'fflate';
import mammoth from 'mammoth';
import MarkdownIt from 'markdown-it';
import { parse as parseYaml } from 'yaml';
import {
  importHtml,
  plainToBody,
  type HtmlElement,
  type HtmlNode,
  type ImportReport,
  type ImportedText,
} from '@keyroster/core';
import { ProblemError } from '../http/problem.js';
import { parseHtml } from './parse-html.js';
import { unzipWord } from './unzip.js';
import { readWordXml } from './word-xml.js';

const MAX_TEXT_BYTES = 5 * 1024 * 1024;

const markdown = new MarkdownIt('commonmark', { html: true }).enable(['table', 'strikethrough']);

/** A document as it was read: text, pictures as data, and what was kept and dropped. */
export interface ReadText extends Omit<ImportedText, 'report'> {
  report: ImportReport;
  excerpt: string | null;
}

/**
 * Reads a document: Markdown with YAML front matter, HTML, .docx or plain text, told apart by content first and
 * name second. Takes time and memory in proportion to what it is given: done in a worker with limits of both.
 */
export async function readDocument(bytes: Uint8Array, name: string): Promise<ReadText> {
  const ending = /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? '';
  if (bytes.length === 0) throw new ProblemError('wrong-file', `“${name}” is empty.`);
  if (Buffer.from(bytes.subarray(0, 4)).toString('latin1') === 'PK\u0003\u0004') return readWord(bytes, name);
  if (ending === 'docx')
    throw new ProblemError(
      'wrong-file',
      `“${name}” is not a Word document we can read; it may be damaged. Open it in your ` +
        'word processor, save it again as .docx, and bring that in.',
    );
  const decoded = decode(bytes);
  if (decoded === null)
    throw new ProblemError(
      'wrong-file',
      `“${name}” is not a text. Bring in Markdown, HTML, Word (.docx) or plain text.`,
    );
  if (bytes.length > MAX_TEXT_BYTES)
    throw new ProblemError(
      'too-large',
      `“${name}” is larger than 5 MB of text, which is more than one post can hold.`,
    );
  const read = readText(decoded.text, ending);
  if (decoded.remark !== null) read.report.remarks.push(decoded.remark);
  return read;
}

function readText(text: string, ending: string): ReadText {
  if (ending === 'html' || ending === 'htm' || /^\s*(<!doctype html|<html)/i.test(text))
    return { ...importHtml(parseHtml(text)), excerpt: null };
  if (ending === 'md' || ending === 'markdown') return readMarkdown(text);
  const body = plainToBody(text);
  return {
    title: null,
    body,
    pictures: [],
    excerpt: null,
    report: { kept: { paragraph: body.content?.length ?? 0 }, dropped: {}, remarks: [] },
  };
}

const STYLE_MAP = [
  "p[style-name='Title'] => h1.word-title:fresh",
  "p[style-name='Quote'] => blockquote:fresh",
  "p[style-name='Intense Quote'] => blockquote:fresh",
  "p[style-name='Code Block'] => pre:separator('\n')",
  "p[style-name='Divider'] => p.divider:fresh",
  "r[style-name='Code'] => code",
];

async function readWord(bytes: Uint8Array, name: string): Promise<ReadText> {
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
  const { xml, dropped, insertions } = readWordXml(
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
      await mammoth.convertToHtml({ buffer }, { styleMap: STYLE_MAP, ignoreEmptyParagraphs: false })
    ).value
      // A divider's paragraph is its line, whatever stands for it.
      .replace(/<p class="divider">.*?<\/p>/gs, '<hr />');
  } catch {
    throw damaged;
  }
  const read = importHtml(withNotes(parseHtml(html)));
  for (const [kind, n] of Object.entries(dropped) as [keyof typeof dropped, number][])
    read.report.dropped[kind] = (read.report.dropped[kind] ?? 0) + n;
  // Classes of the way here are nobody's styling.
  if (insertions > 0)
    read.report.remarks.push(
      `${insertions === 1 ? 'One tracked insertion was' : `${insertions} tracked insertions were`} taken in as if accepted.`,
    );
  return { ...read, excerpt: null };
}

/**
 * Footnotes and endnotes stand under a heading of their own, which their numbers in the text lead to; the way
 * back is left out.
 */
function withNotes(root: HtmlElement): HtmlElement {
  const isNotes = (node: HtmlElement) =>
    node.tag === 'ol' &&
    node.children.some((li) => typeof li !== 'string' && /^(?:foot|end)note-/.test(li.attrs['id'] ?? ''));
  const mended = (node: HtmlNode): HtmlNode[] => {
    if (typeof node === 'string') return [node];
    const { id: _, ...unnamed } = node.attrs;
    const href = node.attrs['href'] ?? '';
    if (/^#(?:foot|end)note-ref-/.test(href)) return [];
    const children = node.children.flatMap(mended);
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
  return { ...root, children: root.children.flatMap(mended) };
}
const NOTES = 'key-roster-notes';

const BOMS: [number[], string][] = [
  [[0xef, 0xbb, 0xbf], 'utf-8'],
  [[0xff, 0xfe], 'utf-16le'],
  [[0xfe, 0xff], 'utf-16be'],
];

/** The encoding that a file declares of itself (HTML, section 4.2.5.5; XML, section 4.3.3), or null. */
function declaredEncoding(bytes: Uint8Array): string | null {
  const start = Buffer.from(bytes.subarray(0, 2048)).toString('latin1');
  return (
    /<meta[^>]+charset\s*=\s*["']?\s*([\w-]+)/i.exec(start)?.[1] ??
    /^\s*<\?xml[^>]+encoding\s*=\s*["']([\w-]+)/i.exec(start)?.[1] ??
    null
  );
}

/** UTF-16 without a mark: every other byte of Western text is 0. */
function looksLikeUtf16(bytes: Uint8Array): string | null {
  const start = bytes.subarray(0, 2000);
  const zeros = [0, 0];
  for (let i = 0; i < start.length; i++) if (start[i] === 0) zeros[i % 2]!++;
  const half = start.length / 2;
  if (zeros[1]! > half * 0.4 && zeros[0]! < half * 0.05) return 'utf-16le';
  return zeros[0]! > half * 0.4 && zeros[1]! < half * 0.05 ? 'utf-16be' : null;
}

/**
 * Text by its byte order mark, by what it declares, as UTF-8, or by what its letters look like; the last is said,
 * since it is a guess. Null when it is no text.
 */
function decode(bytes: Uint8Array): { text: string; remark: string | null } | null {
  /** What does not fit an encoding is not read in it. */
  const strict = (encoding: string) => {
    if (!iconv.encodingExists(encoding)) return null;
    const text = iconv.decode(Buffer.from(bytes), encoding);
    return text.includes('\ufffd') ? null : text;
  };
  const bom = BOMS.find(([mark]) => mark.every((b, i) => bytes[i] === b));
  if (bom) return { text: new TextDecoder(bom[1]).decode(bytes), remark: null };
  const wide = looksLikeUtf16(bytes);
  if (wide) return { text: new TextDecoder(wide).decode(bytes), remark: null };
  if (bytes.includes(0)) return null;
  const declared = declaredEncoding(bytes);
  const asDeclared = declared === null ? null : strict(declared);
  if (asDeclared !== null) return { text: asDeclared, remark: null };
  const utf8 = strict('utf-8');
  if (utf8 !== null) return { text: utf8, remark: null };
  const guess = chardet.detect(bytes) ?? 'windows-1252';
  const encoding = strict(guess) === null ? 'windows-1252' : guess;
  const text = iconv.decode(Buffer.from(bytes), encoding);
  const odd = (text.match(/[\u0001-\u0008\u000e-\u001f]/g) ?? []).length;
  if (odd > text.length / 100) return null;
  return {
    text,
    remark:
      `The file does not say how its letters are written; they were read as ${encoding}. ` +
      'If some look wrong, save it as UTF-8 and bring it in again.',
  };
}

/** Markdown by CommonMark, with tables; YAML front matter gives title and excerpt. */
export function readMarkdown(text: string): ReadText {
  const front = /^\ufeff?---[ \t]*\r?\n([\s\S]{0,20000}?)\r?\n(?:---|\.\.\.)[ \t]*(?:\r?\n|$)/.exec(text);
  const meta = front ? readFrontMatter(front[1]!) : null;
  const source = front && meta ? text.slice(front[0].length) : text;
  const read = importHtml(withTicks(parseHtml(markdown.render(source))));
  if (front && !meta)
    read.report.remarks.push('The front matter could not be read as YAML and stays in the text.');
  const known = ['title', 'excerpt', 'description', 'summary'];
  const left = meta ? Object.keys(meta).filter((key) => !known.includes(key)) : [];
  if (left.length > 0) read.report.remarks.push(`Front matter left out: ${left.slice(0, 12).join(', ')}.`);
  const text1 = (value: unknown, max: number) =>
    typeof value === 'string' && value.trim() ? value.trim().slice(0, max) : null;
  return {
    ...read,
    title: text1(meta?.['title'], 300) ?? read.title,
    excerpt: text1(meta?.['excerpt'] ?? meta?.['description'] ?? meta?.['summary'], 1000),
  };
}

/** Task list items of Markdown (`- [x] done`) as the check boxes they mean. */
function withTicks(root: HtmlElement): HtmlElement {
  const firstText = (node: HtmlElement): { holder: HtmlElement; text: string } | null => {
    const first = node.children[0];
    if (typeof first === 'string')
      return first.trim() === '' && node.children.length > 1
        ? firstText({ ...node, children: node.children.slice(1) })
        : { holder: node, text: first };
    return first && first.tag === 'p' ? firstText(first) : null;
  };
  const visit = (node: HtmlElement): HtmlElement => {
    const children = node.children.map((child) => (typeof child === 'string' ? child : visit(child)));
    const found = node.tag === 'li' ? firstText({ ...node, children }) : null;
    const tick = found && /^\[([ xX])\][ \n]/.exec(found.text.trimStart());
    if (!tick) return { ...node, children };
    const strip = (nodes: HtmlNode[]): HtmlNode[] => {
      let done = false;
      return nodes.map((child) => {
        if (done || (typeof child === 'string' && child.trim() === '')) return child;
        done = true;
        return typeof child === 'string'
          ? child.trimStart().slice(4)
          : { ...child, children: strip(child.children) };
      });
    };
    return {
      ...node,
      children: [
        {
          tag: 'input',
          attrs: { type: 'checkbox', ...(tick[1] === ' ' ? {} : { checked: '' }) },
          children: [],
        },
        ...strip(children),
      ],
    };
  };
  return visit(root);
}

function readFrontMatter(yaml: string): Record<string, unknown> | null {
  try {
    const value: unknown = parseYaml(yaml, { maxAliasCount: 20, logLevel: 'silent' });
    return typeof value === 'object' && value !== null && !Array.isArray(value)
      ? (value as Record<string, unknown>)
      : null;
  } catch {
    return null;
  }
}
