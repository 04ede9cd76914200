import { paceOf, USUAL, type Turnaround } from './turnaround.js';

const went = (bylineId: number, over: Partial<Turnaround>): Turnaround => ({
  bylineId,
  commissioned: null,
  copyDue: null,
  handedIn: null,
  cleared: null,
  ...over,
});

describe('how long things take, worked by hand', () => {
  const all = [
    went(7, {
      commissioned: '2026-10-01',
      copyDue: '2026-10-08',
      handedIn: '2026-10-08',
      cleared: '2026-10-09',
    }),
    went(7, {
      commissioned: '2026-10-05',
      copyDue: '2026-10-14',
      handedIn: '2026-10-15',
      cleared: '2026-10-18',
    }),
    went(7, {
      commissioned: '2026-10-30',
      copyDue: '2026-11-10',
      handedIn: '2026-11-03',
      cleared: '2026-11-03',
    }),
    went(7, { commissioned: '2026-11-10', copyDue: '2026-11-20' }),
    went(8, { commissioned: '2026-10-01', copyDue: '2026-10-09', handedIn: '2026-10-20' }),
    went(8, { handedIn: '2026-10-20', cleared: '2026-10-19' }),
  ];
  it('takes the middle one, of those that are enough to tell', () => {
    // Writer 7 took 7, 10 and 4 days; with writer 8’s 19 the blog’s middle two are 7 and 10.
    const { of, blog } = paceOf(all);
    expect(of(7)).toEqual({
      write: { days: 7, count: 3 },
      review: { days: 1, count: 3 },
      onTime: { of: 2, count: 3 },
    });
    expect(blog).toEqual({ write: { days: 10, count: 4 }, review: { days: 1, count: 3 } });
  });
  it('takes the blog’s where a writer’s are too few, and what is usual where there are none', () => {
    expect(paceOf(all).of(8)).toEqual({
      write: { days: 10, count: 0 },
      review: { days: 1, count: 0 },
      onTime: { of: 0, count: 1 },
    });
    expect(paceOf([]).of(8)).toEqual({ ...USUAL, onTime: { of: 0, count: 0 } });
  });
});
