import type { MediaView } from '@keyroster/contract';
import { MatButtonHarness } from '@angular/material/button/testing';
import { answer, refuse, show, type Shown } from '../../testing/newsroom';
import { press, type } from '../../testing/hands';
import { CardDialog } from './card-dialog';

const picture = {
  id: 5,
  src: '/media/5',
  alt: 'A stern gland.',
  credit: 'Jun Marlowe',
  licence: 'own',
  source: '',
  tags: ['engine'],
  focus: { x: 0.5, y: 0.5 },
} as unknown as MediaView;

/** A pen that writes down what it is told; every letter is ten wide, and what is behind them grey. */
const told: string[] = [];
const pen = {
  measureText: (text: string) => ({ width: text.length * 10 * size }),
  getImageData: () => ({ data: new Uint8ClampedArray([120, 120, 120, 255]) }),
  fillText: (text: string) => told.push(text),
  fillRect: () => undefined,
  drawImage: () => undefined,
};
let size = 1;
let arrived: () => void;
const canvas = HTMLCanvasElement.prototype;
const before = { getContext: canvas.getContext, toBlob: canvas.toBlob, Image: globalThis.Image };

let dialog: Shown<CardDialog>;
/** The picture is there, with the letters that are drawn on it. */
async function arrives(): Promise<void> {
  arrived();
  await new Promise((done) => setTimeout(done));
  await dialog.fixture.whenStable();
}
async function open(): Promise<void> {
  told.length = 0;
  dialog = await show(CardDialog, { data: picture });
}
const said = () => dialog.page.querySelector('[role=status]')!.textContent!;
const keep = () => dialog.loader.getHarness(MatButtonHarness.with({ text: 'Keep the card' }));

describe('words on a picture', () => {
  beforeAll(() => {
    canvas.getContext = (() => pen) as never;
    canvas.toBlob = (done) => done(new Blob(['jpeg']));
    Object.assign(globalThis, {
      Image: class {
        onload: () => void = () => undefined;
        naturalWidth = 1600;
        naturalHeight = 900;
        width = 1600;
        height = 900;
        constructor() {
          arrived = () => this.onload();
        }
      },
    });
    Object.assign(document, { fonts: { load: () => Promise.resolve([]) } });
  });
  afterAll(() => {
    Object.assign(canvas, { getContext: before.getContext, toBlob: before.toBlob });
    Object.assign(globalThis, { Image: before.Image });
  });
  beforeEach(() => (size = 1));

  it('are drawn once the picture is there, in lines that fit, with the contrast they have', async () => {
    await open();
    await type(dialog.loader, 'Words', 'Two drops a minute');
    expect(told).toEqual([]);
    expect(await (await keep()).isDisabled()).toBe(true);
    size = 8;
    await arrives();
    expect(told.length).toBeGreaterThan(1);
    expect(told.join(' ')).toBe('Two drops a minute');
    expect(said()).toMatch(/^Contrast \d+\.\d to 1 .* 4\.5 is needed\.$/);
    expect(Number(/Contrast ([\d.]+)/.exec(said())![1])).toBeGreaterThanOrEqual(4.5);
  });

  it('that fit no card are said to', async () => {
    await open();
    await arrives();
    size = 60;
    await type(dialog.loader, 'Words', 'One two three four five six seven eight nine ten');
    await dialog.fixture.whenStable();
    expect(said()).toContain('The words do not fit.');
  });

  it('are asked for before anything is kept', async () => {
    await open();
    await arrives();
    await press(dialog.loader, 'Keep the card');
    expect(dialog.page.textContent).toContain('Type the words that should stand on the picture.');
  });

  it('go into the library as a picture of its own, which says what it is made of', async () => {
    await open();
    await arrives();
    await type(dialog.loader, 'Words', ' Two drops ');
    await press(dialog.loader, 'Keep the card');
    await answer((r) => r.flush({ ...picture, id: 9 }), '/api/media', 'POST');
    await answer(
      (r) => {
        expect(JSON.parse(r.request.body as string)).toEqual({
          alt: 'A stern gland. With the words: Two drops',
          credit: 'Jun Marlowe',
          licence: 'own',
          source: '',
          tags: ['engine', 'title card'],
        });
        r.flush({ ...picture, id: 9 });
      },
      '/api/media/9',
      'PATCH',
    );
    expect(dialog.closed).toEqual([expect.objectContaining({ id: 9 })]);
  });

  it('stay when the library does not take them', async () => {
    await open();
    await arrives();
    await type(dialog.loader, 'Words', 'Two drops');
    await press(dialog.loader, 'Keep the card');
    await answer(refuse({ detail: 'The disk is full.' }), '/api/media', 'POST');
    await dialog.fixture.whenStable();
    expect([dialog.page.querySelector('[role=alert]')!.textContent!.trim(), dialog.closed]).toEqual([
      'The disk is full.',
      [],
    ]);
    expect(await (await keep()).isDisabled()).toBe(false);
  });
});
