// A heavy picture, from sending it to all its sizes made.
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { said } from './bench-figures.mjs';
import { root } from './machine.mjs';

const sharp = createRequire(join(root, 'server', 'package.json'))('sharp');

export async function heavyPicture(context, row) {
  const noise = Buffer.alloc(3000 * 2000 * 3);
  let x = 11;
  for (let i = 0; i < noise.length; i++) {
    x = (Math.imul(x, 1664525) + 1013904223) >>> 0;
    noise[i] = 90 + ((i / 9000) % 90) + (x >>> 26);
  }
  const times = [];
  const alone = [];
  let size = 0;
  for (let i = 0; i < 4; i++) {
    noise[i * 999] ^= 255;
    const file = await sharp(noise, { raw: { width: 3000, height: 2000, channels: 3 } })
      .jpeg({ quality: 96 + i })
      .toBuffer();
    if (file.length < 4_000_000) throw new Error(`The picture weighs only ${file.length}.`);
    size = file.length;
    let began = performance.now();
    await sharp(file).rotate().resize({ width: 1600 }).jpeg({ quality: 80 }).toBuffer();
    alone.push(performance.now() - began);
    began = performance.now();
    const { id } = await (
      await context.request.post('/api/media', {
        multipart: { file: { name: 'heavy.jpg', mimeType: 'image/jpeg', buffer: file } },
      })
    ).json();
    while (!(await (await context.request.get(`/api/media/${id}`)).json()).ready)
      await new Promise((done) => setTimeout(done, 25));
    times.push(performance.now() - began);
  }
  row(
    `a picture of ${(size / 1e6).toFixed(1)} MB, from sending it to all its sizes made`,
    said(times),
    `one size by sharp alone: ${said(alone)}`,
    'within 3 s',
  );
}
