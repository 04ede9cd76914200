import { imageSize } from 'image-size';
import { cardPng } from './draw.js';

describe('cards', () => {
  it(
    'are drawn in every shape as PNG, the same each time, also in scripts of which we ' + 'ship no letters',
    async () => {
      for (const [shape, width, height] of [
        ['landscape', 1200, 630],
        ['square', 1080, 1080],
        ['portrait', 1080, 1350],
      ] as const) {
        const png = await cardPng({
          words: 'Six turns clears the housing',
          foot: 'HALFWAY LOCK',
          style: 'wedge',
          shape,
          palette: 0,
        });
        expect(imageSize(png)).toMatchObject({ width, height, type: 'png' });
        expect(
          (
            await cardPng({
              words: 'Six turns clears the housing',
              foot: 'HALFWAY LOCK',
              style: 'wedge',
              shape,
              palette: 0,
            })
          ).equals(png),
        ).toBe(true);
      }
      expect(
        (
          await cardPng({
            words: '冬天之前要排空水泵',
            foot: 'X',
            style: 'ruled',
            shape: 'square',
            palette: 1,
          })
        ).length,
      ).toBeGreaterThan(1000);
    },
  );
});
