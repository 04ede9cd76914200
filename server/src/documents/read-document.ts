import { importHtml, plainToBody } from '@keyroster/core';
import { ProblemError } from '../http/problem.js';
import { decode } from './decode.js';
import { readMessage } from './message.js';
import { readMarkdown } from './markdown.js';
import { parseHtml } from './parse-html.js';
import type { ReadText } from './read-text.js';
import { readWord } from './word.js';

const MAX_TEXT_BYTES = 5 * 1024 * 1024;

/**
 * Reads a document: Markdown with YAML front matter, HTML, .docx, messages (.eml) or plain text, told apart
 * by content first and name second. Takes time and memory in proportion to what it is given: done in a worker
 * with limits of both.
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
  if (ending === 'eml') return readMessage(bytes, name);
  const decoded = decode(bytes);
  if (decoded === null)
    throw new ProblemError(
      'wrong-file',
      `“${name}” is not a text. Bring in Markdown, HTML, Word (.docx), a message (.eml) or plain text.`,
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
    return { ...importHtml(parseHtml(text), { suggestions: true }), excerpt: null };
  if (ending === 'md' || ending === 'markdown') return readMarkdown(text);
  const body = plainToBody(text);
  return {
    title: null,
    body,
    pictures: [],
    authors: [],
    excerpt: null,
    report: { kept: { paragraph: body.content?.length ?? 0 }, dropped: {}, remarks: [] },
  };
}
