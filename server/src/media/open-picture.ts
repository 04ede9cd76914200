import sharp from 'sharp';

const MAX_PIXELS = 60_000_000;

sharp.concurrency(1);
sharp.cache(false);

/** Opens bytes as a picture within limits of pixels and time. */
export function openPicture(bytes: Buffer): sharp.Sharp {
  return sharp(bytes, { limitInputPixels: MAX_PIXELS, failOn: 'error', animated: false }).timeout({
    seconds: 20,
  });
}
