import sharp from 'sharp';

/** Film grain over a drawing, the same every time, so that it weighs what a photograph weighs. */
export async function grainy(
  svg: string,
  options: { width: number; strength: number; quality: number },
): Promise<Buffer> {
  const { data, info } = await sharp(Buffer.from(svg))
    .resize({ width: options.width })
    .flatten()
    .raw()
    .toBuffer({ resolveWithObject: true });
  let x = 0x2f6e2b1;
  for (let i = 0; i < data.length; i += 3) {
    // A linear congruential generator (Numerical Recipes) is random enough for dust.
    x = (Math.imul(x, 1664525) + 1013904223) >>> 0;
    const grain = ((x >>> 24) / 128 - 1) * options.strength;
    for (let c = 0; c < 3; c++) data[i + c] = Math.min(255, Math.max(0, data[i + c]! + grain));
  }
  return sharp(data, { raw: { width: info.width, height: info.height, channels: 3 } })
    .jpeg({ quality: options.quality })
    .toBuffer();
}
