import { unzipSync } from 'fflate';
import mammoth from 'mammoth';
import MarkdownIt from 'markdown-it';
import { parse as parseYaml } from 'yaml';
import { bodyText, bringIn, placePictures, plainToBody, sayReport, type BringInReport, type BroughtIn, type HtmlElement, type HtmlNode } from '@keyroster/core';
import type { BroughtInView } from '@keyroster/contract';
import type { CurrentPerson } from '../accounts/who.js';
import type { Trx } from '../db/connect.js';
import type { UploadedFile } from '../http/routing.js';
import { ProblemError } from '../http/problem.js';
import { keepPicture } from '../media/keep-picture.js';
import { parseHtml } from './parse-html.js';

const MOST_TEXT_BYTES = 5 * 1024 * 1024;
const MOST_UNZIPPED_BYTES = 120 * 1024 * 1024;
const MOST_PICTURES = 60;

const markdown = new MarkdownIt('commonmark', { html: true }).enable(['table', 'strikethrough']);

interface Read extends Omit<BroughtIn, 'report'> {
  report: BringInReport;
  excerpt: string | null;
}

/**
 * Reads a file as a post: Markdown with YAML front matter, HTML, .docx or plain text, told apart by content first and
 * name second. Pictures that came along are kept in the library. The result is not stored in any post; the desk shows it,
 * and storing it goes through the one door to a post's text.
 */
export async function bringInFile(trx: Trx, person: CurrentPerson, file: UploadedFile): Promise<BroughtInView> {
  const read = await readAs(file);
  const ids = new Map<number, number>();
  for (const picture of read.pictures.slice(0, MOST_PICTURES)) {
    const bytes = Buffer.from(picture.dataUri.slice(picture.dataUri.indexOf(',') + 1), 'base64');
    try {
      ids.set(picture.placeholder, (await keepPicture(trx, person, bytes)).id);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
    }
  }
  const lost = read.pictures.length - ids.size;
  if (lost > 0) {
    read.report.remarks.push(lost === 1 ? 'One picture could not be read and was left out.' : `${lost} pictures could not be read and were left out.`);
    read.report.kept.picture = Math.max(0, (read.report.kept.picture ?? 0) - lost);
  }
  const body = placePictures(read.body, ids);
  if (bodyText(body) === '' && ids.size === 0) throw new ProblemError('wrong-file', `There is no text in “${file.name}”.`);
  return { title: read.title, excerpt: read.excerpt, body, report: read.report, sentence: sayReport(read.report) };
}

async function readAs(file: UploadedFile): Promise<Read> {
  const { bytes, name } = file;
  const ending = /\.([a-z0-9]+)$/i.exec(name)?.[1]?.toLowerCase() ?? '';
  if (bytes.length === 0) throw new ProblemError('wrong-file', `“${name}” is empty.`);
  if (bytes.subarray(0, 4).equals(Buffer.from('PK\u0003\u0004', 'latin1'))) return { ...bringIn(parseHtml(await docxToHtml(bytes, name))), excerpt: null };
  if (ending === 'docx') throw new ProblemError('wrong-file', `“${name}” is not a Word document we can read; it may be damaged. Open it in your word processor, save it again as .docx, and bring that in.`);
  const text = decode(bytes);
  if (text === null) throw new ProblemError('wrong-file', `“${name}” is not a text. Bring in Markdown, HTML, Word (.docx) or plain text.`);
  if (bytes.length > MOST_TEXT_BYTES) throw new ProblemError('too-large', `“${name}” is larger than 5 MB of text, which is more than one post can hold.`);
  if (ending === 'html' || ending === 'htm' || /^\s*(<!doctype html|<html)/i.test(text)) {
    return { ...bringIn(parseHtml(text)), excerpt: null };
  }
  if (ending === 'md' || ending === 'markdown') return readMarkdown(text);
  const body = plainToBody(text);
  return { title: null, body, pictures: [], excerpt: null, report: { kept: { paragraph: body.content?.length ?? 0 }, dropped: {}, remarks: [] } };
}

async function docxToHtml(bytes: Buffer, name: string): Promise<string> {
  const damaged = new ProblemError('wrong-file', `“${name}” is not a Word document we can read; it may be damaged. Open it in your word processor, save it again as .docx, and bring that in.`);
  let unzipped = 0;
  let isWord = false;
  try {
    // Reads the directory of the zip only: nothing is unpacked before its declared size is known.
    unzipSync(bytes, { filter: (entry) => { unzipped += entry.originalSize; isWord ||= entry.name === 'word/document.xml'; return false; } });
  } catch {
    throw damaged;
  }
  if (!isWord) throw damaged;
  if (unzipped > MOST_UNZIPPED_BYTES) throw new ProblemError('too-large', `“${name}” unpacks to more than 120 MB, which is more than one post can hold.`);
  try {
    return (await mammoth.convertToHtml({ buffer: bytes }, { styleMap: ["p[style-name='Title'] => h1:fresh", "p[style-name='Quote'] => blockquote:fresh", "p[style-name='Intense Quote'] => blockquote:fresh"] })).value;
  } catch {
    throw damaged;
  }
}

/** Text by its byte order mark, else UTF-8, else (old files) Windows-1252; null when it is no text. */
function decode(bytes: Buffer): string | null {
  const bom = bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff ? 'utf-16be' : null;
  if (bom) return new TextDecoder(bom).decode(bytes);
  if (bytes.includes(0)) return null;
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    const text = new TextDecoder('windows-1252').decode(bytes);
    const odd = (text.match(/[\u0001-\u0008\u000e-\u001f]/g) ?? []).length; // eslint-disable-line no-control-regex
    return odd > text.length / 100 ? null : text;
  }
}

/** Markdown by CommonMark, with tables; YAML front matter gives title and excerpt. */
export function readMarkdown(text: string): Read {
  const front = /^\ufeff?---[ \t]*\r?\n([\s\S]{0,20000}?)\r?\n(?:---|\.\.\.)[ \t]*(?:\r?\n|$)/.exec(text);
  const meta = front ? readFrontMatter(front[1]!) : null;
  const source = front && meta ? text.slice(front[0].length) : text;
  const read = bringIn(withTicks(parseHtml(markdown.render(source))));
  if (front && !meta) read.report.remarks.push('The front matter could not be read as YAML and stays in the text.');
  const known = ['title', 'excerpt', 'description', 'summary'];
  const left = meta ? Object.keys(meta).filter((key) => !known.includes(key)) : [];
  if (left.length > 0) read.report.remarks.push(`Front matter left out: ${left.slice(0, 12).join(', ')}.`);
  const text1 = (value: unknown, most: number) => (typeof value === 'string' && value.trim() ? value.trim().slice(0, most) : null);
  return { ...read, title: text1(meta?.['title'], 300) ?? read.title, excerpt: text1(meta?.['excerpt'] ?? meta?.['description'] ?? meta?.['summary'], 1000) };
}

/** Task list items of Markdown (`- [x] kettle`) as the check boxes they mean. */
function withTicks(root: HtmlElement): HtmlElement {
  const firstText = (node: HtmlElement): { holder: HtmlElement; text: string } | null => {
    const first = node.children[0];
    if (typeof first === 'string') return first.trim() === '' && node.children.length > 1 ? firstText({ ...node, children: node.children.slice(1) }) : { holder: node, text: first };
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
        return typeof child === 'string' ? child.trimStart().slice(4) : { ...child, children: strip(child.children) };
      });
    };
    return { ...node, children: [{ tag: 'input', attrs: { type: 'checkbox', ...(tick[1] === ' ' ? {} : { checked: '' }) }, children: [] }, ...strip(children)] };
  };
  return visit(root);
}

function readFrontMatter(yaml: string): Record<string, unknown> | null {
  try {
    const value: unknown = parseYaml(yaml, { maxAliasCount: 20, logLevel: 'silent' });
    return typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Record<string, unknown>) : null;
  } catch {
    return null;
  }
}
