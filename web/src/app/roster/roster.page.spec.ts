import { TestBed } from '@angular/core/testing';
import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { MatSortHarness } from '@angular/material/sort/testing';
import type { Role } from '@keyroster/core';
import { answer, person, refuse, show, type Shown } from '../../testing/newsroom';
import { choose, line, press, type } from '../../testing/hands';
import { Unsaved } from '../ui/unsaved';
import { RosterPage } from './roster.page';

const people = [
  person(1, 'Mara Winslow', 'managing editor'),
  { ...person(2, 'Edda Thorne', 'editor'), categories: [1] },
  { ...person(3, 'Cyril Fenn', 'proofreader'), active: false },
];
let page: Shown<RosterPage>;
const open = async (role: Role = 'managing editor') => {
  page = await show(RosterPage, { role });
  await listed();
};
const listed = async (list = people) => {
  await answer((r) => r.flush(list), '/api/people');
  await page.fixture.whenStable();
};
const names = () => [...page.page.querySelectorAll('tbody tr a')].map((a) => a.textContent!.trim());
const changed = (id: number, check: (body: unknown) => void) =>
  answer(
    (r) => {
      check(JSON.parse(r.request.body as string));
      r.flush(people[1]!);
    },
    `/api/people/${id}`,
    'PATCH',
  );

describe('the roster', () => {
  it('lists people as they come, or by the head that is pressed', async () => {
    await open();
    expect(names()).toEqual(['MWMara Winslow', 'ETEdda Thorne', 'CFCyril Fenn']);
    const sort = await page.loader.getHarness(MatSortHarness);
    const [name] = await sort.getSortHeaders({ label: 'Name' });
    await name!.click();
    expect(names()).toEqual(['CFCyril Fenn', 'ETEdda Thorne', 'MWMara Winslow']);
    await name!.click();
    expect(names()[0]).toBe('MWMara Winslow');
  });

  it('changes a role, what an editor edits, and whether somebody may come in', async () => {
    await open();
    await choose(page.loader, 'Role of Edda Thorne', 'contributor');
    await changed(2, (body) => expect(body).toEqual({ role: 'contributor' }));
    await listed();
    const engines = await page.loader.getHarness(MatCheckboxHarness.with({ label: 'Engines' }));
    await engines.check();
    await changed(2, (body) => expect(body).toEqual({ categories: [1, 2] }));
    await listed();
    await press(page.loader, 'Activate');
    await changed(3, (body) => expect(body).toEqual({ active: true }));
    await listed();
  });

  it('says why a change is refused, and shows what stands', async () => {
    await open();
    await choose(page.loader, 'Role of Edda Thorne', 'contributor');
    await answer(refuse({ detail: 'Somebody has to manage the blog.' }), '/api/people/2', 'PATCH');
    await listed();
    expect(page.page.querySelector('[role=alert]')!.textContent).toContain('Somebody has to manage');
  });

  it('adds a person, and puts what is refused at its field', async () => {
    await open();
    await type(page.loader, 'Name', 'Ida Sluice');
    await type(page.loader, 'E-mail', 'ida@example.com');
    await type(page.loader, 'First password', 'short');
    expect(TestBed.inject(Unsaved).any()).toBe(true);
    await press(page.loader, 'Add to the roster');
    await answer(
      refuse({ detail: 'No.', fields: [{ field: 'password', sentence: 'At least 10 characters.' }] }),
      '/api/people',
      'POST',
    );
    await page.fixture.whenStable();
    expect(page.page.querySelector('mat-error')!.textContent).toContain('At least 10 characters.');
    await type(page.loader, 'First password', 'long enough now');
    await press(page.loader, 'Add to the roster');
    await answer((r) => r.flush(person(9, 'Ida Sluice')), '/api/people', 'POST');
    await listed([...people, person(9, 'Ida Sluice')]);
    expect(await (await line(page.loader, 'Name')).getValue()).toBe('');
    expect(TestBed.inject(Unsaved).any()).toBe(false);
  });

  it('is only read by those who do not manage people', async () => {
    await open('editor');
    expect(page.page.querySelector('form, mat-select, mat-checkbox, button[matButton]')).toBeNull();
  });
});
