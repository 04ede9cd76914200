import { TestBed } from '@angular/core/testing';
import type { TestRequest } from '@angular/common/http/testing';
import { answer, show, type Shown } from '../../testing/newsroom';
import { choose, dialogGone, line, press, type } from '../../testing/hands';
import { SessionService } from '../accounts/session.service';
import { SlotsPage } from './slots.page';

const slot = (id: number, weekday: number) => ({
  id,
  weekday,
  time: '08:00',
  categoryId: 1,
  format: '',
  from: null,
  until: null,
  everyWeeks: 1,
  exceptions: [],
});
const sent = (r: TestRequest) => (JSON.parse(r.request.body as string) as { slot: object }).slot;

let page: Shown<SlotsPage>;
async function open(role: 'managing editor' | 'contributor' = 'managing editor'): Promise<void> {
  page = await show(SlotsPage, { role });
  const session = TestBed.inject(SessionService);
  const again = session.refresh();
  await answer((r) => {
    const now = { me: session.me(), blog: session.blog(), needsSetup: false, blogs: [], demo: false };
    r.flush({ ...now, blog: { ...now.blog, slots: [slot(3, 1), slot(4, 5)] } });
  }, '/api/session');
  await again;
  await answer((r) => r.flush([]), '/api/formats');
  await page.fixture.whenStable();
}
const pick = async (name: RegExp) => {
  const button = [...page.page.querySelectorAll<HTMLButtonElement>('ul.slots button')].find((b) =>
    name.test(b.textContent!),
  )!;
  button.click();
  await new Promise((done) => setTimeout(done));
  await page.fixture.whenStable();
};
const heading = () => page.page.querySelector('[aria-label="Slot"] h2')?.textContent?.trim();

describe('standing slots', () => {
  it('are weighed before they are changed', async () => {
    await open();
    await pick(/^Mondays/);
    await type(page.loader, 'Time', '9.30');
    await answer(
      (r) => {
        expect(sent(r)).toMatchObject({ weekday: 1, time: '09:30' });
        r.flush({ sentence: 'One post loses its slot.', loses: [], gains: [] });
      },
      '/api/slots/weigh',
      'POST',
    );
    await page.fixture.whenStable();
    expect(page.page.textContent).toContain('One post loses its slot.');
  });

  it('forget their exceptions when their weekday changes, which would lie on other days', async () => {
    await open();
    await pick(/^Mondays/);
    await press(page.loader, 'Skip');
    await choose(page.loader, 'Weekday', 'Tuesday');
    await answer(
      (r) => {
        expect(sent(r)).toMatchObject({ weekday: 2, exceptions: [] });
        r.flush({ sentence: '', loses: [], gains: [] });
      },
      '/api/slots/weigh',
      'POST',
    );
  });

  it('ask before another is looked at while one is changed', async () => {
    await open();
    await pick(/^Mondays/);
    await type(page.loader, 'Time', '9:00');
    const picked = pick(/^Fridays/);
    await picked;
    await press(page.loader, 'Cancel');
    await dialogGone();
    await page.fixture.whenStable();
    expect(heading()).toMatch(/^Mondays 09:00/);
    await pick(/^Fridays/);
    await press(page.loader, 'Leave');
    await dialogGone();
    await page.fixture.whenStable();
    expect(heading()).toMatch(/^Fridays/);
  });

  it('are only read by those who do not manage the blog', async () => {
    await open('contributor');
    await pick(/^Mondays/);
    expect(await (await line(page.loader, 'Time')).isDisabled()).toBe(true);
    expect(page.page.querySelector('button[type=submit]')).toBeNull();
  });
});
