import { TestBed } from '@angular/core/testing';
import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { formatChoreDue } from '@keyroster/core';
import { SessionService } from '../accounts/session.service';
import { answer, refuse, show, type Shown } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { PostChores } from './post-chores';

/** Far enough on either side of whatever day it is. */
const SOON = '2099-11-30';
const PAST = '2020-11-20';
const chore = (parts: object = {}) => ({
  id: 4,
  checklist: 'Proof',
  text: 'Read aloud',
  assignee: 'writer',
  person: { id: 2, name: 'Isla Nettle', initials: 'IN' },
  daysBefore: 3,
  due: SOON,
  holds: true,
  done: false,
  doneBy: null,
  rights: { tick: true, change: true },
  ...parts,
});
let page: Shown<PostChores>;
async function open(chores: object[], mayChange = true): Promise<void> {
  page = await show(PostChores, { inputs: { postId: 7, mayChange } });
  await answer((r) => r.flush([{ id: 1, name: 'Pictures' }]), '/api/checklists');
  await listed(chores);
}
async function listed(chores: object[]): Promise<void> {
  await answer((r) => r.flush(chores), '/api/posts/7/chores');
  await page.fixture.whenStable();
}

describe('the checklist of a post', () => {
  it('says whose a chore is, when it is due, and that it holds the post back', async () => {
    await open([
      chore(),
      chore({ id: 5, text: 'Links', due: PAST, holds: false, person: null, assignee: 'editor' }),
      chore({ id: 6, text: 'Names', done: true, doneBy: { id: 1, name: 'Mara Winslow', initials: 'MW' } }),
    ]);
    const today = TestBed.inject(SessionService).today();
    const words = [...page.page.querySelectorAll('small')].map((s) => s.textContent);
    expect(words).toEqual([
      `Isla Nettle · ${formatChoreDue(SOON, today)} · holds the post back`,
      `editor: nobody yet · ${formatChoreDue(PAST, today)}`,
      'done by Mara Winslow',
    ]);
    expect(page.page.querySelectorAll('small.late')).toHaveLength(1);
  });

  it('is ticked, and says why it is not', async () => {
    await open([chore()]);
    const box = await page.loader.getHarness(MatCheckboxHarness.with({ label: 'Read aloud' }));
    await box.check();
    await answer(refuse({ detail: 'Not yours to tick.' }), '/api/chores/4', 'PATCH');
    await listed([chore()]);
    expect(page.page.querySelector('[role=alert]')!.textContent).toBe('Not yours to tick.');
    expect(await box.isChecked()).toBe(false);
    await box.check();
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({ done: true });
        r.flush(chore({ done: true }));
      },
      '/api/chores/4',
      'PATCH',
    );
    await listed([chore({ done: true, doneBy: { id: 1, name: 'Mara Winslow', initials: 'MW' } })]);
    expect(await box.isChecked()).toBe(true);
  });

  it('gets a chore by hand', async () => {
    await open([]);
    expect(page.page.textContent).toContain('Nothing is on its checklist.');
    await press(page.loader, 'Add an item');
    await type(page.loader, 'What is to be done', 'Ask the lawyer');
    await press(page.loader, 'Add');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({
          chore: { text: 'Ask the lawyer', assignee: 'writer', personId: null, daysBefore: 2, holds: false },
        });
        r.flush([chore()]);
      },
      '/api/posts/7/chores',
      'POST',
    );
    await listed([chore()]);
  });

  it('offers nothing to whom it is not theirs to change', async () => {
    await open([chore({ rights: { tick: false, change: false } })], false);
    expect(page.page.querySelectorAll('button')).toHaveLength(0);
    const box = await page.loader.getHarness(MatCheckboxHarness.with({ label: 'Read aloud' }));
    expect(await box.isDisabled()).toBe(true);
  });
});
