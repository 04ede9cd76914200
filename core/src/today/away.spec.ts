import { postsInAbsences, type AwayPost } from './away.js';

const post = (over: Partial<AwayPost>): AwayPost => ({
  id: 1,
  title: 'A post',
  stage: 'drafting',
  categoryId: 1,
  bylineId: 7,
  runLocal: '2026-12-11T12:00:00',
  copyDate: '2026-12-04',
  ...over,
});
const away = { id: 3, personId: 7, from: '2026-12-10', to: '2026-12-16', note: '' };
const chief = { id: 1, role: 'managing editor', categories: [] } as const;

describe('posts in an absence', () => {
  const found = (posts: Partial<AwayPost>[], actor: Parameters<typeof postsInAbsences>[0] = chief) =>
    postsInAbsences(
      actor,
      posts.map((p, i) => post({ id: i + 1, ...p })),
      [away],
    ).map((n) => n.posts.map((p) => p.id));
  it('run in it, or have their copy due in it, and are not ready', () => {
    expect(
      found([
        {},
        { runLocal: '2026-12-16T23:00:00' },
        { runLocal: '2026-12-17T00:00:00' },
        { runLocal: '2026-12-20T08:00:00', copyDate: '2026-12-10' },
        { runLocal: '2026-12-20T08:00:00', copyDate: '2026-12-10', stage: 'in review' },
        { stage: 'in review' },
        { stage: 'cleared' },
        { stage: 'scheduled' },
        { bylineId: 8 },
      ]),
    ).toEqual([[1, 2, 4, 6]]);
  });
  it('are told to whoever sees to them', () => {
    expect(found([{}], { id: 2, role: 'editor', categories: [1] })).toEqual([[1]]);
    expect(found([{}], { id: 2, role: 'editor', categories: [2] })).toEqual([]);
    expect(found([{}], { id: 7, role: 'contributor', categories: [] })).toEqual([]);
  });
});
