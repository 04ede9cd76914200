import fc from 'fast-check';
import {
  asItWas,
  asItWouldBe,
  bodyText,
  checkBody,
  EMPTY_BODY,
  hasSuggestions,
  keyOf,
  settleIn,
  suggestionsIn,
  suggestsOnly,
  type BodyNode,
} from '../index.js';

const AT = '2026-11-27T07:30Z';
const key = (personId: number, id = 'a') => keyOf({ personId, at: AT, id });
const put = (text: string, k = key(7)): BodyNode => ({
  type: 'text',
  text,
  marks: [{ type: 'inserted', attrs: { key: k } }],
});
const take = (text: string, k = key(7)): BodyNode => ({
  type: 'text',
  text,
  marks: [{ type: 'deleted', attrs: { key: k } }],
});
const t = (text: string): BodyNode => ({ type: 'text', text });
const p = (...content: BodyNode[]): BodyNode =>
  content.length === 0 ? { type: 'paragraph' } : { type: 'paragraph', content };
const block = (does: string, node: BodyNode, k = key(7)): BodyNode => ({
  ...node,
  attrs: { ...node.attrs, suggested: `${does} ${k}` },
});
const doc = (...content: BodyNode[]): BodyNode => ({ type: 'doc', content });
const whole = (body: BodyNode) => {
  const answer = checkBody(body);
  if (!answer.ok) throw new Error(answer.sentence);
  return answer.body;
};

const MANY = doc(
  p(t('Open the '), take('top'), put('bottom'), t(' gate.')),
  block('deleted', p(t('Wait.'))),
  block('inserted', p(t('Wait for the level.'), put(' Slowly.', key(8)))),
  p(t('Close it'), put(' again', key(9)), t('.')),
);

describe('suggestions in a text', () => {
  it('leave the text as it was, and show it as it would be', () => {
    expect(asItWas(MANY)).toEqual(doc(p(t('Open the top gate.')), p(t('Wait.')), p(t('Close it.'))));
    expect(asItWouldBe(MANY)).toEqual(
      doc(p(t('Open the bottom gate.')), p(t('Wait for the level. Slowly.')), p(t('Close it again.'))),
    );
    const plain = doc(p(t('Nothing.')));
    expect(asItWas(plain)).toBe(plain);
    expect([hasSuggestions(plain), hasSuggestions(MANY)]).toEqual([false, true]);
  });

  it('are settled one by one, and of a person', () => {
    const one = settleIn(MANY, [key(9)], 'accept');
    expect(one.content![3]).toEqual(p(t('Close it again.')));
    expect(suggestionsIn(one).map((s) => s.personId)).toEqual([7, 8]);
    const mine = settleIn(MANY, [key(7)], 'refuse');
    expect(bodyText(mine)).not.toContain('bottom');
    // What somebody put into a block that is refused goes with the block.
    expect(suggestionsIn(mine).map((s) => s.personId)).toEqual([9]);
  });

  it('are told as people read them', () => {
    const bold = { ...put('gate', key(3)), marks: [{ type: 'bold' }, ...put('', key(3)).marks!] };
    const body = doc(
      p(
        take('top'),
        put('bottom'),
        t(' '),
        put('new', key(2)),
        take('old', key(4)),
        take('gate', key(3)),
        bold,
      ),
      block('deleted', { type: 'horizontalRule' }, key(5)),
      block('deleted', p(t('One.')), key(6)),
      block('inserted', p(t('Two.')), key(6)),
    );
    expect(suggestionsIn(body).map((s) => [s.kind, s.was, s.becomes])).toEqual([
      ['replace', 'top', 'bottom'],
      ['insert', '', 'new'],
      ['delete', 'old', ''],
      ['format', 'gate', 'gate'],
      ['delete block', '(horizontalRule)', ''],
      ['replace block', 'One.', 'Two.'],
    ]);
    expect(suggestionsIn(body)[0]).toMatchObject({ personId: 7, at: AT });
  });

  it('of words that another person put in already are both', () => {
    const both: BodyNode = {
      type: 'text',
      text: 'very',
      marks: [...put('', key(7)).marks!, ...take('', key(8)).marks!],
    };
    const body = whole(doc(p(t('A '), both, t(' lock.'))));
    expect(bodyText(asItWas(body))).toBe('A  lock.');
    expect(bodyText(asItWouldBe(body))).toBe('A  lock.');
    expect(bodyText(settleIn(body, [key(7)], 'accept'))).toBe('A very lock.');
    expect(suggestionsIn(settleIn(body, [key(8)], 'refuse'))).toMatchObject([
      { kind: 'insert', personId: 7 },
    ]);
  });

  it('never leave a text without a block', () => {
    expect(asItWas(doc(block('inserted', p(t('All new.')))))).toEqual(EMPTY_BODY);
    expect(asItWouldBe(doc(block('deleted', p(t('All old.')))))).toEqual(EMPTY_BODY);
  });

  it('fit the schema only with a maker and a time, and at the text’s own blocks', () => {
    expect(checkBody(MANY)).toMatchObject({ ok: true });
    for (const wrong of ['', 'x', '7/2026-11-27/a', '0/2026-11-27T07:30Z/a', '7/2026-11-27T07:30Z/<b>'])
      expect([wrong, checkBody(doc(p(put('x', wrong)))).ok]).toEqual([wrong, false]);
    expect(checkBody(doc(block('moved', p()))).ok).toBe(false);
    const nested = whole(doc({ type: 'blockquote', content: [block('inserted', p(t('In.')))] }));
    expect(hasSuggestions(nested)).toBe(false);
    // Of a fold line that is moved by suggestion there are two for a while.
    const fold: BodyNode = { type: 'foldLine' };
    expect(checkBody(doc(p(t('a')), block('deleted', fold), p(t('b')), block('inserted', fold))).ok).toBe(
      true,
    );
    expect(checkBody(doc(p(t('a')), fold, block('inserted', fold))).ok).toBe(false);
  });
});

describe('somebody who may only suggest', () => {
  const before = doc(p(t('Open the gate.')), p(t('Wait'), put(' long', key(8)), t('.')));
  const may = (after: BodyNode) => suggestsOnly(before, whole(after), 7);

  it.each<[string, BodyNode]>([
    ['puts words in', doc(p(t('Open the '), put('top '), t('gate.')), before.content![1]!)],
    ['takes words out', doc(p(t('Open '), take('the '), t('gate.')), before.content![1]!)],
    ['adds a block', doc(before.content![0]!, block('inserted', p(t('New.'))), before.content![1]!)],
    ['takes a block out', doc(block('deleted', before.content![0]!), before.content![1]!)],
    ['does nothing', before],
  ])('%s', (_, after) => expect(may(after)).toBe(true));

  it.each<[string, BodyNode]>([
    ['changes a word', doc(p(t('Close the gate.')), before.content![1]!)],
    [
      'changes how a word looks',
      doc(p({ ...t('Open the gate.'), marks: [{ type: 'bold' }] }), before.content![1]!),
    ],
    ['accepts what another suggests', doc(before.content![0]!, p(t('Wait long.')))],
    ['refuses what another suggests', doc(before.content![0]!, p(t('Wait.')))],
    [
      'suggests in another’s name',
      doc(p(t('Open the '), put('top ', key(8)), t('gate.')), before.content![1]!),
    ],
    ['takes a block out', doc(before.content![1]!)],
    ['adds a block', doc(...before.content!, p(t('New.')))],
    ['makes a heading of it', doc({ ...before.content![0]!, type: 'heading' }, before.content![1]!)],
  ])('never %s for good', (_, after) => expect(may(after)).toBe(false));

  it('takes back what is one’s own', () => {
    const mine = doc(p(t('Open the '), put('top '), take('gate'), t('.')));
    expect(suggestsOnly(mine, doc(p(t('Open the '), take('gate'), t('.'))), 7)).toBe(true);
    expect(suggestsOnly(mine, doc(p(t('Open the gate.'))), 7)).toBe(true);
    expect(suggestsOnly(mine, doc(p(t('Open the top '), take('gate'), t('.'))), 7)).toBe(false);
    expect(suggestsOnly(mine, { type: 'doc', content: [{ type: 'script' }] }, 7)).toBe(false);
  });
});

/** Texts with any suggestions of three people in them. */
const run = fc.record({
  text: fc.string({ minLength: 1, maxLength: 6 }),
  putIn: fc.option(fc.integer({ min: 1, max: 3 }), { nil: 0 }),
  takenOut: fc.option(fc.integer({ min: 1, max: 3 }), { nil: 0 }),
});
const paragraph = fc.record({
  runs: fc.array(run, { maxLength: 5 }),
  does: fc.constantFrom('', '', 'inserted', 'deleted'),
  by: fc.integer({ min: 1, max: 3 }),
});
const texts = fc.array(paragraph, { minLength: 1, maxLength: 5 }).map((blocks) =>
  whole(
    doc(
      ...blocks.map(({ runs, does, by }) => {
        const made = p(
          ...runs.map(({ text, putIn, takenOut }) => ({
            ...t(text),
            marks: [
              ...(putIn ? put('', key(putIn)).marks! : []),
              ...(takenOut ? take('', key(takenOut)).marks! : []),
            ],
          })),
        );
        return does ? block(does, made, key(by)) : made;
      }),
    ),
  ),
);
const everybody = [1, 2, 3].map((n) => key(n));

it('settling is the same in any order, and leaves nothing to settle', () => {
  fc.assert(
    fc.property(texts, fc.shuffledSubarray(everybody, { minLength: 3 }), (body, order) => {
      for (const how of ['accept', 'refuse'] as const) {
        const inTurn = order.reduce((now, k) => settleIn(now, [k], how), body);
        expect(inTurn).toEqual(how === 'accept' ? asItWouldBe(body) : asItWas(body));
        expect(hasSuggestions(inTurn)).toBe(false);
      }
      expect(suggestionsIn(asItWas(body))).toEqual([]);
    }),
  );
});

it('refusing all of a person is never more than they might do themselves', () => {
  fc.assert(
    fc.property(texts, fc.constantFrom(1, 2, 3), (body, who) => {
      expect(suggestsOnly(body, settleIn(body, [key(who)], 'refuse'), who)).toBe(true);
      expect(suggestsOnly(settleIn(body, [key(who)], 'refuse'), body, who)).toBe(true);
    }),
  );
});
