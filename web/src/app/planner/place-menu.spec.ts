import type { SlotDate } from '@keyroster/core';
import { card, show, type Shown } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { PlaceMenu, type PlaceData } from './place-menu';

const slot = (date: string, categoryId: number): SlotDate =>
  ({ slotId: categoryId, date, time: '08:00', categoryId }) as SlotDate;
let menu: Shown<PlaceMenu>;
const open = async (parts: Partial<PlaceData> = {}) => {
  menu = await show(PlaceMenu, {
    data: {
      post: card({ categoryId: 2 }),
      openSlots: [slot('2026-12-02', 1), slot('2026-12-03', 2), slot('2026-12-04', 1)],
      today: '2026-11-26',
      warnings: (date: string) =>
        date === '2026-12-04' ? [{ kind: 'away' as never, sentence: 'Isla Nettle is away.' }] : [],
      ...parts,
    } satisfies PlaceData as PlaceData,
  });
};
const slots = () => [...menu.page.querySelectorAll('li')].map((li) => li.textContent!.trim());

describe('where a card may be put', () => {
  it('is its category’s open slots first, each with what would be wrong there', async () => {
    await open();
    expect(slots().map((text) => text.slice(0, 15))).toEqual([
      'Thu 3 Dec 08:00',
      'Wed 2 Dec 08:00',
      'Fri 4 Dec 08:00',
    ]);
    expect(slots()[2]).toContain('Isla Nettle is away.');
    await press(menu.loader, /^Wed 2 Dec 08:00/);
    expect(menu.closed).toEqual([{ to: 'day', date: '2026-12-02', time: '08:00' }]);
  });

  it('is any other date, from the one that it has', async () => {
    await open({ openSlots: [] });
    expect(menu.page.textContent).toContain('No slot is open in the weeks shown.');
    expect(await (await line(menu.loader, 'Date')).getValue()).toBe('Tue 1 Dec 2026');
    await type(menu.loader, 'Date', '');
    await press(menu.loader, 'Put it on this date');
    expect(menu.closed).toEqual([]);
    expect(menu.page.querySelector('[role=alert]')!.textContent).toContain('Choose a date.');
    await type(menu.loader, 'Date', '9 Dec 2026');
    await type(menu.loader, 'Time', '');
    await press(menu.loader, 'Put it on this date');
    expect(menu.page.querySelector('[role=alert]')!.textContent).toContain('Type the time like 08:00.');
    await type(menu.loader, 'Time', '17:30');
    await press(menu.loader, 'Put it on this date');
    expect(menu.closed).toEqual([{ to: 'day', date: '2026-12-09', time: '17:30' }]);
  });

  it('is the tray for what is not handed in yet, and for nothing else', async () => {
    await open();
    await press(menu.loader, 'Back to the tray');
    expect(menu.closed).toEqual([{ to: 'tray' }]);
  });

  it('is not the tray for what waits to be read', async () => {
    await open({ post: card({ stage: 'in review' }) });
    await expect(press(menu.loader, 'Back to the tray')).rejects.toThrow();
  });
});
