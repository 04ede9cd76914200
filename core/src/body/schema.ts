import { Node, Schema, type AttributeSpec, type NodeSpec } from 'prosemirror-model';
import { makerOf, readBlockSuggestion } from './suggestion-key.js';

/** A post's text as stored: ProseMirror JSON that fits `bodySchema`. */
export interface BodyNode {
  type: string;
  attrs?: Record<string, unknown>;
  content?: BodyNode[];
  marks?: { type: string; attrs?: Record<string, unknown> }[];
  text?: string;
}

/** Bounds that keep a text workable; a body beyond them is refused, not cut. */
export const BODY_LIMITS = { depth: 32, nodes: 60_000, characters: 1_000_000 } as const;

const oneOf = (name: string, values: readonly unknown[]) => (value: unknown) => {
  if (!values.includes(value)) throw new RangeError(`${name} must be one of ${values.join(', ')}`);
};
const wholeFrom = (name: string, min: number, max: number) => (value: unknown) => {
  if (!Number.isInteger(value) || (value as number) < min || (value as number) > max) {
    throw new RangeError(`${name} must be a whole number from ${min} to ${max}`);
  }
};
const textUpTo = (name: string, length: number) => (value: unknown) => {
  if (typeof value !== 'string' || value.length > length)
    throw new RangeError(`${name} must be a text of at most ${length} characters`);
};

/**
 * A link target that may stand in a post, tidied, or null when it may not: http, https, mailto and tel, and
 * addresses within the site. Control characters and white space are removed first, as browsers do (WHATWG
 * URL).
 */
export function safeHref(raw: string): string | null {
  const href = raw
    .replace(/[\u0000-\u0020\u007f-\u009f\u2028\u2029]+/g, (run) => (/^ +$/.test(run) ? '%20' : ''))
    .replace(/^(%20)+|(%20)+$/g, '');
  if (href === '' || href.length > 2000) return null;
  if (/^(https?:\/\/|mailto:|tel:)/i.test(href)) return href;
  if (/^[a-z][a-z0-9+.-]*:/i.test(href)) return null;
  return href.startsWith('//') || href.includes('\\') ? null : href;
}

const hrefRule = (value: unknown) => {
  if (typeof value !== 'string' || safeHref(value) !== value)
    throw new RangeError('a link leads to an address that is not allowed');
};
/** The same, or none yet. */
const hrefOrNone = (value: unknown) => {
  if (value !== '') hrefRule(value);
};
/** An id of the library, or 0 for none. */
const mediaOrNone = (name: string) => wholeFrom(name, 0, Number.MAX_SAFE_INTEGER);

/** How wide a picture stands, and on which side the text runs past it. */
export const PICTURE_SIZES = ['column', 'wide', 'small'] as const;
export const PICTURE_SIDES = ['none', 'left', 'right'] as const;

const cell: Record<string, AttributeSpec> = {
  colspan: { default: 1, validate: wholeFrom('colspan', 1, 50) },
  rowspan: { default: 1, validate: wholeFrom('rowspan', 1, 500) },
  colwidth: {
    default: null,
    validate: (v) => {
      if (v !== null) throw new RangeError('column widths are not kept');
    },
  },
};

/** The keys of suggestions; see suggestions/key.ts. */
const keyRule = (value: unknown) => {
  if (!makerOf(value)) throw new RangeError('a suggestion must say whose it is and of when');
};

/** Every block of a text may be suggested to be put in, or to be taken out. */
const SUGGESTED: Record<string, AttributeSpec> = {
  suggested: {
    default: null,
    validate: (value) => {
      if (value !== null && !readBlockSuggestion(value))
        throw new RangeError('a suggestion must say what it does, whose it is and of when');
    },
  },
};

const suggestible = <S extends Record<string, NodeSpec>>(nodes: S): S =>
  Object.fromEntries(
    Object.entries(nodes).map(([name, spec]) => [
      name,
      spec.group?.split(' ').includes('block') ? { ...spec, attrs: { ...spec.attrs, ...SUGGESTED } } : spec,
    ]),
  ) as S;

/**
 * The one schema of post bodies. The editor builds its own from the same names; a test holds the two
 * together.
 */
export const bodySchema = new Schema({
  nodes: suggestible({
    doc: { content: 'block+' },
    paragraph: { group: 'block', content: 'inline*' },
    heading: {
      group: 'block',
      content: 'inline*',
      attrs: { level: { default: 2, validate: oneOf('heading level', [2, 3, 4]) } },
    },
    blockquote: { group: 'block', content: 'block+' },
    bulletList: { group: 'block list', content: 'listItem+' },
    orderedList: {
      group: 'block list',
      content: 'listItem+',
      attrs: { start: { default: 1, validate: wholeFrom('list start', 0, 999_999_999) } },
    },
    listItem: { content: 'paragraph block*' },
    codeBlock: {
      group: 'block',
      content: 'text*',
      marks: '',
      code: true,
      attrs: {
        language: {
          default: null,
          validate: (v) => {
            if (v !== null) textUpTo('language', 60)(v);
          },
        },
      },
    },
    horizontalRule: { group: 'block' },
    foldLine: { group: 'block', atom: true },
    picture: {
      group: 'block',
      atom: true,
      attrs: {
        media: { validate: wholeFrom('picture', 1, Number.MAX_SAFE_INTEGER) },
        alt: { default: '', validate: textUpTo('alternative text', 1000) },
        caption: { default: '', validate: textUpTo('caption', 1000) },
        credit: { default: '', validate: textUpTo('credit', 300) },
        size: { default: 'column', validate: oneOf('picture size', PICTURE_SIZES) },
        side: { default: 'none', validate: oneOf('picture side', PICTURE_SIDES) },
      },
    },
    gallery: { group: 'block', content: 'picture*' },
    /** An uploaded file with poster and captions, or an address that is shown as a card and never loaded. */
    video: {
      group: 'block',
      atom: true,
      attrs: {
        file: { default: 0, validate: mediaOrNone('video') },
        poster: { default: 0, validate: mediaOrNone('poster') },
        captions: { default: 0, validate: mediaOrNone('captions') },
        href: { default: '', validate: hrefOrNone },
        title: { default: '', validate: textUpTo('video title', 300) },
        description: { default: '', validate: textUpTo('video description', 1000) },
      },
    },
    button: {
      group: 'block',
      atom: true,
      attrs: {
        label: { default: '', validate: textUpTo('label', 120) },
        href: { default: '', validate: hrefOrNone },
      },
    },
    signUp: {
      group: 'block',
      atom: true,
      attrs: { invitation: { default: '', validate: textUpTo('invitation', 300) } },
    },
    contents: { group: 'block', atom: true },
    pullQuote: { group: 'block', content: 'inline*' },
    noteBox: { group: 'block', content: 'block+' },
    checkList: { group: 'block list', content: 'checkItem+' },
    checkItem: {
      content: 'paragraph block*',
      attrs: { checked: { default: false, validate: oneOf('tick', [true, false]) } },
    },
    table: { group: 'block', content: 'tableRow+' },
    tableRow: { content: '(tableCell | tableHeader)*' },
    tableCell: { content: 'block+', attrs: cell },
    tableHeader: { content: 'block+', attrs: cell },
    hardBreak: { group: 'inline', inline: true },
    text: { group: 'inline' },
  }),
  marks: {
    link: { inclusive: false, attrs: { href: { validate: hrefRule } } },
    bold: {},
    italic: {},
    code: {},
    /** Words that somebody suggests to put in, or to take out. Words may be both, by two people. */
    inserted: { inclusive: false, attrs: { key: { validate: keyRule } } },
    deleted: { inclusive: false, attrs: { key: { validate: keyRule } } },
  },
});

export const EMPTY_BODY: BodyNode = { type: 'doc', content: [{ type: 'paragraph' }] };

export type BodyAnswer = { ok: true; body: BodyNode } | { ok: false; sentence: string };

/**
 * Checks a body of unknown shape against limits and schema and gives it back in canonical form (NFC, no
 * foreign keys).
 */
export function checkBody(value: unknown): BodyAnswer {
  const size = bodySizeError(value);
  if (size) return { ok: false, sentence: size };
  try {
    const node = Node.fromJSON(bodySchema, value as object);
    node.check();
    if (node.type.name !== 'doc') return { ok: false, sentence: 'The text must be a whole document.' };
    if (foldLines(node) > 1) return { ok: false, sentence: 'A post has one fold line; this text has more.' };
    return { ok: true, body: canonicalBody(node) };
  } catch (error) {
    return {
      ok: false,
      sentence:
        'The text does not fit what a post may hold: ' +
        `${error instanceof Error ? error.message : 'unknown part'}.`,
    };
  }
}

/** Why a body of unknown shape is more than a post may hold, or null. */
export function bodySizeError(value: unknown): string | null {
  let nodes = 0;
  let characters = 0;
  const stack: { value: unknown; depth: number }[] = [{ value, depth: 0 }];
  for (let top = stack.pop(); top; top = stack.pop()) {
    if (typeof top.value === 'string') characters += top.value.length;
    else if (typeof top.value === 'object' && top.value !== null) nodes++;
    // Nodes, content arrays and mark arrays each add a level of JSON.
    if (top.depth > BODY_LIMITS.depth * 3) return 'The text is nested too deeply.';
    if (nodes > BODY_LIMITS.nodes * 4 || characters > BODY_LIMITS.characters)
      return 'The text is too long for one post (about 150,000 words).';
    if (typeof top.value !== 'object' || top.value === null) continue;
    for (const child of Object.values(top.value)) stack.push({ value: child, depth: top.depth + 1 });
  }
  return null;
}

/** Fold lines of a text, however its suggestions are settled. */
function foldLines(doc: Node): number {
  let [always, putIn, takenOut] = [0, 0, 0];
  doc.descendants((node) => {
    if (node.type.name !== 'foldLine') return;
    const does = readBlockSuggestion(node.attrs['suggested'])?.does;
    if (does === 'inserted') putIn++;
    else if (does === 'deleted') takenOut++;
    else always++;
  });
  return always + Math.max(putIn, takenOut);
}

/** Text as it is kept: NFC, no NUL (which no database takes), lone surrogates replaced. */
function tidy(text: string): string {
  return text
    .replace(/\u0000/g, '')
    .replace(/[\ud800-\udfff]/gu, '\ufffd')
    .normalize('NFC');
}

/** A whole text in canonical form. */
export function canonicalBody(doc: Node): BodyNode {
  return normalise(doc.toJSON() as BodyNode, 0);
}

/** Blocks that nobody suggests say nothing of it; only those of the text itself can be suggested. */
function tidyAttrs(attrs: Record<string, unknown>, depth: number): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(attrs)
      .filter(([name, value]) => name !== 'suggested' || (value !== null && depth === 1))
      .map(([name, value]) => [name, typeof value === 'string' ? tidy(value) : value]),
  );
}

function normalise({ attrs: given, ...node }: BodyNode, depth: number): BodyNode {
  const attrs = given && tidyAttrs(given, depth);
  return {
    ...node,
    ...(attrs && Object.keys(attrs).length > 0 ? { attrs } : {}),
    ...(node.text === undefined ? {} : { text: tidy(node.text) }),
    ...(node.content
      ? {
          content: node.content
            .map((child) => normalise(child, depth + 1))
            .filter((child) => child.type !== 'text' || child.text !== ''),
        }
      : {}),
  };
}
