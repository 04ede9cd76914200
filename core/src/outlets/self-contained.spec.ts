import type { BodyNode } from '../body/schema.js';
import {
  altAfter,
  cardAlt,
  fitSentence,
  isClosed,
  makePiece,
  RankedSource,
  readInstruction,
  formatInstruction,
  sourceOf,
  USUAL_LIMITS,
  wholeSentences,
  type PieceAsk,
  type PieceKind,
  type Source,
} from '../index.js';
import { isHanging, isOpenQuestion } from './self-contained.js';

const text = (t: string): BodyNode => ({ type: 'paragraph', content: [{ type: 'text', text: t }] });
const heading = (t: string): BodyNode => ({
  type: 'heading',
  attrs: { level: 2 },
  content: [{ type: 'text', text: t }],
});
const list = (...items: string[]): BodyNode => ({
  type: 'bulletList',
  content: items.map((t) => ({ type: 'listItem', content: [text(t)] })),
});
const picture = (media: number, alt: string): BodyNode => ({
  type: 'picture',
  attrs: { media, alt, caption: '' },
});
const source = (content: BodyNode[], more: Partial<Source> = {}) =>
  new RankedSource({
    title: 'The sign painter',
    excerpt: 'Forty-one years of signs.',
    url: 'https://halfwaylock.example/signs',
    byline: 'Edda Thorne',
    blog: 'Halfway Lock',
    category: '',
    tags: [],
    phrases: ['sign', 'paint'],
    ...sourceOf({ type: 'doc', content }),
    ...more,
  });
const answer = (kind: PieceKind, from: RankedSource, more: Partial<PieceAsk> = {}) =>
  makePiece(from, {
    kind,
    outlet: { name: 'Towline', limits: USUAL_LIMITS['short-post network'] },
    instruction: '',
    shape: 'square',
    ...more,
  });
const made = (...given: Parameters<typeof answer>) => {
  const a = answer(...given);
  if (!a.ok) throw new Error(a.sentence);
  return a.piece;
};

describe('quotations', () => {
  it('are one sentence with whoever speaks, however many they hold', () => {
    expect(wholeSentences('“It leaks. It always has,” said Bram. “We know.” He went below.')).toEqual([
      '“It leaks. It always has,” said Bram.',
      '“We know.”',
      'He went below.',
    ]);
    expect(wholeSentences('“Shut it!” said the keeper. “Why?” Mara asked.')).toEqual([
      '“Shut it!” said the keeper.',
      '“Why?” Mara asked.',
    ]);
    expect(wholeSentences('"It is about letters. Mostly." (So she says. Always.) Then we left.')).toEqual([
      '"It is about letters. Mostly."',
      '(So she says. Always.)',
      'Then we left.',
    ]);
  });

  it.each(['“Open', 'shut”', '"Grand. "Bloody', '(see', 'said ‘never', '„Auf', '«Non'])(
    '“%s” is not closed',
    (t) => expect(isClosed(t)).toBe(false),
  );
  it.each(['“Open”', '"Shut."', 'the keepers’ lamp', 'said ‘never’ again', '„Auf“', 'it’s (all) «bon»'])(
    '“%s” is closed',
    (t) => expect(isClosed(t)).toBe(true),
  );

  it('are never cut', () => {
    const fits = (max: number) => (t: string) => t.length <= max;
    const cut = fitSentence(
      'She said “not before the thaw, not for anybody” and shut the gate behind her.',
      fits(40),
    );
    expect(cut).toBe('She said …');
    expect(isClosed(cut!)).toBe(true);
  });

  it('stand on a card as somebody’s own words or the author’s, never as both', () => {
    const mixed = source([text('“It leaks,” said Bram of the old sign, and nobody asked him twice.')]);
    expect(answer('quote card', mixed)).toMatchObject({ ok: false });
    const own = source([text('A sign works while the pub is shut and says so.')]);
    expect(made('quote card', own).words).toBe('“A sign works while the pub is shut and says so.”');
    const other = source([text('“Paint that is hurried looks hurried for twenty years.”')]);
    expect(made('quote card', other)).toMatchObject({
      words: '“Paint that is hurried looks hurried for twenty years.”',
      alt: 'A square card with a quotation: “Paint that is hurried looks hurried for twenty years.”',
    });
  });
});

describe('a sentence that needs the one before it', () => {
  it.each([
    'It belongs to two sisters.',
    'That went on until 1968.',
    'But nobody came.',
    'When they ask, say no.',
    'Leave it open.',
    'A tight one says nothing.',
    'Three people work here.',
    'For example, the third gate leaks.',
    'Chief among these motives was the whale.',
    'No, when I go to sea I go as a sailor.',
    '"Clam or Cod?" she repeated.',
    'I look at it most mornings.',
  ])('is “%s”', (t) => expect(isHanging(t)).toBe(true));
  it.each([
    'There is a pump in every boat.',
    'When it rains, the deck is slippery.',
    'A dry gland is an expensive gland, and a wet one is only wet.',
    'Winnie Carrow kept the lock until her uncle came back.',
    'Slice the leeks thickly and let them sweat.',
    'First aid is at the lock cottage.',
  ])('is not “%s”', (t) => expect(isHanging(t)).toBe(false));

  it('comes behind it or not at all', () => {
    const from = source([
      text('The painter keeps a shed behind the yard. It is cold in March. She likes it that way.'),
    ]);
    expect(made('short post', from).parts[0]).toMatch(
      /^The painter keeps a shed behind the yard\. It is cold in March\./,
    );
    expect(answer('short post', source([text('It is cold in March. But nobody minds.')]))).toMatchObject({
      ok: false,
    });
    // What a person shades is used as it is.
    const hanging = source([text('It is cold in March. But nobody minds.')]);
    expect(made('short post', hanging, { only: [1] }).parts[0]).toMatch(/^But nobody minds\./);
  });
});

describe('lists and questions', () => {
  it('a checklist comes from one list of things or orders, else from orders; never from questions', () => {
    const items = ['Draw every day.', 'Learn one alphabet.', 'Never hurry.', 'Who told you so?'];
    expect(made('checklist', source([list(...items)])).parts[0]).toMatch(
      /☐ Draw every day\n☐ Learn one alphabet\n☐ Never hurry/,
    );
    expect(made('checklist', source([list(...items)])).parts[0]).not.toContain('?');
    const facts = source([list('The gate fell in May.', 'Two babies were born.', 'The line came down.')]);
    expect(answer('checklist', facts)).toEqual({
      ok: false,
      sentence: 'The post has no list and no steps to make a checklist of.',
    });
    expect(answer('checklist', source([heading('Why?'), heading('How?'), text('Nobody knows it.')])).ok).toBe(
      false,
    );
  });

  it('a question stands alone and is asked when an instruction says so', () => {
    expect(isOpenQuestion('Who will take over the shed?')).toBe(true);
    expect(['Can you freeze it?', 'Why? Because.', 'Who said “no?”'].some(isOpenQuestion)).toBe(false);
    for (const words of ['ask a question', 'end with a question', 'short, and ask readers a question']) {
      expect(readInstruction(words)).toMatchObject({ question: true, rest: [] });
      expect(formatInstruction(readInstruction(words))).toContain('asking a question');
    }
    expect(readInstruction('answer the question of price').question).toBe(false);
    const from = source([text('The painter keeps a shed behind the yard.')]);
    expect(made('short post', from).parts[0]).not.toContain('?');
    expect(made('short post', from, { instruction: 'ask a question' }).parts[0]).toContain('?');
    expect(
      made('quote card', source([text('A sign works while the pub is shut.')]), {
        instruction: 'ask a question',
      }).remarks,
    ).toContain('There was no place for the question; ask it yourself.');
  });
});

describe('what goes out together', () => {
  it('a gallery’s captions fit as one text', () => {
    const pictures = Array.from({ length: 8 }, (_, i) =>
      picture(i + 1, `Board ${i + 1}, newly lettered and hung out to dry behind the shed`),
    );
    const piece = made('gallery', source([...pictures, text('The painter keeps a shed behind the yard.')]));
    expect(piece.parts.length).toBeGreaterThan(2);
    expect(piece.parts.join('\n\n').length).toBeLessThanOrEqual(300);
  });

  it('a digest counts the posts that it shows', () => {
    const from = source([text('The painter keeps a shed behind the yard, and has for years and years.')]);
    const others = Array.from({ length: 6 }, (_, i) =>
      source([text('A long pound wants a long book.')], {
        title: `Another post, number ${i + 1} of a series`,
      }),
    );
    const { subject, parts } = made('digest', from, { others });
    const shown = parts[0]!.match(/Another post/g)!.length;
    expect(shown).toBeLessThan(6);
    expect(subject).toBe(`The sign painter, and ${shown} more`);
  });

  it('the alternative text follows the words on the card', () => {
    const alt = cardAlt({ kind: 'picture card', shape: 'square', words: 'Go slowly' });
    expect(altAfter(alt, 'Go slowly', 'Go by $& night')).toBe(
      'A square card with the words “Go by $& night”.',
    );
    expect(altAfter('A lamp at night', 'Go slowly', 'Go')).toBe('A lamp at night');
  });
});
