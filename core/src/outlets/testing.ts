import {
  sourceOf,
  RankedSource,
  USUAL_LIMITS,
  makePiece,
  type BodyNode,
  type MadePiece,
  type PieceAsk,
  type PieceKind,
  type Source,
} from '../index.js';

export const text = (t: string): BodyNode => ({ type: 'paragraph', content: [{ type: 'text', text: t }] });
export const heading = (t: string): BodyNode => ({
  type: 'heading',
  attrs: { level: 2 },
  content: [{ type: 'text', text: t }],
});
export const BODY: BodyNode = {
  type: 'doc',
  content: [
    text(
      'A stern gland that drips is doing its work. Two drops a minute under way is right; ' +
        'none at all means that it runs hot. T. Orme has packed thirty of them.',
    ),
    heading('What to look for'),
    text(
      'Lift the boards and watch the gland with the engine in gear. Do the drops come ' +
        'faster than they did in spring? Touch the housing: a gland that you cannot keep a ' +
        'hand on is too tight.',
    ),
    { type: 'blockquote', content: [text('A dry gland is an expensive gland, and a wet one is only wet.')] },
    {
      type: 'picture',
      attrs: { media: 7, alt: 'A brass gland with two drops beneath it', caption: 'Two drops, and no hurry' },
    },
    heading('Packing it again'),
    {
      type: 'bulletList',
      content: [
        'Slacken both nuts and slide the collar back.',
        'Pick out the old rings with a corkscrew tool.',
        'Cut three new rings, ends at a slant, joins turned apart.',
        'Tighten by hand, and then a quarter turn more.',
      ].map((t) => ({ type: 'listItem', content: [text(t)] })),
    },
    text(
      'Grease the gland and run the engine for ten minutes. Nip the nuts up when the packing has settled.',
    ),
  ],
};
export const source = (body: BodyNode = BODY, more: Partial<Source> = {}): Source => ({
  title: 'How to pack a stern gland',
  excerpt: 'Two drops a minute.',
  url: 'https://halfwaylock.example/pack-stern-gland',
  byline: 'Tobias Orme',
  blog: 'Halfway Lock',
  category: 'Engine room',
  tags: ['stern gear', 'winter'],
  phrases: [],
  ...sourceOf(body),
  ...more,
});
export const LIMITS = {
  'short post': 'short-post network',
  thread: 'short-post network',
  'picture card': 'picture network',
  gallery: 'picture network',
  'quote card': 'picture network',
  question: 'short-post network',
  'professional post': 'professional network',
} as const;
export const ask = (kind: PieceKind, more: Partial<PieceAsk> = {}): PieceAsk => ({
  kind,
  outlet: { name: 'Towline', limits: USUAL_LIMITS[LIMITS[kind as keyof typeof LIMITS] ?? 'newsletter'] },
  instruction: '',
  shape: 'square',
  others: [other],
  ...more,
});
export const other = new RankedSource(
  source(
    { type: 'doc', content: [text('A stove that smokes wants air. Sweep the flue before the first frost.')] },
    { title: 'Why stoves smoke', url: 'https://halfwaylock.example/stoves' },
  ),
);
export const made = (
  kind: PieceKind,
  more: Partial<PieceAsk> = {},
  from = new RankedSource(source()),
): MadePiece => {
  const answer = makePiece(from, ask(kind, more));
  if (!answer.ok) throw new Error(answer.sentence);
  return answer.piece;
};
export const refusal = (kind: PieceKind, from: RankedSource, more: Partial<PieceAsk> = {}) => {
  const a = makePiece(from, ask(kind, more));
  return a.ok ? null : a.sentence;
};
