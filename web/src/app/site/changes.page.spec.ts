import type { ChangeView, ChangesPage as Answer } from '@keyroster/contract';
import { answer, refuse, show } from '../../testing/newsroom';
import { choose, press } from '../../testing/hands';
import { ChangesPage } from './changes.page';

const change = (parts: Partial<ChangeView>): ChangeView => ({
  id: 9,
  kind: 'category',
  name: 'Towpath',
  by: { id: 2, name: 'Noor Adeyemi', initials: 'NA' },
  at: '2026-11-26T09:30:00Z',
  was: { name: 'Walks' },
  became: { name: 'Towpath' },
  undoable: true,
  ...parts,
});
const list = (changes: ChangeView[], more = false): Answer => ({ changes, more });
const rows = (page: HTMLElement) =>
  [...page.querySelectorAll('tbody tr')].map((row) =>
    [...row.children].map((cell) => cell.textContent.replace(/\s+/g, ' ').trim()),
  );

describe('the changes', () => {
  it('say who changed what, from what to what', async () => {
    const { page, fixture } = await show(ChangesPage);
    await answer(
      (r) =>
        r.flush(
          list([
            change({}),
            change({
              id: 8,
              kind: 'person',
              name: 'Ada',
              was: { categories: [1] },
              became: { categories: [1, 2] },
            }),
            change({ id: 7, kind: 'slot', was: { weekday: 1 }, became: { weekday: 2 } }),
            change({ id: 6, kind: 'tag', was: null, undoable: false }),
            change({ id: 5, kind: 'absence', became: null, undoable: false }),
          ]),
        ),
      '/api/changes',
    );
    await fixture.whenStable();
    const said = rows(page);
    expect(said[0]).toEqual([
      ...['Thu 26 Nov 09:30', 'Noor Adeyemi', 'CategoryTowpath'],
      ...['Name: “Walks” →, now “Towpath”', 'Undo'],
    ]);
    expect(said[1]![3]).toBe('Categories: Walks →, now Walks, Engines');
    expect(said[2]![3]).toBe('Weekday: Monday →, now Tuesday');
    expect(said[3]!.slice(2)).toEqual(['TagTowpath', 'added', '']);
    expect(said[4]!.slice(2)).toEqual(['AbsenceTowpath', 'deleted', '']);
  });

  it('are undone one by one, and a refusal is said', async () => {
    const { page, loader, fixture } = await show(ChangesPage);
    await answer((r) => r.flush(list([change({})])), '/api/changes');
    await press(loader, 'Undo');
    await answer(
      refuse({ detail: 'Noor changed the same on “Towpath” since then. Undo that first.' }),
      '/api/changes/9/undo',
      'POST',
    );
    await answer((r) => r.flush(list([change({})])), '/api/changes');
    await fixture.whenStable();
    expect(page.querySelector('[role="alert"]')!.textContent).toMatch(/Undo that first/);
    await press(loader, 'Undo');
    await answer((r) => r.flush(null), '/api/changes/9/undo', 'POST');
    await answer((r) => r.flush(list([])), '/api/changes');
    await fixture.whenStable();
    expect(page.textContent).toMatch(/Nothing has been changed yet/);
  });

  it('are shown by kind, and more of them on demand', async () => {
    const { page, loader, fixture } = await show(ChangesPage);
    await answer((r) => r.flush(list([change({})], true)), '/api/changes');
    await press(loader, 'Show more');
    await answer((r) => {
      expect(r.request.params.get('before')).toBe('9');
      r.flush(list([change({ id: 3, name: 'Older' })]));
    }, '/api/changes');
    await fixture.whenStable();
    expect(rows(page).length).toBe(2);
    // Undoing one does not take the older ones away again.
    await press(loader, 'Undo');
    await answer((r) => r.flush(null), '/api/changes/9/undo', 'POST');
    await answer((r) => r.flush(list([change({ id: 10 }), change({})], true)), '/api/changes');
    await fixture.whenStable();
    expect(rows(page).length).toBe(3);
    await choose(loader, 'Show', 'Tag');
    await answer((r) => {
      expect(r.request.params.get('kind')).toBe('tag');
      r.flush(list([]));
    }, '/api/changes');
    await fixture.whenStable();
    expect(rows(page)).toEqual([]);
  });
});
