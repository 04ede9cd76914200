import { formatCount } from '../time/format.js';
import type { OutletLimits } from './outlet.js';

export const TONES = ['plain', 'warm', 'brisk', 'formal', 'playful'] as const;
export type Tone = (typeof TONES)[number];

/** What an instruction in words asks for that can be measured, and what is left of it. */
export interface Instruction {
  max: { n: number; unit: 'characters' | 'words' | 'sentences' } | null;
  tone: Tone;
  link: boolean | null;
  tags: boolean | null;
  /** Does it end by asking readers something? */
  question: boolean;
  /** Words that must come. */
  stress: string[];
  /** Whom it is for; '' for everyone. */
  audience: string;
  /** Parts that were not understood; they stand with the piece for the person who edits it. */
  rest: string[];
}

const NUMBERS: Record<string, number> = {
  one: 1,
  two: 2,
  three: 3,
  four: 4,
  five: 5,
  six: 6,
  seven: 7,
  eight: 8,
  nine: 9,
  ten: 10,
  a: 1,
};
const number = (word: string) => NUMBERS[word.toLowerCase()] ?? Number(word.replace(/,/g, ''));
const N = String.raw`(\d[\d,]*|one|two|three|four|five|six|seven|eight|nine|ten|a(?=\s+sentence\b))`;
const TONE_WORDS: Record<string, Tone> = {
  plain: 'plain',
  simple: 'plain',
  neutral: 'plain',
  warm: 'warm',
  friendly: 'warm',
  kind: 'warm',
  personal: 'warm',
  brisk: 'brisk',
  urgent: 'brisk',
  short: 'brisk',
  terse: 'brisk',
  formal: 'formal',
  sober: 'formal',
  serious: 'formal',
  professional: 'formal',
  playful: 'playful',
  funny: 'playful',
  light: 'playful',
  cheerful: 'playful',
};

/**
 * A tone is what a clause says as a whole: “be warm”, “in a formal tone”. A word of tone among others (“keep the
 * light on”, “not playful”) is none.
 */
const TONE = new RegExp(
  String.raw`^(?:(?:please|keep|make|it|be|write|sound|in|an?|the|with|very|rather|quite|and|but|tone|voice|of|post|piece):?\s+)*(${Object.keys(TONE_WORDS).join('|')})(?:\s+(?:in|and|but|tone|voice|words|post|piece|text|please))*$`,
  'i',
);

type Rule = [RegExp, (into: Instruction, match: RegExpExecArray) => void];
const RULES: Rule[] = [
  [
    new RegExp(
      String.raw`\b(?:(?:in|at most|no more than|up to|under|within|about|around|max(?:imum)?(?: of)?)\s+)*${N}[\s-]+(characters?|signs?|letters?|words?|sentences?)\b(?:\s+at most)?`,
      'i',
    ),
    (into, m) => {
      into.max = {
        n: number(m[1]!),
        unit: /^w/i.test(m[2]!) ? 'words' : /^se/i.test(m[2]!) ? 'sentences' : 'characters',
      };
    },
  ],
  [
    /\b(?:with(?:out| no)|no|leave out the|skip the)\s+(?:a\s+|any\s+|the\s+)?links?\b/i,
    (into) => {
      into.link = false;
    },
  ],
  [
    /\bwith\s+(?:a\s+|the\s+)?links?\b/i,
    (into) => {
      into.link = true;
    },
  ],
  [
    /\b(?:with(?:out| no)|no|skip the)\s+(?:any\s+|the\s+)?(?:hash)?tags?\b/i,
    (into) => {
      into.tags = false;
    },
  ],
  [
    /\bwith\s+(?:the\s+)?(?:hash)?tags?\b/i,
    (into) => {
      into.tags = true;
    },
  ],
  [
    /\b(?:(?:ask|put|pose|end|finish|close|and|with|as|in|by asking|it|them|(?:the |your )?readers?)\s+)+(?:an? |one )?(?:open )?question\b/i,
    (into) => {
      into.question = true;
    },
  ],
  [
    TONE,
    (into, m) => {
      into.tone = TONE_WORDS[m[1]!.toLowerCase()]!;
    },
  ],
  [
    /\b(?:stress|emphasi[sz]e|mention|about(?!\s+\d)|bring in|say something of|lead with)\s+(?:the\s+|that\s+)?["“]?([^".;,“”]+?)["”]?\s*$/i,
    (into, m) => {
      into.stress.push(
        ...m[1]!
          .split(/\s+and\s+(?:the\s+)?/i)
          .map((s) => s.trim())
          .filter(Boolean),
      );
    },
  ],
  [
    /\b(?:it is\s+)?(?:for|to)\s+((?:new|old|first|people|readers|those|anyone|everyone|owners|beginners|newcomers|members|families|[\p{L}-]+s\b)[^.;,]*?)\s*$/iu,
    (into, m) => {
      into.audience = m[1]!.trim();
    },
  ],
];

/** Which rule is that of the tone; those that read from the end of a clause follow it. */
const TONE_AT = RULES.findIndex(([pattern]) => pattern === TONE);

/**
 * Reads an instruction: length, tone, link, tags, what to stress and whom it is for. Clauses are parted by
 * full stops, semicolons, commas and line breaks. What no rule reads stays in `rest`; nothing is guessed.
 */
export function readInstruction(text: string): Instruction {
  const read: Instruction = {
    max: null,
    tone: 'plain',
    link: null,
    tags: null,
    question: false,
    stress: [],
    audience: '',
    rest: [],
  };
  for (const clause of text
    // A comma or a point within a number parts nothing.
    .split(/[.,](?!\d)|[;\n]/)
    .map((c) => c.trim())
    .filter(Boolean)) {
    let left = clause;
    // From the end of a clause back, so that “warm, for new owners” and “in 40 words about bread” come
    // apart.
    // The tone comes last: it has to be all that is left.
    for (const [pattern, put] of [...RULES.slice(TONE_AT + 1), ...RULES.slice(0, TONE_AT + 1)]) {
      const match = pattern.exec(left);
      if (!match) continue;
      put(read, match);
      left = `${left.slice(0, match.index)} ${left.slice(match.index + match[0].length)}`.trim();
    }
    if (
      /[\p{L}\p{N}]{4,}/u.test(
        left.replace(/\b(?:please|make|with|keep|write|give|some|this|that|very|tone|only|just|and)\b/gi, ''),
      )
    )
      read.rest.push(clause);
  }
  return read;
}

/** What an instruction asks for that the outlet does not allow, and what was not understood, in sentences. */
export function instructionRemarks(read: Instruction, limits: OutletLimits, outlet: string): string[] {
  const remarks: string[] = [];
  if (limits.length && read.max?.unit === 'characters' && read.max.n > limits.length.max)
    remarks.push(
      `The instruction asks for ${read.max.n} characters, and ${outlet} takes ` +
        `${limits.length.max}; it is fitted to ${limits.length.max}.`,
    );
  if (read.link && !limits.links)
    remarks.push(`The instruction asks for a link, and ${outlet} makes none of addresses.`);
  if (read.tags && limits.tags === 0)
    remarks.push(`The instruction asks for tags, and ${outlet} shows none.`);
  if (read.max && read.max.n === 0) remarks.push('The instruction leaves no room for a word.');
  for (const part of read.rest) remarks.push(`“${part}” is yours to check: it could not be measured.`);
  return remarks;
}

/** The measurable parts of an instruction in words, as they were understood. */
export function formatInstruction(read: Instruction): string {
  const parts = [
    read.max ? `at most ${formatCount(read.max.n, read.max.unit.slice(0, -1))}` : '',
    read.tone === 'plain' ? '' : read.tone,
    read.link === null ? '' : read.link ? 'with a link' : 'without a link',
    read.tags === null ? '' : read.tags ? 'with tags' : 'without tags',
    read.question ? 'asking a question' : '',
    read.stress.length > 0 ? `stressing ${read.stress.join(' and ')}` : '',
    read.audience ? `for ${read.audience}` : '',
  ];
  return parts.filter(Boolean).join(', ');
}
