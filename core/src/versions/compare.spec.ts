import fc from 'fast-check';
import { lcs } from 'fast-myers-diff';
import type { BodyNode } from '../body/schema.js';
import { compareBodies, compareWords, restorePassage, type TextPart } from './index.js';

const p = (text: string): BodyNode => ({ type: 'paragraph', content: [{ type: 'text', text }] });
const h = (text: string): BodyNode => ({
  type: 'heading',
  attrs: { level: 2 },
  content: [{ type: 'text', text }],
});
const doc = (...content: BodyNode[]): BodyNode => ({ type: 'doc', content });
const side = (parts: readonly TextPart[], not: TextPart['kind']) =>
  parts
    .filter((part) => part.kind !== not)
    .map((part) => part.text)
    .join('');

const word = fc.constantFrom('gate', 'lock', 'the', 'Gänse', 'don’t', '1,200', '🚤', ',', '—', 'a');
const sentence = fc.array(word, { maxLength: 30 }).map((words) => words.join(' '));

describe('two passages, compared word by word', () => {
  it('tell what was taken out and what was put in, in whole words', () => {
    expect(compareWords('Open the top gate slowly.', 'Open the bottom gate.')).toEqual([
      { kind: 'same', text: 'Open the ' },
      { kind: 'removed', text: 'top' },
      { kind: 'added', text: 'bottom' },
      { kind: 'same', text: ' gate' },
      { kind: 'removed', text: ' slowly' },
      { kind: 'same', text: '.' },
    ]);
  });

  it('hold each of the two, whatever they are', () => {
    fc.assert(
      fc.property(fc.oneof(sentence, fc.string()), fc.oneof(sentence, fc.string()), (before, after) => {
        const parts = compareWords(before, after);
        expect([side(parts, 'added'), side(parts, 'removed')]).toEqual([before, after]);
      }),
      { numRuns: 500 },
    );
  });

  // fast-myers-diff, an implementation of Myers, “An O(ND) Difference Algorithm and Its Variations”, Algorithmica 1986.
  it('keep as many words as another implementation finds in common', () => {
    const tokens = (text: string) => text.match(/[\p{L}\p{N}][\p{L}\p{M}\p{N}'’-]*|\s+|[^\s]/gu) ?? [];
    fc.assert(
      fc.property(sentence, sentence, (before, after) => {
        const kept = compareWords(before, after)
          .filter((part) => part.kind === 'same')
          .reduce((n, part) => n + tokens(part.text).length, 0);
        let common = 0;
        for (const run of lcs(tokens(before), tokens(after))) common += run[2];
        expect(kept).toBe(common);
      }),
      { numRuns: 500 },
    );
  });
});

describe('two texts, compared block by block', () => {
  const before = doc(h('Locks'), p('Open the top gate slowly.'), p('Mind the cill.'), p('Wait.'));
  const after = doc(h('Locks'), p('Wait.'), p('Open the bottom gate slowly.'), p('Quite another thing.'));

  it('pair a block with what it became, and tell what is new and what is gone', () => {
    expect(
      compareBodies(
        doc(h('Locks'), p('Open the top gate slowly.'), p('Mind the cill.')),
        doc(h('Locks'), p('A new beginning here.'), p('Open the bottom gate slowly.')),
      ).map(({ kind, before: i, after: j }) => [kind, i, j]),
    ).toEqual([
      ['same', 0, 0],
      ['added', null, 1],
      ['changed', 1, 2],
      ['removed', 2, null],
    ]);
  });

  it('know the same words set in another way, and things without words', () => {
    const bold: BodyNode = {
      type: 'paragraph',
      content: [{ type: 'text', text: 'Wait.', marks: [{ type: 'bold' }] }],
    };
    const picture = (alt: string): BodyNode => ({ type: 'picture', attrs: { media: 4, alt } });
    const [form, pictures] = compareBodies(
      doc(p('Wait.'), picture('A gate')),
      doc(bold, picture('A lock gate')),
    );
    expect(form).toMatchObject({ kind: 'form', parts: [{ kind: 'same', text: 'Wait.' }] });
    expect(pictures).toMatchObject({ kind: 'changed', type: 'picture' });
  });

  const block = fc.oneof(sentence.map(p), sentence.map(h));
  const text = fc.array(block, { minLength: 1, maxLength: 12 }).map((blocks) => doc(...blocks));

  it('have every block of either once, in order', () => {
    fc.assert(
      fc.property(text, text, (one, other) => {
        const blocks = compareBodies(one, other);
        const order = (key: 'before' | 'after') => blocks.flatMap((b) => b[key] ?? []);
        expect(order('before')).toEqual(one.content!.map((_, i) => i));
        expect(order('after')).toEqual(other.content!.map((_, i) => i));
      }),
      { numRuns: 500 },
    );
    expect(compareBodies(before, before).every((b) => b.kind === 'same')).toBe(true);
  });

  it('give the earlier text back, passage by passage', () => {
    fc.assert(
      fc.property(text, text, (one, other) => {
        let now = other;
        let first = compareBodies(one, now).find((b) => b.kind !== 'same');
        for (let tries = 0; first && tries < 60; tries++) {
          const at = first.after ?? nextAfter(one, now, first.before!);
          now = restorePassage(one, now, first.before === null ? [0, 0] : [first.before, first.before + 1], [
            at,
            first.after === null ? at : at + 1,
          ]);
          if (now.content!.length === 0) break;
          first = compareBodies(one, now).find((b) => b.kind !== 'same');
        }
        expect(now.content!.map((b) => JSON.stringify(b))).toEqual(
          one.content!.map((b) => JSON.stringify(b)),
        );
      }),
      { numRuns: 100 },
    );
    expect(restorePassage(before, after, [2, 3], [3, 4]).content![3]).toEqual(p('Mind the cill.'));
  });
});

/** Where a block that is gone stood in the later text. */
function nextAfter(one: BodyNode, now: BodyNode, index: number): number {
  const blocks = compareBodies(one, now);
  const at = blocks.findIndex((b) => b.before === index);
  const last = blocks.slice(0, at).findLast((b) => b.after !== null);
  return last ? last.after! + 1 : 0;
}
