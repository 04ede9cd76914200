import fc from 'fast-check';
import * as Y from 'yjs';
import { bodySchema, checkBody, EMPTY_BODY, type BodyNode } from '../body/schema.js';
import { bodyOfShared, changeShared, isSharedUpdate, sharedFrom, sharedOf, TEXT_FIELD } from './index.js';

const p = (text: string): BodyNode =>
  text === '' ? { type: 'paragraph' } : { type: 'paragraph', content: [{ type: 'text', text }] };
const doc = (...content: BodyNode[]): BodyNode => ({ type: 'doc', content });
const whole = (body: BodyNode) => {
  const answer = checkBody(body);
  if (!answer.ok) throw new Error(answer.sentence);
  return answer.body;
};
const held = (shared: Y.Doc) => {
  const answer = bodyOfShared(shared);
  if (!answer.ok) throw new Error(answer.sentence);
  return answer.body;
};

/** One of everything that a text can hold. */
const EVERYTHING = whole(
  doc(
    { type: 'heading', attrs: { level: 2 }, content: [{ type: 'text', text: 'Steps' }] },
    {
      type: 'paragraph',
      content: [
        { type: 'text', text: 'Plain, ' },
        { type: 'text', text: 'bold', marks: [{ type: 'bold' }] },
        {
          type: 'text',
          text: ' and linked code',
          marks: [{ type: 'link', attrs: { href: 'https://lock.example/' } }, { type: 'code' }],
        },
      ],
    },
    { type: 'foldLine' },
    {
      type: 'gallery',
      content: [
        { type: 'picture', attrs: { media: 4, alt: 'A gate', size: 'wide', side: 'none' } },
        { type: 'picture', attrs: { media: 5 } },
      ],
    },
    { type: 'orderedList', attrs: { start: 3 }, content: [{ type: 'listItem', content: [p('Three')] }] },
    {
      type: 'table',
      content: [{ type: 'tableRow', content: [{ type: 'tableHeader', content: [p('Gate')] }] }],
    },
    { type: 'video', attrs: { href: 'https://films.example/1', title: 'A lock' } },
    { type: 'checkList', content: [{ type: 'checkItem', content: [p('Paddle down')] }] },
    { type: 'noteBox', content: [p('Mind the cill.')] },
    { type: 'codeBlock', content: [{ type: 'text', text: 'a\n  b' }] },
  ),
);

describe('a text in a shared document', () => {
  it.each([
    ['a new text', EMPTY_BODY],
    ['an empty line of a text', doc(p('Begin.'), p(''))],
    [
      'an empty item of a list',
      doc({ type: 'bulletList', content: [{ type: 'listItem', content: [p('')] }] }),
    ],
  ])('has the words of two who start in %s apart once each, when they meet', (_, start) => {
    const written = (words: string): BodyNode =>
      JSON.parse(
        JSON.stringify(whole(start)).replace(
          /\{"type":"paragraph"\}/,
          JSON.stringify(p(words)).replaceAll('$', '$$'),
        ),
      ) as BodyNode;
    const first = sharedFrom(whole(start));
    const [one, two] = [sharedOf([first]), sharedOf([first])];
    const meet = (a: Uint8Array | null, b: Uint8Array | null) => {
      if (b) Y.applyUpdate(one, b);
      if (a) Y.applyUpdate(two, a);
    };
    meet(changeShared(one, written('Heron. ')), changeShared(two, written('Kettle. ')));
    // Each editor then puts into the document what it shows, at the same time.
    meet(changeShared(one, held(one)), changeShared(two, held(two)));
    for (const shared of [one, two])
      for (const word of ['Heron.', 'Kettle.'])
        expect(JSON.stringify(held(shared)).split(word)).toHaveLength(2);
  });

  it('comes out as it went in, whatever it holds', () => {
    expect(Object.keys(bodySchema.nodes).length).toBeGreaterThan(20);
    expect(held(sharedOf([sharedFrom(EVERYTHING)]))).toEqual(EVERYTHING);
    expect(held(sharedOf([sharedFrom(EMPTY_BODY)]))).toEqual(EMPTY_BODY);
    expect(held(new Y.Doc())).toEqual(EMPTY_BODY);
  });

  it('becomes another text by a change, which two people’s words outlive', () => {
    const first = sharedFrom(doc(p('One.'), p('Two.'), p('Three.')));
    const [desk, other] = [sharedOf([first]), sharedOf([first])];
    // While one writes into the third paragraph, the second becomes another.
    const typed: Uint8Array[] = [];
    other.on('update', (update: Uint8Array) => typed.push(update));
    const third = other.getXmlFragment(TEXT_FIELD).get(2) as Y.XmlElement;
    (third.get(0) as Y.XmlText).insert(6, ' And four.');
    const change = changeShared(desk, doc(p('One.'), p('Zwei.'), p('Three.')))!;
    expect(held(desk)).toEqual(whole(doc(p('One.'), p('Zwei.'), p('Three.'))));
    for (const update of typed) Y.applyUpdate(desk, update);
    Y.applyUpdate(other, change);
    expect(held(desk)).toEqual(whole(doc(p('One.'), p('Zwei.'), p('Three. And four.'))));
    expect(held(other)).toEqual(held(desk));
  });

  it('is not changed by becoming what it is', () => {
    expect(changeShared(sharedOf([sharedFrom(EVERYTHING)]), EVERYTHING)).toBeNull();
  });

  it('leaves out blocks that fit no text, and keeps the rest', () => {
    const shared = sharedOf([sharedFrom(doc(p('Good.'), p('Better.')))]);
    const fragment = shared.getXmlFragment(TEXT_FIELD);
    const odd = new Y.XmlElement('script');
    const bad = new Y.XmlElement('picture');
    bad.setAttribute('media', 'javascript:alert(1)');
    fragment.insert(1, [odd, bad]);
    expect(held(shared)).toEqual(whole(doc(p('Good.'), p('Better.'))));
    fragment.delete(0, 1);
    fragment.delete(2, 1);
    expect(held(shared)).toEqual(EMPTY_BODY);
  });

  it('keeps the first of two fold lines that two people put in at once', () => {
    const shared = sharedOf([sharedFrom(doc(p('One.'), { type: 'foldLine' }, p('Two.')))]);
    shared.getXmlFragment(TEXT_FIELD).insert(3, [new Y.XmlElement('foldLine')]);
    expect(held(shared)).toEqual(doc(p('One.'), { type: 'foldLine' }, p('Two.')));
  });

  it('refuses what is too long for a text', () => {
    const shared = sharedOf([sharedFrom(doc(p('x'.repeat(999_900))))]);
    expect(held(shared).content![0]!.content![0]!.text).toHaveLength(999_900);
    changeShared(shared, doc(p('x'.repeat(999_900)), p('y'.repeat(100))));
    expect(bodyOfShared(shared)).toMatchObject({ ok: false });
  });

  it('knows an update from garbage', () => {
    expect(isSharedUpdate(sharedFrom(EVERYTHING))).toBe(true);
    expect(isSharedUpdate(new Uint8Array([7, 200, 3]))).toBe(false);
    expect(isSharedUpdate(new Uint8Array())).toBe(false);
    expect(isSharedUpdate(Buffer.from('Not an update, but a sentence of some length.'))).toBe(false);
  });
});

/** What one of several people does next: types, deletes, splits or sets bold; or hears from the others. */
const step = fc.record({
  who: fc.nat({ max: 4 }),
  does: fc.constantFrom('type', 'delete', 'block', 'bold', 'hear', 'hear'),
  at: fc.nat({ max: 60 }),
  word: fc.constantFrom('gate ', 'é', '🚤', 'windlass', ' '),
  /** Of the updates that wait for this person: from which end, how many, and whether one is lost for now. */
  from: fc.nat({ max: 9 }),
});

describe('five people in one text', () => {
  // Shapiro, Preguiça, Baquero and Zawirski, “Conflict-free Replicated Data Types”, SSS 2011: whoever has the same
  // updates has the same state, in whatever order they came.
  it('all end with the same text, whatever order messages come in and however many are lost on the way', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 60 }), (steps) => {
        const start = sharedFrom(doc(p('Open the gate.'), p('Close the gate.')));
        const people = [0, 1, 2, 3, 4].map(() => sharedOf([start]));
        const waiting: Uint8Array[][] = people.map(() => []);
        const sent: Uint8Array[] = [];
        people.forEach((person, i) =>
          person.on('update', (update: Uint8Array, origin: unknown) => {
            if (origin === 'heard') return;
            sent.push(update);
            waiting.forEach((queue, other) => other !== i && queue.push(update));
          }),
        );
        for (const { who, does, at, word, from } of steps) {
          const person = people[who]!;
          const fragment = person.getXmlFragment(TEXT_FIELD);
          const block = fragment.length > 0 ? fragment.get(at % fragment.length) : null;
          const text = block instanceof Y.XmlElement ? block.get(0) : null;
          if (does === 'hear') {
            const queue = waiting[who]!;
            // Out of order; one in ten is lost for now.
            const [update] = queue.splice(from % Math.max(1, queue.length), 1);
            if (update && from !== 0) Y.applyUpdate(person, update, 'heard');
          } else if (does === 'block') {
            const fresh = new Y.XmlElement('paragraph');
            fresh.insert(0, [new Y.XmlText(word)]);
            fragment.insert(at % (fragment.length + 1), [fresh]);
          } else if (text instanceof Y.XmlText) {
            const place = at % (text.length + 1);
            if (does === 'type') text.insert(place, word);
            else if (does === 'delete') text.delete(place, Math.min(3, text.length - place));
            else if (place < text.length) text.format(place, text.length - place, { bold: {} });
          }
        }
        // Back together: each asks for what it lacks, until nobody has anything new. Who hears of an end of bold that
        // stands where there is no text any more takes it out, which is an update of its own.
        for (let known = 0; known < sent.length;) {
          known = sent.length;
          for (const person of people)
            for (const update of sent.toReversed()) Y.applyUpdate(person, update, 'heard');
        }
        const [first, ...others] = people.map(held);
        for (const other of others) expect(other).toEqual(first);
        expect(held(sharedOf([start, ...sent]))).toEqual(first);
      }),
      { numRuns: 200 },
    );
  });
});
