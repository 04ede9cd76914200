import { fc } from '../testing.js';
import { STAGES, type Stage } from '../stages/stages.js';
import { isHopeless, lacks, warningsFor, type PlannedPost } from './warnings.js';

const now = '2026-11-25T09:00:00';
let id = 1;
const post = (date: string, over: Partial<PlannedPost> = {}): PlannedPost => ({ id: id++, title: `Post ${id}`, runLocal: `${date}T08:00:00`, categoryId: 1, bylineId: 7, stage: 'scheduled', ...over });
const kinds = (p: PlannedPost, others: PlannedPost[]) => warningsFor(p, others, now).map((w) => w.kind);

describe('warnings about a date', () => {
  it('finds nothing wrong with five themed weekdays by five writers (common practice, no published source)', () => {
    const week = ['2026-12-07', '2026-12-08', '2026-12-09', '2026-12-10', '2026-12-11'].map((d, i) => post(d, { categoryId: i, bylineId: i }));
    for (const p of week) expect(kinds(p, week)).toEqual([]);
  });
  it('warns of bursts: two on a day, one category or one writer too close', () => {
    const first = post('2026-12-07', { title: 'First' });
    expect(warningsFor(post('2026-12-07', { categoryId: 2, bylineId: 8 }), [first], now)).toEqual([{ kind: 'two on a day', sentence: '“First” runs on the same day.' }]);
    expect(kinds(post('2026-12-08'), [first])).toEqual(['category close', 'byline close']);
    expect(kinds(post('2026-12-09'), [first])).toEqual(['category close']);
    expect(kinds(post('2026-12-10'), [first])).toEqual([]);
    expect(kinds(post('2026-12-08', { categoryId: null, bylineId: null }), [post('2026-12-07', { categoryId: null, bylineId: null })])).toEqual([]);
    expect(kinds(post('2026-12-07'), [post('2026-12-07', { stage: 'withdrawn' })])).toEqual([]);
  });
  it('warns when too little time is left, by stage, and of the past', () => {
    expect(warningsFor(post('2026-11-27', { stage: 'commissioned' }), [], now)[0]?.sentence).toBe('2 days left; from commissioned, writing and review take about 5.');
    expect(kinds(post('2026-11-26', { stage: 'in review' }), [])).toEqual([]);
    expect(kinds(post('2026-11-25', { stage: 'in review', runLocal: '2026-11-25T12:00:00' }), [])).toEqual(['little time']);
    expect(kinds(post('2026-11-25', { stage: 'drafting' }), [])).toEqual(['past']);
    expect(kinds(post('2026-11-20', { stage: 'published' }), [post('2026-11-20')])).toEqual([]);
  });
  it('warns both of two that are close, or neither (property)', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 28 }), fc.integer({ min: 1, max: 28 }), fc.constantFrom(1, 2, null), fc.constantFrom(1, 2, null), (a, b, c, d) => {
      const date = (n: number) => `2027-02-${String(n).padStart(2, '0')}`;
      const [p, q] = [post(date(a), { categoryId: c, bylineId: d }), post(date(b), { categoryId: d, bylineId: c })];
      expect(kinds(p, [p, q])).toEqual(kinds(q, [p, q]));
    }));
  });
});

describe('past hope', () => {
  it.each([
    ['commissioned', '2026-11-24T08:00:00', true], ['drafting', '2026-11-26T12:00:00', true], ['drafting', '2026-11-27T08:00:00', false],
    ['in review', '2026-11-24T08:00:00', false], ['scheduled', '2026-11-25T10:00:00', false], ['drafting', null, false],
  ] as const)('%s for %s: %s', (stage, runLocal, hopeless) => {
    expect(isHopeless({ stage, runLocal }, now)).toBe(hopeless);
  });
});

describe('what a post still lacks', () => {
  const whole = { bylineId: 7, categoryId: 1, words: 400, excerpt: 'One sentence.', openNotes: 0 };
  it('is nothing but the next step for a whole post', () => {
    const next = (stage: Stage) => lacks({ ...whole, stage });
    expect(STAGES.map(next)).toEqual([['commissioning'], ['handing in'], ['handing in'], ['clearing'], ['scheduling'], [], [], []]);
  });
  it('names every part that is missing', () => {
    expect(lacks({ stage: 'commissioned', bylineId: null, categoryId: null, words: 0, excerpt: ' ', openNotes: 2 })).toEqual(['a writer', 'a category', 'its text', 'an excerpt', 'answers to 2 notes', 'handing in']);
  });
});
