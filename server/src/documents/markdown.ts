import MarkdownIt from 'markdown-it';
import taskLists from 'markdown-it-task-lists';
import { parse } from 'yaml';
import { fileKey, importHtml, maxOf, textFieldsIn, type FileTexts } from '@keyroster/core';
import { parseHtml } from './parse-html.js';
import type { ReadText } from './read-text.js';

const markdown = new MarkdownIt('commonmark', { html: true })
  .enable(['table', 'strikethrough'])
  .use(taskLists, { enabled: true })
  // The boxes say it all; class names that come with them are nobody's styling.
  .use(({ core }) =>
    core.ruler.push('plain lists', ({ tokens }) => {
      for (const { type, attrs } of tokens)
        if (/^(?:list_item|bullet_list|ordered_list)_/.test(type)) dropClass(attrs);
    }),
  );

function dropClass(attrs: [string, string][] | null): void {
  const at = attrs?.findIndex(([name]) => name === 'class') ?? -1;
  if (at >= 0) attrs!.splice(at, 1);
}

/**
 * YAML between two lines of hyphens, or hyphens and dots, at the very start. The packages that take it off end
 * it at the next line of hyphens only, which may be a rule far down the text.
 */
const FRONT_MATTER = /^\ufeff?---[ \t]*\r?\n([\s\S]{0,20000}?)\r?\n(?:---|\.\.\.)[ \t]*(?:\r?\n|$)/;

/** Front matter and the text below it; `meta` is null, and all of it text, when it is no mapping. */
function splitFrontMatter(text: string): { meta: Record<string, unknown> | null; source: string } {
  const front = FRONT_MATTER.exec(text);
  if (!front) return { meta: {}, source: text };
  try {
    const meta: unknown = parse(front[1]!, { maxAliasCount: 20, logLevel: 'silent' });
    if (typeof meta === 'object' && meta !== null && !Array.isArray(meta))
      return { meta: meta as Record<string, unknown>, source: text.slice(front[0].length) };
  } catch {
    // Reported by the caller.
  }
  return { meta: null, source: text };
}

/** Other keys under which people keep an excerpt. */
const EXCERPT_KEYS = ['description', 'summary'];

/** Markdown by CommonMark, with tables; YAML front matter gives the title, the excerpt and other texts. */
export function readMarkdown(text: string): ReadText {
  const { meta, source } = splitFrontMatter(text);
  const read = importHtml(parseHtml(markdown.render(source)));
  if (meta === null)
    read.report.remarks.push('The front matter could not be read as YAML and stays in the text.');
  const fields = textFieldsIn('files');
  const known = [...fields.map(fileKey), ...EXCERPT_KEYS];
  const left = Object.keys(meta ?? {}).filter((key) => !known.includes(key));
  if (left.length > 0) read.report.remarks.push(`Front matter left out: ${left.slice(0, 12).join(', ')}.`);
  const texts: FileTexts = {};
  for (const field of fields) {
    const keys = [fileKey(field), ...(field === 'excerpt' ? EXCERPT_KEYS : [])];
    const value = keys.map((key) => meta?.[key]).find((v) => typeof v === 'string' && v.trim() !== '');
    if (value !== undefined) texts[field] = (value as string).trim().slice(0, maxOf(field));
  }
  const { title = read.title, excerpt = null, ...others } = texts;
  return { ...read, title, excerpt, texts: others };
}
