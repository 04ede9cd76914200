import { inlineText } from '../body/text.js';
import type { BodyNode } from '../body/schema.js';
import { sentencesOf } from '../reading/reading.js';

/** Where a sentence stands in its post. */
export type SentenceKind = 'prose' | 'heading' | 'list' | 'quote' | 'caption';

/** One sentence of a post, with its place, from which pieces are built. */
export interface SourceSentence {
  text: string;
  kind: SentenceKind;
  /** Counts the post's blocks of text: paragraphs, headings, list items, quotes, captions. */
  block: number;
  /** Counts headings; sentences before the first are in section 0. */
  section: number;
}

/** What a piece is made from. */
export interface Source {
  title: string;
  excerpt: string;
  /** Where readers find the post. */
  url: string;
  byline: string;
  blog: string;
  category: string;
  tags: readonly string[];
  /** What sets it apart from the rest of the archive, heaviest first. */
  phrases: readonly string[];
  sentences: readonly SourceSentence[];
  pictures: readonly SourcePicture[];
}
export interface SourcePicture {
  media: number;
  alt: string;
  caption: string;
  /** The section it stands in. */
  section: number;
}

const QUOTES = new Set(['blockquote', 'pullQuote']);
const ITEMS = new Set(['listItem', 'checkItem']);
/** After an initial or one of these, a full stop ends no sentence, whatever UAX #29 says. */
const UNENDED = /(?:^|[\s(“‘"'])(?:\p{Lu}|Mr|Mrs|Ms|Dr|St|Prof|No|vs|approx|cf|e\.g|i\.e)\.$/u;
/** Who speaks, after what was said: “Shut it!” said the keeper; “Why?” Mara asked. */
const SPEAKER =
  /^(?:\p{Ll}|(?:(?:I|We|You|He|She|They|\p{Lu}[\p{L}’'.-]*)\s+){1,3}(?:said|says|asked|asks|replied|replies|answered|answers|added|adds|told|explained|explains|called|cried|shouted|whispered|wrote|writes)\b)/u;
/** A quotation of more sentences is not put together: it is told on in none. */
const LONGEST_QUOTATION = 8;

const count = (text: string, sign: string) => text.split(sign).length - 1;

/** Straight marks say only by their neighbours which of them open. */
function straightAreClosed(text: string): boolean {
  const opens = [...text.matchAll(/"/g)].map(({ index }) => /(?:^|[\s(—–-])$/u.test(text.slice(0, index)));
  return opens.length % 2 === 0 && opens.every((isOpening, i) => isOpening === (i % 2 === 0));
}

/** Is every quotation and bracket that begins in this text closed in it? */
export function isClosed(text: string): boolean {
  // In „Berlin“ the high marks close, in “London” they open.
  const low = count(text, '„');
  const double = low > 0 ? low === count(text, '“') : count(text, '“') === count(text, '”');
  return (
    double &&
    straightAreClosed(text) &&
    count(text, '«') === count(text, '»') &&
    count(text, '(') === count(text, ')') &&
    // A right single mark is an apostrophe as well: one that follows is enough.
    !/(?:^|[\s(—–-])‘(?![^‘]*\S’)/u.test(text)
  );
}

/**
 * Sentences by Unicode sentence boundaries (UAX #29), not parted after initials and the usual abbreviations, nor
 * within a quotation or brackets, nor between what is said and who says it.
 */
export function wholeSentences(text: string): string[] {
  const parts = sentencesOf(text);
  const whole: string[] = [];
  for (let i = 0; i < parts.length; i++) {
    let sentence = parts[i]!;
    for (let n = 1; n < LONGEST_QUOTATION && i + n < parts.length && !isClosed(sentence); n++) {
      const longer = parts.slice(i, i + n + 1).join(' ');
      if (!isClosed(longer)) continue;
      sentence = longer;
      i += n;
    }
    const last = whole.at(-1);
    const goesOn =
      last !== undefined &&
      (UNENDED.test(last) || (/[”"’»]$/u.test(last) && SPEAKER.test(sentence)) || /^\p{Ll}/u.test(sentence));
    if (goesOn) whole[whole.length - 1] = `${last} ${sentence}`;
    else whole.push(sentence);
  }
  return whole;
}

/**
 * A body taken apart into sentences and pictures, in order. Tables, code and what only leads on (contents,
 * buttons, sign-ups) are not told on.
 */
export function sourceOf(body: BodyNode): { sentences: SourceSentence[]; pictures: SourcePicture[] } {
  const sentences: SourceSentence[] = [];
  const pictures: SourcePicture[] = [];
  let [block, section] = [0, 0];
  const add = (text: string, kind: SentenceKind): void => {
    const found =
      kind === 'heading' ? [text.trim()].filter(Boolean) : wholeSentences(text.replace(/\s+/g, ' '));
    for (const one of found) sentences.push({ text: one, kind, block, section });
    if (found.length > 0) block++;
  };
  const visit = (node: BodyNode, kind: SentenceKind): void => {
    switch (node.type) {
      case 'heading':
        section++;
        add(inlineText(node), 'heading');
        return;
      case 'paragraph':
        add(inlineText(node), kind);
        return;
      case 'pullQuote':
        add(inlineText(node), 'quote');
        return;
      case 'picture':
        pictures.push({
          media: Number(node.attrs?.['media'] ?? 0),
          alt: String(node.attrs?.['alt'] ?? ''),
          caption: String(node.attrs?.['caption'] ?? ''),
          section,
        });
        add(String(node.attrs?.['caption'] ?? ''), 'caption');
        return;
      case 'table':
      case 'codeBlock':
        return;
      default:
        for (const child of node.content ?? [])
          visit(child, QUOTES.has(node.type) ? 'quote' : ITEMS.has(node.type) ? 'list' : kind);
    }
  };
  visit(body, 'prose');
  return { sentences, pictures };
}
