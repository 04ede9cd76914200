import { fc } from '../testing.js';
import type { BodyNode } from './schema.js';
import { moveBlocks, sectionMove, sectionsOf, sectionStep } from './sections.js';

const h = (level: number, text: string): BodyNode => ({
  type: 'heading',
  attrs: { level },
  content: [{ type: 'text', text }],
});
const p = (text: string): BodyNode => ({ type: 'paragraph', content: [{ type: 'text', text }] });
const doc = (...content: BodyNode[]): BodyNode => ({ type: 'doc', content });
const words = (body: BodyNode) => (body.content ?? []).map((b) => b.content?.[0]?.text).join(' ');

describe('sections', () => {
  const body = doc(p('intro'), h(2, 'A'), p('a'), h(3, 'A1'), p('a1'), h(2, 'B'), p('b'), h(4, 'B1'));

  it('reach from a heading to the next that is not deeper, and tell of skipped levels', () => {
    expect(sectionsOf(body).map((s) => [s.text, s.from, s.to, s.skips])).toEqual([
      ['A', 1, 5, false],
      ['A1', 3, 5, false],
      ['B', 5, 8, false],
      ['B1', 7, 8, true],
    ]);
    expect(sectionsOf(doc(h(3, 'X')))[0]!.skips).toBe(true);
  });
  it('move whole, with what is below them', () => {
    expect(words(moveBlocks(body, sectionMove(body, 2, 0)!))).toBe('intro B b B1 A a A1 a1');
    expect(words(moveBlocks(body, sectionMove(body, 0, 4)!))).toBe('intro B b B1 A a A1 a1');
    expect(words(moveBlocks(body, sectionStep(body, 2, -1)!))).toBe('intro B b B1 A a A1 a1');
    expect(words(moveBlocks(body, sectionStep(body, 0, 1)!))).toBe('intro B b B1 A a A1 a1');
  });
  it('do not move into themselves, or past the ends', () => {
    expect([
      sectionMove(body, 0, 1),
      sectionMove(body, 0, 0),
      sectionMove(body, 9, 0),
      sectionStep(body, 2, 1),
      sectionStep(body, 0, -1),
    ]).toEqual([null, null, null, null, null]);
  });
  it('lose and double nothing, wherever they go', () => {
    const block = fc.oneof(
      fc.constantFrom(2, 3, 4).map((l) => h(l, 'h')),
      fc.constant(p('p')),
    );
    fc.assert(
      fc.property(
        fc.array(block, { minLength: 1, maxLength: 20 }),
        fc.nat(10),
        fc.nat(10),
        (blocks, from, to) => {
          const all = doc(...blocks.map((b, i) => ({ ...b, content: [{ type: 'text', text: String(i) }] })));
          const move = sectionMove(all, from, to);
          if (!move) return;
          const after = moveBlocks(all, move);
          expect(
            [...after.content!].sort((a, b) => Number(a.content![0]!.text) - Number(b.content![0]!.text)),
          ).toEqual(all.content);
          expect(words(after)).not.toBe(words(all));
        },
      ),
    );
  });
});
