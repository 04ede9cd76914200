import { HttpTestingController } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { answer, person, refuse, show, type Shown } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { MatSelectHarness } from '@angular/material/select/testing';
import type { Role } from '@keyroster/core';
import { AbsencesPage } from './absences.page';

const people = [person(1, 'Mara Winslow', 'managing editor'), person(2, 'Isla Nettle')];
const absence = (parts: object = {}) => ({
  id: 9,
  personId: 1,
  person: people[0],
  from: '2026-12-01',
  to: '2026-12-03',
  note: '',
  mine: true,
  ...parts,
});
let page: Shown<AbsencesPage>;
async function open(role: Role = 'managing editor', absences: object[] = []): Promise<void> {
  page = await show(AbsencesPage, { role });
  await listed(absences);
}
async function listed(absences: object[]): Promise<void> {
  await answer((r) => r.flush(absences), '/api/absences');
  await answer((r) => r.flush(people), '/api/people');
  await page.fixture.whenStable();
}
const enter = () => press(page.loader, 'Enter the absence');

describe('absences', () => {
  it('of one day need one day only', async () => {
    await open();
    await type(page.loader, 'First day', '1 Dec 2026');
    expect(await (await line(page.loader, 'Last day')).getValue()).toBe('Tue 1 Dec 2026');
    await type(page.loader, 'Last day', '3 Dec 2026');
    await type(page.loader, 'First day', '2 Dec 2026');
    expect(await (await line(page.loader, 'Last day')).getValue()).toBe('Thu 3 Dec 2026');
    await type(page.loader, 'Note', 'Dry dock');
    await enter();
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({
          personId: 1,
          from: '2026-12-02',
          to: '2026-12-03',
          note: 'Dry dock',
        });
        r.flush(absence());
      },
      '/api/absences',
      'POST',
    );
    await listed([absence()]);
    expect(await (await line(page.loader, 'First day')).getValue()).toBe('');
    expect(page.page.querySelector('table')!.textContent).toMatch(/Tue 1 Dec.*Thu 3 Dec.*\(3 days\)/s);
  });

  it('without a day that can be read are not sent', async () => {
    await open();
    await type(page.loader, 'First day', 'after the frost');
    await enter();
    expect(page.page.querySelector('[role=alert]')!.textContent).toBe('Choose the first and the last day.');
    expect(page.page.textContent).toContain('Type a day, like 1 Dec 2026.');
  });

  it('that the server refuses keep what was typed', async () => {
    await open();
    await type(page.loader, 'First day', '3 Dec 2026');
    await type(page.loader, 'Last day', '1 Dec 2026');
    await enter();
    await answer(refuse({ detail: 'It would end before it begins.' }), '/api/absences', 'POST');
    await listed([]);
    expect(page.page.querySelector('[role=alert]')!.textContent).toBe('It would end before it begins.');
    expect(await (await line(page.loader, 'Last day')).getValue()).toBe('Tue 1 Dec 2026');
  });

  it('are not changed to a day that cannot be read', async () => {
    await open('managing editor', [absence()]);
    await press(page.loader, 'Change');
    await type(page.loader, 'Last day', 'thawing');
    await press(page.loader, 'Save');
    expect(page.page.querySelector('[role=alert]')!.textContent).toBe('Choose the first and the last day.');
    TestBed.inject(HttpTestingController).expectNone((r) => r.method === 'PATCH');
  });

  it('are one’s own, but for the managing editor', async () => {
    await open('contributor', [absence({ id: 3, personId: 2, person: people[1], mine: false })]);
    const who = await page.loader.getHarness(MatSelectHarness);
    await who.open();
    expect(await Promise.all((await who.getOptions()).map((o) => o.getText()))).toEqual(['Mara Winslow']);
    expect(page.page.querySelector('[aria-label^="Change:"]')).toBeNull();
  });
});
