import type { PlannerCard } from '@keyroster/contract';
import { answer, post, refuse, show, type Shown } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { FillDay, type FillData } from './fill-day';

const pitch = (id: number, title: string, parts: object = {}) =>
  ({
    ...post({ id, title, stage: 'pitch', ...parts }),
    createdAt: '2026-11-01T00:00:00Z',
  }) as unknown as PlannerCard;

let dialog: Shown<FillDay>;
async function open(data: Partial<FillData> = {}): Promise<void> {
  dialog = await show(FillDay, {
    data: {
      date: '2026-12-01',
      slot: null,
      pitches: [],
      today: '2026-11-26',
      warnings: (time: string) => (time === '03:00' ? [{ kind: 'hour', sentence: 'Nobody is awake.' }] : []),
      ...data,
    },
  });
}
const put = () => press(dialog.loader, /^Put it on/);

describe('a day filled from the calendar', () => {
  it('says what is against a time before it is taken', async () => {
    await open();
    await type(dialog.loader, 'Time, Europe/London', '3');
    expect(dialog.page.querySelector('[role=status]')!.textContent).toContain('Nobody is awake.');
    await type(dialog.loader, 'Time, Europe/London', '9');
    expect(dialog.page.querySelector('[role=status]')!.textContent!.trim()).toBe('');
  });

  it('needs a title and a time', async () => {
    await open();
    await put();
    expect(dialog.page.querySelector('[role=alert]')!.textContent).toBe('Give it a title, however rough.');
    await type(dialog.loader, 'Title', 'Lamps');
    await type(dialog.loader, 'Time, Europe/London', 'dawn');
    await put();
    expect(dialog.page.querySelector('[role=alert]')!.textContent).toBe('Type the time like 08:00.');
  });

  it('has the post there at once', async () => {
    await open({ slot: { time: '07:15', categoryId: 2, format: '' } as never });
    await type(dialog.loader, 'Title', 'Lamps');
    await put();
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({
          title: 'Lamps',
          thought: '',
          categoryId: 2,
          runAt: '2026-12-01T07:15',
        });
        r.flush(post());
      },
      '/api/posts',
      'POST',
    );
    expect(dialog.closed).toEqual([{ post: expect.objectContaining({ id: 7 }), sentence: '' }]);
  });

  it('asks which of two times is meant where the clocks go back', async () => {
    await open({ date: '2031-10-26' });
    await type(dialog.loader, 'Title', 'Lamps');
    await type(dialog.loader, 'Time, Europe/London', '1.30');
    await put();
    await answer(
      refuse({
        code: 'time-doubled',
        detail: 'That time happens twice.',
        choices: [
          { local: '2031-10-26T01:30:00', offset: '+01:00', at: '2031-10-26T00:30:00Z' },
          { local: '2031-10-26T01:30:00', offset: '+00:00', at: '2031-10-26T01:30:00Z' },
        ],
      }),
      '/api/posts',
      'POST',
    );
    await dialog.fixture.whenStable();
    await press(dialog.loader, /the later$/);
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toMatchObject({ runAt: '2031-10-26T01:30:00+00:00' });
        r.flush(post());
      },
      '/api/posts',
      'POST',
    );
  });

  it('offers the pitches that fit, those that must be on the day first', async () => {
    await open({
      slot: { time: '08:00', categoryId: 2, format: '' } as never,
      pitches: [
        pitch(1, 'Elsewhere', { categoryId: 1 }),
        pitch(2, 'Fits', { categoryId: 2 }),
        pitch(3, 'Rated', { categoryId: 2, rating: 4 }),
        pitch(4, 'Must', {
          categoryId: 1,
          dateConstraint: { notBefore: null, notAfter: null, mustBeOn: '2026-12-01' },
        }),
      ],
    });
    const offered = [...dialog.page.querySelectorAll('li span')].map((s) => s.textContent);
    expect(offered.filter((t) => /^(Elsewhere|Fits|Rated|Must)$/.test(t!))).toEqual([
      'Must',
      'Rated',
      'Fits',
    ]);
    await press(dialog.loader, /^Rated/);
    expect(dialog.closed).toEqual([{ pitch: expect.objectContaining({ id: 3 }), time: '08:00' }]);
  });
});
