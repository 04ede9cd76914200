import { TestBed } from '@angular/core/testing';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { MatDialogHarness } from '@angular/material/dialog/testing';
import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { answer, person, refuse, show, type Shown } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { Unsaved } from '../ui/unsaved';
import { ChecklistsPage } from './checklists.page';

const list = {
  id: 3,
  version: 2,
  name: 'Pictures',
  formats: [],
  categories: [1],
  items: [{ id: 8, text: 'Credits', assignee: 'editor', personId: null, daysBefore: 3, holds: true }],
};
let page: Shown<ChecklistsPage>;
async function listed(lists: object[]): Promise<void> {
  await answer((r) => r.flush(lists), '/api/checklists');
  await answer((r) => r.flush([]), '/api/formats');
  await answer((r) => r.flush([person(2, 'Isla Nettle')]), '/api/people');
  await page.fixture.whenStable();
}
async function open(): Promise<void> {
  page = await show(ChecklistsPage);
  await listed([list]);
}

describe('checklists', () => {
  it('take over what somebody else saved, and ask where both changed the same', async () => {
    await open();
    await type(page.loader, 'Item 1', 'Credits of pictures');
    await press(page.loader, 'Save');
    await answer(
      refuse({ code: 'version-conflict', detail: 'Somebody else changed this checklist.' }),
      '/api/checklists/3',
      'PUT',
    );
    const theirs = { ...list, version: 3, name: 'Pictures and films' };
    await listed([{ ...theirs, items: [{ ...list.items[0], text: 'Credits, in full' }] }]);
    expect(await (await line(page.loader, 'Name of the checklist')).getValue()).toBe('Pictures and films');
    expect(page.page.textContent).toContain('It is now “Credits, in full”.');
    await press(page.loader, 'Keep mine');
    await press(page.loader, 'Save');
    await answer(
      (r) => {
        expect(r.request.headers.get('If-Match')).toBe('"3"');
        expect(JSON.parse(r.request.body as string)).toMatchObject({
          name: 'Pictures and films',
          items: [{ text: 'Credits of pictures' }],
        });
        r.flush({ ...list, version: 4 });
      },
      '/api/checklists/3',
      'PUT',
    );
    await listed([{ ...list, version: 4 }]);
  });

  it('say what they are for, and are changed with their items', async () => {
    await open();
    expect(page.page.querySelector('.slots')!.textContent).toMatch(/Pictures.*1 item · Walks/s);
    await press(page.loader, 'Add an item');
    await type(page.loader, 'Item 2', 'Alternative texts');
    await (await page.loader.getHarness(MatCheckboxHarness.with({ label: 'Engines' }))).check();
    await press(page.loader, 'Save');
    await answer(
      (r) => {
        expect(r.request.headers.get('If-Match')).toBe('"2"');
        expect(JSON.parse(r.request.body as string)).toEqual({
          name: 'Pictures',
          formats: [],
          categories: [1, 2],
          items: [
            list.items[0],
            {
              id: null,
              text: 'Alternative texts',
              assignee: 'writer',
              personId: null,
              daysBefore: 2,
              holds: false,
            },
          ],
        });
        r.flush(list);
      },
      '/api/checklists/3',
      'PUT',
    );
    await listed([list]);
    // It stays open, as it is kept.
    expect(await (await line(page.loader, 'Name of the checklist')).getValue()).toBe('Pictures');
    expect(TestBed.inject(Unsaved).any()).toBe(false);
  });

  it('ask before another is opened over what is not saved', async () => {
    await open();
    await type(page.loader, 'Name of the checklist', 'Photographs');
    await press(page.loader, 'New checklist');
    await page.fixture.whenStable();
    const dialog = await TestbedHarnessEnvironment.documentRootLoader(page.fixture).getHarness(
      MatDialogHarness,
    );
    expect(await dialog.getText()).toContain('not saved');
    expect(await (await line(page.loader, 'Name of the checklist')).getValue()).toBe('Photographs');
  });

  it('without a name or an item are not sent', async () => {
    await open();
    await press(page.loader, 'New checklist');
    await press(page.loader, 'Save');
    expect(page.page.querySelector('[role=alert]')!.textContent).toBe(
      'Give it a name and at least one item.',
    );
  });
});
