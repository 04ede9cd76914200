import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { MediaView } from '@keyroster/contract';
import { answer, show, type Shown } from '../../testing/newsroom';
import { line, press, type } from '../../testing/hands';
import { CropDialog } from './crop-dialog';

const picture = { id: 5, src: '/media/5', width: 1200, height: 900, focus: { x: 0.5, y: 0.5 } } as MediaView;
let dialog: Shown<CropDialog>;
let closed: unknown[];
const open = async () => {
  closed = [];
  dialog = await show(CropDialog, {
    providers: [
      { provide: MAT_DIALOG_DATA, useValue: picture },
      { provide: MatDialogRef, useValue: { close: (kept: unknown) => closed.push(kept) } },
    ],
  });
};
const numbers = async () => {
  await dialog.fixture.whenStable();
  const values = [];
  for (const label of ['From the left', 'From the top', 'Width', 'Height'])
    values.push(Number(await (await line(dialog.loader, label)).getValue()));
  return values;
};

describe('a part of a picture', () => {
  it('keeps its shape, and stays within the picture, whatever is typed', async () => {
    await open();
    const [left, top, width, height] = await numbers();
    expect([left! >= 0, top! >= 0, left! + width! <= 1200, top! + height! <= 900]).toEqual([
      true,
      true,
      true,
      true,
    ]);
    const ratio = width! / height!;
    await type(dialog.loader, 'Width', '600');
    const smaller = await numbers();
    expect(smaller[2]).toBe(600);
    expect(smaller[2]! / smaller[3]!).toBeCloseTo(ratio, 1);
    await type(dialog.loader, 'From the left', '5000');
    expect((await numbers())[0]).toBe(600);
  });

  it('is kept as it stands, what was typed last included', async () => {
    await open();
    await (await line(dialog.loader, 'Width')).setValue('400');
    await press(dialog.loader, /^Keep/);
    await answer(
      (r) => {
        const cut = JSON.parse(r.request.body as string) as { width: number };
        expect(cut.width).toBe(400);
        r.flush({ ...picture, id: 6 });
      },
      '/api/media/5/crops',
      'POST',
    );
    await dialog.fixture.whenStable();
    expect(closed).toEqual([expect.objectContaining({ id: 6 })]);
  });
});
