import PostalMime, { type Attachment, type Email } from 'postal-mime';
import { importHtml, plainToBody, type BodyNode } from '@keyroster/core';
import { ProblemError } from '../http/problem.js';
import { parseHtml } from './parse-html.js';
import type { ReadText } from './read-text.js';

/** Lines that end where a mail program wraps them are one sentence. */
const WRAPPED_AT = 50;
const MAX_TITLE = 300;

/** Reads a message (RFC 5322 with MIME, RFC 2045 and those after it) as a draft: its subject, text and pictures. */
export async function readMessage(bytes: Uint8Array, name: string): Promise<ReadText> {
  const mail = await PostalMime.parse(bytes, { maxNestingDepth: 64 }).catch(() => null);
  if (!mail || (!mail.from && !mail.subject && !mail.date && mail.headers.length < 2))
    throw new ProblemError(
      'wrong-file',
      `“${name}” is not a message we can read. Save it from your mail program as .eml again.`,
    );
  const pictures = mail.attachments.filter(isPicture);
  const read = mail.html ? fromHtml(mail.html, pictures) : fromText(mail.text ?? '', pictures);
  const left = mail.attachments.length - pictures.length;
  if (left > 0)
    read.report.remarks.push(
      `${left === 1 ? 'One attached file that is no picture was' : `${left} attached files that are no pictures were`} left out.`,
    );
  const sender = senderOf(mail);
  if (sender) read.report.remarks.push(`It is from ${sender}.`);
  return { ...read, title: subjectOf(mail) ?? read.title, excerpt: null };
}

/** Without what answering and forwarding put before it. */
function subjectOf({ subject }: Email): string | null {
  const plain = (subject ?? '')
    .replace(/^(?:\s*(?:re|fw|fwd|aw|wg)\s*:)+/i, '')
    .replace(/\s+/g, ' ')
    .trim();
  return plain === '' ? null : plain.slice(0, MAX_TITLE);
}

function senderOf({ from, date }: Email): string | null {
  const who = from && (from.name || ('address' in from ? from.address : ''));
  if (!who) return null;
  const day = date && /^\d{4}-\d\d-\d\d/.exec(date)?.[0];
  return day ? `${who}, sent on ${day}` : who;
}

const isPicture = ({ mimeType, content }: Attachment): boolean =>
  /^image\/(?:jpeg|png|gif|webp)$/i.test(mimeType) && typeof content !== 'string' && content.byteLength > 0;

const dataUri = ({ mimeType, content }: Attachment): string =>
  `data:${mimeType.toLowerCase()};base64,${Buffer.from(content as ArrayBuffer).toString('base64')}`;

const idOf = ({ contentId }: Attachment): string => (contentId ?? '').replace(/^<|>$/g, '');

/** Pictures stand where the text names them (RFC 2392), the others behind it. */
function fromHtml(html: string, pictures: readonly Attachment[]): ReadText {
  const used = new Set<Attachment>();
  const placed = html.replace(/\bcid:([^"'\s>)]+)/gi, (whole, id: string) => {
    const picture = pictures.find((p) => idOf(p) === safeDecode(id));
    if (!picture) return whole;
    used.add(picture);
    return dataUri(picture);
  });
  const rest = pictures.filter((p) => !used.has(p));
  return { ...importHtml(parseHtml(placed + imagesOf(rest))), excerpt: null };
}

function fromText(text: string, pictures: readonly Attachment[]): ReadText {
  const { words, signature } = withoutSignature(text);
  const body = plainToBody(unwrapped(words));
  const behind = importHtml(parseHtml(imagesOf(pictures)));
  const blocks = (body.content ?? []).filter((block) => block.content !== undefined);
  const images = pictures.length > 0 ? (behind.body.content ?? []) : [];
  const content: BodyNode[] = [...blocks, ...images];
  return {
    title: null,
    body: content.length > 0 ? { ...body, content } : body,
    pictures: pictures.length > 0 ? behind.pictures : [],
    authors: [],
    excerpt: null,
    report: {
      kept: { paragraph: blocks.length, ...(pictures.length > 0 ? behind.report.kept : {}) },
      dropped: {},
      remarks: signature ? ['The signature under the message was left out.'] : [],
    },
  };
}

const imagesOf = (pictures: readonly Attachment[]): string =>
  pictures.map((p) => `<p><img src="${dataUri(p)}" alt=""></p>`).join('');

function safeDecode(id: string): string {
  try {
    return decodeURIComponent(id);
  } catch {
    return id;
  }
}

/** What stands below two hyphens and a space is a signature (RFC 3676, section 4.3). */
function withoutSignature(text: string): { words: string; signature: boolean } {
  const at = text.search(/^-- \r?$/m);
  return at < 0 ? { words: text, signature: false } : { words: text.slice(0, at), signature: true };
}

/** Paragraphs on one line each, where a mail program wrapped them; verses and lists keep their lines. */
function unwrapped(text: string): string {
  return text
    .replace(/\r\n?/g, '\n')
    .split(/\n{2,}/)
    .map((paragraph) => {
      const lines = paragraph.split('\n');
      const isWrapped = lines.length > 1 && lines.slice(0, -1).every((line) => line.length >= WRAPPED_AT);
      return isWrapped ? lines.map((line) => line.trim()).join(' ') : paragraph;
    })
    .join('\n\n');
}
