import type { ResultsView } from '@keyroster/contract';
import { everyDay } from '@keyroster/core';
import { answer, show, type Shown } from '../../testing/newsroom';
import { ResultsPage } from './results.page';
import { changeWords, hoursWords, lengthWords, shareWords } from './words';

const SPAN = { from: '2026-11-22', to: '2026-11-28' };
const VIEW: ResultsView = {
  span: SPAN,
  before: { from: '2026-11-15', to: '2026-11-21' },
  totals: [
    { name: 'Reads', value: 1500, before: 1200 },
    { name: 'Comments', value: 3, before: 0 },
  ],
  days: everyDay(SPAN, new Map([['2026-11-24', 1500]])).map(({ day, value }) => ({
    day,
    reads: value,
    before: 171,
  })),
  readsVerdict: 'alike',
  groups: {
    category: [
      { label: 'Galley', count: 8, median: 300, low: 250, high: 380, verdict: 'more' },
      { label: 'Towpath', count: 2, median: 90, low: null, high: null, verdict: 'too few' },
    ],
    person: [],
    weekday: [],
    hour: [],
    form: [{ label: 'plain statements', count: 10, median: 200, low: 100, high: 300, verdict: 'too few' }],
  },
  tooYoung: 1,
  titleLength: -0.7,
  posts: [
    {
      id: 7,
      title: 'Lamps along the feeder',
      runLocal: '2026-11-24T08:00:00',
      category: 'Galley',
      byline: 'Ada',
      form: 'statement',
      reads: 1500,
      firstWeek: null,
    },
  ],
  outlets: [],
  letters: [],
};

async function open(inputs: Record<string, string> = {}): Promise<Shown<ResultsPage>> {
  const page = await show(ResultsPage, { role: 'editor', inputs: { ...SPAN, ...inputs } });
  await answer((r) => {
    expect(r.request.urlWithParams).toContain('from=2026-11-22&to=2026-11-28');
    r.flush(VIEW);
  }, '/api/results');
  await page.fixture.whenStable();
  return page;
}
const table = (page: Shown<unknown>, name: string) =>
  [...page.page.querySelectorAll(`table[aria-label="${name}"] tbody tr`)].map((row) =>
    [...row.querySelectorAll('td')].map((cell) => (cell.textContent ?? '').replace(/\s+/g, ' ').trim()),
  );

describe('the results', () => {
  it('tell the same in tables as in charts, and what may be chance', async () => {
    const page = await open();
    expect(table(page, 'What does well')).toEqual([
      ['Galley', '8', '300', '250–380', 'more than the others'],
      ['Towpath', '2', '90', '', 'too few to tell'],
    ]);
    expect(table(page, 'Reads a day').map((row) => row[1])).toEqual(['0', '0', '1,500', '0', '0', '0', '0']);
    expect(table(page, 'Most read posts')[0]!.slice(2)).toEqual(['1,500', 'not over']);
    const text = page.page.textContent!.replace(/\s+/g, ' ');
    expect(text).toContain('No clear difference from the period before.');
    expect(text).toContain('1 post not a week old yet, left out here.');
    expect(text).toContain('No letter went out in this span.');
    expect(page.page.querySelector<HTMLAnchorElement>('a[download]')!.getAttribute('href')).toMatch(
      /^\/api\/results\.csv\?from=2026-11-22&to=2026-11-28/,
    );
  });

  it('group by what the address says', async () => {
    const page = await open({ by: 'form' });
    expect(table(page, 'What does well').map((row) => row[0])).toEqual(['plain statements']);
    expect(page.page.textContent).toContain('Shorter titles did clearly better (rank correlation -0.70).');
  });

  it('say figures in words', () => {
    expect(changeWords({ name: '', value: 1500, before: 1200 })).toBe('+25%, 1,200 before');
    expect(changeWords({ name: '', value: 600, before: 1200 })).toBe('−50%, 1,200 before');
    expect(changeWords({ name: '', value: 1, before: 0 })).toBe('none before');
    expect(changeWords({ name: '', value: 0, before: 0 })).toBe('');
    expect(shareWords({ share: 0.58, low: 0.51, high: 0.64 })).toBe('58% (51% to 64%)');
    expect(shareWords({ share: 0.012, low: 0.005, high: 0.027 })).toBe('1.2% (0.5% to 2.7%)');
    expect(lengthWords(null)).toContain('Too few posts');
    expect(lengthWords(0.1)).toContain('little to do with it');
    const best = [{ hour: 8, count: 9, median: 20 }];
    expect(hoursWords({ bestHours: best, pieces: 40 })).toBe('seen most at 08:00');
    expect(hoursWords({ bestHours: [], pieces: 3 })).toBe('too few pieces to compare hours');
    expect(hoursWords({ bestHours: [], pieces: 30 })).toBe('no hour is clearly better');
  });
});
