import { needsOf, waitsFor, type TodayPost } from './needs.js';

const now = '2026-11-25T09:00:00';
let id = 1;
const post = (over: Partial<TodayPost>): TodayPost => ({
  id: id++,
  title: 'A post',
  stage: 'drafting',
  categoryId: 1,
  bylineId: 7,
  coauthorIds: [],
  proofreaderId: null,
  proofreaderWrites: false,
  createdById: null,
  readersVersion: null,
  runLocal: null,
  copyDate: null,
  stageSince: '2026-11-24T10:00:00',
  sentBack: false,
  openNotes: 0,
  editorId: null,
  ...over,
});
const chief = { id: 1, role: 'managing editor', categories: [] } as const;
const writer = { id: 7, role: 'contributor', categories: [] } as const;
const proof = { id: 9, role: 'proofreader', categories: [] } as const;

describe('what needs a person today', () => {
  it('gives writers what is theirs, soonest copy date first', () => {
    const posts = [
      post({ copyDate: '2026-12-04' }),
      post({ stage: 'commissioned', copyDate: '2026-11-27' }),
      post({ sentBack: true, openNotes: 2, runLocal: '2026-11-30T08:00:00' }),
      post({ bylineId: 8 }),
      post({ stage: 'in review' }),
    ];
    expect(needsOf(writer, posts, now).map((n) => [n.kind, n.why])).toEqual([
      ['write', 'copy due Fri 27 Nov, in 2 days'],
      ['change', '2 open notes · runs Mon 30 Nov 08:00'],
      ['write', 'copy due Fri 4 Dec, in 9 days'],
      ['on its way', 'in review · no run time yet'],
    ]);
  });
  it('gives the desk what waits, what is late and what goes out', () => {
    const posts = [
      post({ stage: 'in review', runLocal: '2026-12-01T08:00:00' }),
      post({ stage: 'cleared', runLocal: '2026-11-30T08:00:00' }),
      post({ copyDate: '2026-11-20' }),
      post({ stage: 'scheduled', runLocal: '2026-11-26T08:00:00' }),
      post({ stage: 'scheduled', runLocal: '2026-12-20T08:00:00' }),
    ];
    const needs = needsOf(chief, posts, now);
    expect(needs.map((n) => n.kind)).toEqual(['late', 'goes out', 'schedule', 'review']);
    expect(needs.at(-1)?.why).toBe('handed in yesterday · runs Tue 1 Dec 08:00');
    expect(needs[0]?.late).toBe(true);
    expect(needsOf({ id: 2, role: 'editor', categories: [3] }, posts, now)).toEqual([]);
  });
  it.each([
    ['yesterday', '2026-11-24T08:00:00', []],
    ['earlier today', '2026-11-25T08:00:00', ['goes out']],
    ['tomorrow', '2026-11-26T23:59:00', ['goes out']],
    ['the day after', '2026-11-27T00:00:00', []],
  ])('shows the desk what goes out today and tomorrow: scheduled for %s', (_, runLocal, kinds) => {
    const posts = [post({ stage: 'scheduled', runLocal })];
    expect(needsOf(chief, posts, now).map((n) => n.kind)).toEqual(kinds);
  });
  it('finds nothing late on the day of its deadline, nor at the minute of its run time', () => {
    const late = (over: Partial<TodayPost>) => needsOf(chief, [post(over)], now).map((n) => n.late);
    expect(late({ bylineId: 1, copyDate: '2026-11-25' })).toEqual([false]);
    expect(late({ bylineId: 1, copyDate: '2026-11-24' })).toEqual([true, true]);
    expect(late({ stage: 'cleared', runLocal: now })).toEqual([false]);
    expect(late({ stage: 'cleared', runLocal: '2026-11-25T08:59:59' })).toEqual([true]);
  });
  it('gives the desk what was pitched by others, and whoever pitched their own', () => {
    const posts = [
      post({ stage: 'pitch', bylineId: null, createdById: 7, title: 'Theirs' }),
      post({ stage: 'pitch', bylineId: null, createdById: 1, title: 'Mine' }),
      post({ stage: 'pitch', bylineId: null, createdById: 7, categoryId: null, title: 'Nowhere yet' }),
    ];
    const told = (who: Parameters<typeof needsOf>[0]) =>
      needsOf(who, posts, now).map((n) => [n.kind, n.title]);
    expect(told(chief)).toEqual([
      ['pitched', 'Theirs'],
      ['own pitch', 'Mine'],
      ['pitched', 'Nowhere yet'],
    ]);
    expect(told(writer)).toEqual([
      ['own pitch', 'Theirs'],
      ['own pitch', 'Nowhere yet'],
    ]);
    expect(told({ id: 2, role: 'editor', categories: [3] })).toEqual([['pitched', 'Nowhere yet']]);
    expect(told(proof)).toEqual([]);
    expect(needsOf(writer, posts, now)[0]!.why).toBe('in the tray since Tue 24 Nov');
    expect(posts.some((p) => waitsFor(chief, p, now))).toBe(false);
  });
  it('gives a proofreader what they are put on', () => {
    expect(
      needsOf(proof, [post({ stage: 'in review', proofreaderId: 9 }), post({ stage: 'in review' })], now).map(
        (n) => n.kind,
      ),
    ).toEqual(['proofread']);
  });
});
