import { RE2JS, RE2JSException } from 're2js';
import { checkBody, type BodyNode } from '../body/schema.js';
import { bodyWords } from '../body/text.js';

/**
 * What to find and what to put in its place. A pattern is in RE2 syntax: it runs in time that grows with the
 * text and nothing else.
 */
export interface Replacing {
  find: string;
  with: string;
  pattern: boolean;
  /** Capitals count. */
  capitals: boolean;
}

/** A stretch of a text and what comes in its place; in UTF-16 units. */
export interface Hit {
  from: number;
  to: number;
  put: string;
}

/** Finds every place, left to right, none overlapping, none empty. */
export type Finder = (text: string) => Hit[];

export type FinderAnswer = { ok: true; find: Finder } | { ok: false; sentence: string };

export const REPLACE_LIMITS = { find: 500, with: 2000 } as const;

/** Makes the finder, or says what is wrong with the pattern. */
export function finderOf({ find, with: put, pattern, capitals }: Replacing): FinderAnswer {
  if (find === '') return { ok: false, sentence: 'Say what is to be found.' };
  if (!pattern) return { ok: true, find: plainFinder(find, put, capitals) };
  try {
    const compiled = RE2JS.compile(find, capitals ? 0 : RE2JS.CASE_INSENSITIVE);
    const groups = compiled.groupCount();
    const wanted = [...put.matchAll(/\$(\d)/g)].find((m) => Number(m[1]) > groups);
    if (wanted)
      return {
        ok: false,
        sentence:
          'The pattern has ' +
          `${groups === 0 ? 'no group' : groups === 1 ? 'one group' : `${groups} groups`}, so ` +
          `${wanted[0]} stands for nothing.`,
      };
    return { ok: true, find: patternFinder(compiled, put) };
  } catch (error) {
    if (error instanceof RE2JSException)
      return {
        ok: false,
        sentence:
          'The pattern cannot be read: ' +
          `${(error.message || 'it is not well formed').replace(/^error parsing regexp: /, '')}. ` +
          'References back and looks around are not known here.',
      };
    throw error;
  }
}

function plainFinder(find: string, put: string, capitals: boolean): Finder {
  const compiled = new RegExp(find.replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&'), capitals ? 'gu' : 'giu');
  return (text) =>
    [...text.matchAll(compiled)].map((m) => ({ from: m.index, to: m.index + m[0].length, put }));
}

function patternFinder(compiled: RE2JS, put: string): Finder {
  return (text) => {
    const hits: Hit[] = [];
    const matcher = compiled.matcher(text);
    while (matcher.find()) {
      const [from, to] = [matcher.start(), matcher.end()];
      // What matches nothing, such as the gap between two letters, is not a place to replace.
      if (to > from)
        hits.push({
          from,
          to,
          put: put.replace(/\$(\d)/g, (_, n: string) => matcher.group(Number(n)) ?? ''),
        });
    }
    return hits;
  };
}

/** The text with every place replaced. */
export function replaceIn(text: string, find: Finder): string {
  let out = '';
  let at = 0;
  for (const hit of find(text)) {
    out += text.slice(at, hit.from) + hit.put;
    at = hit.to;
  }
  return at === 0 ? text : out + text.slice(at);
}

/**
 * A body with every place replaced, its build untouched. Words are found across changes of style, and what
 * comes in their place has the style of their first letter. Returns the same body when nothing was found.
 */
export function replaceInBody(body: BodyNode, find: Finder): BodyNode {
  if (!body.content) return body;
  let changed = false;
  const content: BodyNode[] = [];
  for (let i = 0; i < body.content.length;) {
    const node = body.content[i]!;
    if (node.type !== 'text') {
      const inner = replaceInBody(node, find);
      if (inner !== node) changed = true;
      content.push(inner);
      i++;
      continue;
    }
    let end = i;
    while (body.content[end]?.type === 'text') end++;
    const run = body.content.slice(i, end);
    const hits = find(run.map((n) => n.text ?? '').join(''));
    if (hits.length > 0) changed = true;
    content.push(...(hits.length > 0 ? rewritten(run, hits) : run));
    i = end;
  }
  return changed ? { ...body, content } : body;
}

/** What replacing makes of a text: nothing new, another text with its words counted, or one that may not be. */
export type Rewritten =
  | { state: 'same' }
  | { state: 'changed'; body: BodyNode; words: number }
  | { state: 'refused'; sentence: string };

export function rewrite(body: BodyNode, find: Finder): Rewritten {
  const replaced = replaceInBody(body, find);
  if (replaced === body) return { state: 'same' };
  const answer = checkBody(replaced);
  return answer.ok
    ? { state: 'changed', body: answer.body, words: bodyWords(answer.body) }
    : { state: 'refused', sentence: answer.sentence };
}

function rewritten(run: readonly BodyNode[], hits: readonly Hit[]): BodyNode[] {
  const out: BodyNode[] = [];
  let at = 0;
  for (const node of run) {
    const text = node.text ?? '';
    const [start, end] = [at, at + text.length];
    let piece = '';
    let kept = start;
    for (const hit of hits) {
      if (hit.to <= start || hit.from >= end) continue;
      piece += text.slice(Math.max(kept, start) - start, Math.max(hit.from, start) - start);
      if (hit.from >= start) piece += hit.put;
      kept = Math.max(kept, hit.to);
    }
    piece += text.slice(Math.min(Math.max(kept, start), end) - start);
    if (piece !== '') out.push({ ...node, text: piece });
    at = end;
  }
  return out;
}
