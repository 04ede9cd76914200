import { signal } from '@angular/core';
import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { NewPieces, OutletView } from '@keyroster/contract';
import { answer, show, type Shown } from '../../testing/newsroom';
import { choose, press, type } from '../../testing/hands';
import { AddPieces } from './add-pieces';

const outlet = (id: number, name: string, kind: OutletView['kind'], shapes: OutletView['limits']['shapes']) =>
  ({ id, name, kind, closed: false, limits: { shapes, maxLength: null } }) as unknown as OutletView;
const OUTLETS = [
  outlet(1, 'Short ones', 'short-post network', ['landscape']),
  outlet(2, 'Pictures', 'picture network', ['square', 'portrait']),
];

let dialog: Shown<AddPieces>;
let asked: NewPieces[];
let refused: string[];
const open = async () => {
  [asked, refused] = [[], []];
  const rollout = {
    outlets: signal(OUTLETS),
    outlet: (id: number) => OUTLETS.find((o) => o.id === id) ?? null,
    postId: signal(7),
    busy: signal(false),
    view: signal({ hours: [{ outletId: 2, outlet: 'Pictures', hours: [{ hour: 18, count: 21 }] }] }),
    error: signal(''),
    make: (body: NewPieces) => {
      asked.push(body);
      return Promise.resolve({ made: [], refused });
    },
  };
  dialog = await show(AddPieces, {
    providers: [
      { provide: MAT_DIALOG_DATA, useValue: rollout },
      { provide: MatDialogRef, useValue: { close: () => asked.push('closed' as never) } },
    ],
  });
  await answer((r) => r.flush({ posts: [], cursor: null }), '/api/posts');
};
const tick = async (label: string) =>
  (await dialog.loader.getHarness(MatCheckboxHarness.with({ label }))).toggle();

describe('pieces to be added', () => {
  it('go where their kind usually goes, in a shape that the outlet takes, and with the instruction for all', async () => {
    await open();
    await tick('Picture card');
    await tick('Short post');
    await type(dialog.loader, 'Instruction for all', ' warm ');
    await type(dialog.loader, 'Instruction for the short post', 'short');
    await press(dialog.loader, 'Make 2 pieces');
    await dialog.fixture.whenStable();
    expect(
      asked[0]!.asks.map(({ kind, outletId, shape, instruction }) => [kind, outletId, shape, instruction]),
    ).toEqual([
      ['short post', 1, 'landscape', 'short'],
      ['picture card', 2, 'square', 'warm'],
    ]);
    expect(asked[1]).toBe('closed');
  });

  it('are timed for the hour in which their outlet does best, until somebody chooses a time', async () => {
    await open();
    await tick('Picture card');
    expect(dialog.page.textContent).toContain('Pictures: seen most at 18:00 (21 pieces).');
    await press(dialog.loader, 'Make the piece');
    await dialog.fixture.whenStable();
    expect(asked[0]!.asks[0]!.timing).toEqual({ kind: 'same day', time: '18:00' });
  });

  it('change their shape with an outlet that does not take it', async () => {
    await open();
    await tick('Picture card');
    await choose(dialog.loader, 'Picture card for', 'Short ones');
    await press(dialog.loader, 'Make the piece');
    await dialog.fixture.whenStable();
    expect(asked[0]!.asks[0]).toMatchObject({ outletId: 1, shape: 'landscape' });
  });

  it('that could not be made stay chosen, with why', async () => {
    await open();
    await tick('Picture card');
    await tick('Short post');
    refused = ['Picture card: there is no picture.'];
    await press(dialog.loader, 'Make 2 pieces');
    await dialog.fixture.whenStable();
    expect(dialog.page.textContent).toContain('there is no picture');
    await press(dialog.loader, 'Make the piece');
    expect(asked[1]!.asks.map((a) => a.kind)).toEqual(['picture card']);
  });
});
