import { HttpTestingController, type TestRequest } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { MatDialogHarness } from '@angular/material/dialog/testing';
import { answer, show, type Shown } from '../../testing/newsroom';
import { dialogGone, press } from '../../testing/hands';
import { ApiError } from '../api/api';
import { ErrorLine } from '../ui/error-line';
import { Saving, joinValues } from './saving.service';

describe('values that two people saved', () => {
  const base = { name: 'Walks', hue: 1, tags: ['a', 'b'] };

  it('are joined where only one of them changed a field', () => {
    expect(joinValues({ name: 'Towpath', hue: 1 }, { ...base, hue: 5 }, base)).toEqual({
      values: { name: 'Towpath', hue: 5 },
      both: [],
    });
  });

  it('are chosen from where both changed the same field, unless to the same', () => {
    expect(joinValues({ name: 'Mine' }, { ...base, name: 'Theirs' }, base).both).toEqual(['name']);
    expect(joinValues({ name: 'Same' }, { ...base, name: 'Same' }, base).both).toEqual([]);
  });

  it('are lists with what either added and without what either removed', () => {
    expect(joinValues({ tags: ['a', 'b', 'mine'] }, { tags: ['b', 'theirs'] }, base).values).toEqual({
      tags: ['b', 'theirs', 'mine'],
    });
  });

  it('are settings of which each counts by itself', () => {
    const checks = { title: 'warns', links: 'off' };
    const theirs = { checks: { ...checks, links: 'blocks' } };
    expect(joinValues({ checks: { title: 'blocks' } }, theirs, { checks })).toEqual({
      values: { checks: { title: 'blocks', links: 'blocks' } },
      both: [],
    });
    expect(joinValues({ checks: { links: 'warns' } }, theirs, { checks }).both).toEqual(['checks']);
  });

  it('leave alone what the other side does not tell, like a password', () => {
    expect(joinValues({ password: 'secret words' }, { name: 'X' }, base)).toEqual({
      values: { password: 'secret words' },
      both: [],
    });
  });
});

describe('saving what others change too', () => {
  const seen = { id: 4, version: 3, name: 'Walks', hue: 1 };
  let shown: Shown<ErrorLine>;
  beforeEach(async () => {
    shown = await show(ErrorLine, { inputs: { of: '' } });
  });
  afterEach(() => TestBed.inject(HttpTestingController).verify());

  const sent = async (): Promise<[string | null, unknown]> => {
    let request: TestRequest['request'];
    await answer((r) => ({ request } = r), '/api/categories/4', 'PATCH');
    return [request!.headers.get('If-Match'), JSON.parse(request!.body as string)];
  };
  const refused = (current: object, version = 4) =>
    answer(
      (r) =>
        r.flush(
          {
            ...{ type: 'about:blank', title: 'Changed', status: 412, code: 'version-conflict' },
            ...{ detail: 'Noor changed this category.', version, current, changedBy: 'Noor' },
          },
          { status: 412, statusText: 'Precondition Failed' },
        ),
      '/api/categories/4',
      'PATCH',
    );
  const save = (body: { name?: string; hue?: number }) => {
    const saved = TestBed.inject(Saving).save('categories.change', seen, body);
    saved.catch(() => undefined);
    return saved;
  };

  it('says which version was seen', async () => {
    void save({ name: 'Towpath' });
    expect(await sent()).toEqual(['"3"', { name: 'Towpath' }]);
  });

  it('knows what it saved itself before the screen does', async () => {
    void save({ name: 'Towpath' });
    await answer((r) => r.flush({ ...seen, version: 4, name: 'Towpath' }), '/api/categories/4', 'PATCH');
    void save({ name: 'Towpath walks' });
    expect(await sent()).toEqual(['"4"', { name: 'Towpath walks' }]);
  });

  it('removes upon what it saved itself', async () => {
    const saving = TestBed.inject(Saving);
    const saved = saving.save('chores.change', seen, { done: true });
    await answer((r) => r.flush({ ...seen, version: 4 }), '/api/chores/4', 'PATCH');
    await saved;
    void saving.remove('chores.remove', seen);
    await answer((r) => expect(r.request.headers.get('If-Match')).toBe('"4"'), '/api/chores/4', 'DELETE');
    // Of another kind with the same id it knows nothing.
    void saving.remove('absences.remove', seen);
    await answer((r) => expect(r.request.headers.get('If-Match')).toBe('"3"'), '/api/absences/4', 'DELETE');
  });

  it('goes on by itself where somebody changed another field', async () => {
    void save({ name: 'Towpath' });
    await refused({ name: 'Walks', hue: 9 });
    expect(await sent()).toEqual(['"4"', { name: 'Towpath' }]);
  });

  it('shows the other value where both changed it, and saves one’s own when that is kept', async () => {
    void save({ name: 'Towpath' });
    await refused({ name: 'Locks', hue: 1 });
    const dialog = await shown.loader.getHarness(MatDialogHarness);
    expect(await dialog.getText()).toMatch(
      /Noor changed “Name” while you were at it\. It is now “Locks”; yours is “Towpath”\./,
    );
    await press(shown.loader, 'Keep mine');
    await dialogGone();
    expect(await sent()).toEqual(['"4"', { name: 'Towpath' }]);
  });

  it('takes theirs when that is chosen', async () => {
    void save({ name: 'Towpath', hue: 2 });
    await refused({ name: 'Locks', hue: 1 });
    await press(shown.loader, 'Use theirs');
    await dialogGone();
    expect(await sent()).toEqual(['"4"', { name: 'Locks', hue: 2 }]);
  });

  it('saves nothing when it is cancelled, and says why', async () => {
    const saved = save({ name: 'Towpath' });
    await refused({ name: 'Locks', hue: 1 });
    await press(shown.loader, 'Cancel');
    await expect(saved).rejects.toThrow(new ApiError(null, 'Noor changed this category.'));
  });

  it('gives up where others are before it again and again', async () => {
    const saved = save({ name: 'Towpath' });
    for (let version = 4; version < 9; version++) await refused({ name: 'Walks', hue: version }, version);
    await expect(saved).rejects.toThrow('Noor changed this category.');
  });
});
