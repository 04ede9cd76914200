import fc from 'fast-check';
import { inReviewOrder, missingOf, needKinds, reviewKind, type ReviewFacts } from '../index.js';

const post = (over: Partial<ReviewFacts>): ReviewFacts => ({
  stage: 'in review',
  categoryId: 1,
  bylineId: 7,
  coauthorIds: [],
  proofreaderId: null,
  proofreaderWrites: false,
  createdById: null,
  editorId: null,
  readersVersion: null,
  ...over,
});
const chief = { id: 1, role: 'managing editor', categories: [] } as const;
const editor = { id: 2, role: 'editor', categories: [1] } as const;
const other = { id: 3, role: 'editor', categories: [1, 2] } as const;
const proof = { id: 9, role: 'proofreader', categories: [] } as const;
const writer = { id: 7, role: 'contributor', categories: [] } as const;

describe('what waits to be read', () => {
  it('waits for the desk, and once reassigned for one of them', () => {
    const kinds = (facts: Partial<ReviewFacts>) =>
      [chief, editor, other, proof, writer].map((who) => reviewKind(who, post(facts)));
    expect(kinds({})).toEqual(['review', 'review', 'review', null, null]);
    expect(kinds({ editorId: 3 })).toEqual([null, null, 'review', null, null]);
    expect(kinds({ categoryId: 2 })).toEqual(['review', null, 'review', null, null]);
    expect(kinds({ proofreaderId: 9, editorId: 1 })).toEqual(['review', null, null, 'proofread', null]);
    expect(kinds({ stage: 'published', readersVersion: 4 })).toEqual([
      'update',
      'update',
      'update',
      null,
      null,
    ]);
    expect(kinds({ stage: 'published' })).toEqual([null, null, null, null, null]);
    expect(kinds({ stage: 'drafting' })).toEqual([null, null, null, null, null]);
  });

  it('is the same on Today', () => {
    const facts = { ...post({ editorId: 3 }), runLocal: null, copyDate: null, sentBack: false };
    expect(needKinds(editor, facts, '2026-11-25T09:00:00')).toEqual([]);
    expect(needKinds(other, facts, '2026-11-25T09:00:00')).toEqual(['review']);
  });

  it('comes soonest first, and what has no run time after it, the longest wait first', () => {
    const [soon, later, old, fresh] = [
      { runLocal: '2026-12-01T08:00:00', since: '2026-11-25T09:00:00' },
      { runLocal: '2026-12-04T08:00:00', since: '2026-11-01T09:00:00' },
      { runLocal: null, since: '2026-11-02T09:00:00' },
      { runLocal: null, since: '2026-11-24T09:00:00' },
    ] as const;
    fc.assert(
      fc.property(fc.shuffledSubarray([soon, later, old, fresh], { minLength: 4 }), (any) => {
        expect([...any].sort(inReviewOrder)).toEqual([soon, later, old, fresh]);
      }),
    );
  });

  it('says what is missing', () => {
    const nothing = { checks: { blocks: 0, warns: 0 }, openNotes: 0, suggestions: 0, runLocal: '2026-12-01' };
    expect(missingOf(nothing)).toEqual([]);
    expect(
      missingOf({ checks: { blocks: 1, warns: 2 }, openNotes: 1, suggestions: 3, runLocal: null }),
    ).toEqual(['1 check holds it back', '2 warnings', '1 open note', '3 suggestions', 'no run time']);
  });
});
