import type { Properties } from './request.js';

/** What of an entry is for a post. What is absent was not said. */
export interface EntryParts {
  title?: string;
  content?: { kind: 'plain' | 'html'; text: string };
  excerpt?: string;
  tags?: string[];
  slug?: string;
  photos?: EntryPhoto[];
}
export interface EntryPhoto {
  url: string;
  alt: string;
}

/** Properties that a post has a place for. */
export const ENTRY_PROPERTIES = ['name', 'content', 'summary', 'category', 'photo', 'mp-slug'] as const;
export type EntryProperty = (typeof ENTRY_PROPERTIES)[number];
export const isEntryProperty = (name: string): name is EntryProperty =>
  (ENTRY_PROPERTIES as readonly string[]).includes(name);

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const asText = (value: unknown): string | null =>
  typeof value === 'string' ? value : typeof value === 'number' ? String(value) : null;

/**
 * Sorts the properties of an entry into the parts of a post, and names those that a post has no place for. Plain
 * content is plain text, as the Recommendation has it (section 3.3.2): markup in it stays as it is written.
 */
export function entryParts(entry: Properties): { parts: EntryParts; leftOut: string[] } {
  const parts: EntryParts = {};
  const leftOut: string[] = [];
  for (const [property, values] of Object.entries(entry)) {
    const [first] = values;
    const word = asText(first)?.trim();
    if (property === 'name' && word) parts.title = word.replace(/\s+/g, ' ');
    else if (property === 'summary' && word !== undefined) parts.excerpt = word.replace(/\s+/g, ' ');
    else if (property === 'mp-slug' && word) parts.slug = word.toLowerCase();
    else if (property === 'category') parts.tags = values.flatMap((v) => asText(v)?.trim() || []);
    else if (property === 'photo') parts.photos = values.flatMap((v) => photoOf(v) ?? []);
    else if (property === 'content' && contentOf(first)) parts.content = contentOf(first)!;
    else if (property === 'post-status' && word === 'draft') continue;
    else if (values.length > 0) leftOut.push(property);
  }
  return { parts, leftOut };
}

/** A picture by its address, with or without its alternative text (section 3.3.3 and 3.7.1). */
export function photoOf(value: unknown): EntryPhoto | null {
  const url = isRecord(value) ? asText(value['value']) : asText(value);
  if (!url) return null;
  return { url, alt: isRecord(value) ? (asText(value['alt']) ?? '').trim().slice(0, 1000) : '' };
}

function contentOf(value: unknown): EntryParts['content'] | null {
  if (isRecord(value)) {
    const html = asText(value['html']);
    if (html !== null) return { kind: 'html', text: html };
    const plain = asText(value['value']) ?? asText(value['text']);
    return plain === null ? null : { kind: 'plain', text: plain };
  }
  const text = asText(value);
  return text === null ? null : { kind: 'plain', text };
}

const TITLE_LENGTH = 60;

/** A title for an entry that has none: its first sentence, or as many words of it as fit a title. */
export function titleFrom(text: string): string {
  const line = text.trim().split(/\n/)[0]!.replace(/\s+/g, ' ');
  const sentence = /^.{8,}?[.!?…](?=\s|$)/u.exec(line)?.[0].replace(/[.…]$/, '') ?? line;
  if ([...sentence].length <= TITLE_LENGTH) return sentence || 'Untitled';
  const cut = [...sentence].slice(0, TITLE_LENGTH).join('');
  return `${cut.slice(0, Math.max(cut.lastIndexOf(' '), 20)).replace(/[\s,;:–-]+$/u, '')} …`;
}
