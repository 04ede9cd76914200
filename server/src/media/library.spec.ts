import exifr from 'exifr';
import { imageSize } from 'image-size';
import sharp from 'sharp';
import type { FileView, MediaPage, MediaView, MediaWhole } from '@keyroster/contract';
import { Newsroom, eventually, fromNow, type Who } from '../testing/newsroom.js';
import { kindOfFile } from './files.js';

describe('the library', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make({ jobs: true });
  });
  afterAll(() => room.close());
  const noise = (width: number, height: number, seed = 1) => {
    const data = Buffer.alloc(width * height * 3);
    let x = seed;
    for (let i = 0; i < data.length; i++) {
      x = (Math.imul(x, 1664525) + 1013904223) >>> 0;
      data[i] = (x >>> 24) ^ ((i / 3 / width) & 0xff);
    }
    return sharp(data, { raw: { width, height, channels: 3 } });
  };
  const add = async (bytes: Buffer, name: string, who: Who = 'writer') =>
    (await (await room.as(who)).post('/api/media').attach('file', bytes, name)).body as MediaView;
  const bytesOf = async (path: string, who: Who = 'writer') =>
    (await (await room.as(who)).get(path).buffer(true)).body as Buffer;

  it('makes sizes and shapes that an independent reader agrees with', async () => {
    const media = await add(await noise(2000, 1200).jpeg({ quality: 70 }).toBuffer(), 'lock.jpg');
    await eventually(
      async () => ((await room.call('writer', 'get', `/api/media/${media.id}`)).body as MediaWhole).ready,
    );
    const sizes = await Promise.all(
      ['480.webp', '960.webp', '1600.webp', 'page.jpg', 'landscape.jpg', 'square.jpg', 'portrait.jpg'].map(
        async (kind) => [kind, imageSize(await bytesOf(`${media.src}/${kind}`))] as const,
      ),
    );
    expect(
      Object.fromEntries(sizes.map(([kind, { width, height, type }]) => [kind, [width, height, type]])),
    ).toEqual({
      '480.webp': [480, 288, 'webp'],
      '960.webp': [960, 576, 'webp'],
      '1600.webp': [1600, 960, 'webp'],
      'page.jpg': [1600, 960, 'jpg'],
      'landscape.jpg': [1200, 630, 'jpg'],
      'square.jpg': [1080, 1080, 'jpg'],
      'portrait.jpg': [960, 1200, 'jpg'],
    });
    expect((await (await room.as('writer')).get(`${media.src}/../1`)).status).toBe(404);
    expect((await (await room.as('writer')).get(`${media.src}/huge.jpg`)).status).toBe(404);
  });

  it('turns a picture upright and removes where it was taken, as an independent reader sees', async () => {
    const camera = await noise(300, 200, 7)
      .jpeg()
      .withExif({ IFD0: { Artist: 'Somebody' }, IFD3: { GPSLatitude: '51/1 30/1 0/1', GPSLatitudeRef: 'N' } })
      .withMetadata({ orientation: 6 })
      .toBuffer();
    expect(await exifr.orientation(camera)).toBe(6);
    const media = await add(camera, 'camera.jpg');
    const kept = await bytesOf(media.src);
    expect([media.width, media.height]).toEqual([200, 300]);
    expect([
      await exifr.gps(kept).catch(() => undefined),
      await exifr.orientation(kept).catch(() => undefined),
    ]).toEqual([undefined, undefined]);
  });

  it('cuts around the focus', async () => {
    const half = await sharp({ create: { width: 400, height: 200, channels: 3, background: '#000000' } })
      .composite([
        {
          input: { create: { width: 200, height: 200, channels: 3, background: '#ffffff' } },
          left: 200,
          top: 0,
        },
      ])
      .png()
      .toBuffer();
    const media = await add(half, 'half.png');
    await eventually(
      async () => ((await room.call('writer', 'get', `/api/media/${media.id}`)).body as MediaWhole).ready,
    );
    const mean = async () =>
      (await sharp(await bytesOf(`${media.src}/square.jpg`)).stats()).channels[0]!.mean;
    expect(await mean()).toBeGreaterThan(100);
    await room.call('writer', 'patch', `/api/media/${media.id}`, { focus: { x: 0, y: 0.5 } });
    expect(await mean()).toBeLessThan(5);
  });

  it('finds pictures by words, tags and use, and pages through them', async () => {
    const media = await add(await noise(90, 60, 3).png().toBuffer(), 'IMG_0042.png');
    await room.call('writer', 'patch', `/api/media/${media.id}`, {
      alt: 'A heron beside the weir',
      credit: 'Odette Rigg',
      licence: 'CC BY 4.0',
      source: 'https://waterways.example',
      tags: ['Birds', 'birds '],
    });
    const find = async (query: string) =>
      ((await room.call('writer', 'get', `/api/media?${query}`)).body as MediaPage).pictures.map((p) => p.id);
    expect(await find('words=herons')).toEqual([media.id]);
    expect(await find('words=IMG_00')).toEqual([media.id]);
    expect(await find('words=rigg&tag=birds&use=unused')).toEqual([media.id]);
    expect(await find('words=heron&use=used')).toEqual([]);
    expect(await find(`words=heron&before=${media.id}`)).toEqual([]);
    expect((await room.call('writer', 'get', `/api/media/${media.id}`)).body as MediaWhole).toMatchObject({
      tags: ['birds'],
      licence: 'CC BY 4.0',
      usedIn: [],
      uses: 0,
    });
    expect((await room.call('otherWriter', 'patch', `/api/media/${media.id}`, { alt: 'Mine' })).status).toBe(
      403,
    );
    expect((await room.call('reader', 'get', '/api/media')).status).toBe(403);
  });

  it('lightens to a weight, and says when it cannot', async () => {
    const media = await add(await noise(1400, 900, 9).jpeg({ quality: 95 }).toBuffer(), 'heavy.jpg');
    expect(media.size).toBeGreaterThan(600_000);
    const look = await (
      await room.as('writer')
    )
      .get(`/api/media/${media.id}/lighter?bytes=400000`)
      .buffer(true);
    expect((look.body as Buffer).length).toBeLessThanOrEqual(400_000);
    expect(JSON.parse(look.headers['x-picture']!)).toMatchObject({ bytes: (look.body as Buffer).length });
    const kept = (await room.call('writer', 'post', `/api/media/${media.id}/lighter`, { bytes: 400_000 }))
      .body as MediaView;
    expect(kept.id).not.toBe(media.id);
    expect([kept.size <= 400_000, kept.name]).toEqual([true, 'heavy.jpg']);
    expect((await room.call('writer', 'post', `/api/media/${media.id}/lighter`, { bytes: 10 })).status).toBe(
      400,
    );
    expect(
      (await room.call('writer', 'post', `/api/media/${media.id}/lighter`, { bytes: 20_000 })).body.detail ??
        '',
    ).toMatch(/^$|cannot be made so light/);
  });

  it('keeps a part of a picture, within its edges', async () => {
    const media = await add(await noise(200, 100, 11).png().toBuffer(), 'part.png');
    expect(
      (
        await room.call('writer', 'post', `/api/media/${media.id}/crops`, {
          left: 50,
          top: 10,
          width: 80,
          height: 60,
        })
      ).body,
    ).toMatchObject({ width: 80, height: 60 });
    expect(
      (
        await room.call('writer', 'post', `/api/media/${media.id}/crops`, {
          left: 150,
          top: 10,
          width: 80,
          height: 60,
        })
      ).body.detail,
    ).toMatch(/200 by 100/);
  });

  it(
    'replaces a picture everywhere it may, bins only what no post uses, and shows nobody ' +
      'what is not out',
    async () => {
      const [old, better] = [
        await add(await noise(80, 60, 21).png().toBuffer(), 'old.png'),
        await add(await noise(80, 60, 22).png().toBuffer(), 'better.png'),
      ];
      const post = await room.cleared('With a picture');
      const body = {
        type: 'doc',
        content: [
          { type: 'paragraph', content: [{ type: 'text', text: 'Look.' }] },
          { type: 'gallery', content: [{ type: 'picture', attrs: { media: old.id, alt: 'old' } }] },
        ],
      };
      await (
        await room.as('editor')
      )
        .put(`/api/posts/${post.id}/body`)
        .set('If-Match', `"${(await room.see('chief', post.id)).version}"`)
        .send({ body });
      await room.change('editor', post.id, { leadPicture: { media: old.id, alt: 'old' } });
      expect(
        ((await room.call('chief', 'get', `/api/media/${old.id}`)).body as MediaWhole).usedIn
          .map((u) => u.how)
          .sort(),
      ).toEqual(['lead', 'text']);
      expect(
        (await room.call('chief', 'patch', `/api/media/${old.id}`, { binned: true })).body.detail,
      ).toMatch(/With a picture/);
      expect((await room.nobody().get(old.src)).status).toBe(404);
      expect((await (await room.as('reader')).get(old.src)).status).toBe(404);
      expect(
        (await room.call('otherEditor', 'post', `/api/media/${old.id}/replacement`, { with: better.id }))
          .body,
      ).toMatchObject({ posts: 0, left: ['With a picture'] });
      expect(
        (await room.call('editor', 'post', `/api/media/${old.id}/replacement`, { with: better.id })).body
          .sentence,
      ).toBe('Put in its place in one post.');
      const after = await room.see('chief', post.id);
      expect(JSON.stringify(after.body)).toContain(`"media":${better.id}`);
      expect(after.leadPicture).toEqual({ media: better.id, alt: 'old' });
      expect(
        (await room.call('writer', 'post', `/api/media/${old.id}/replacement`, { with: better.id })).status,
      ).toBe(403);
      expect((await room.call('chief', 'patch', `/api/media/${old.id}`, { binned: true })).status).toBe(200);
      expect(
        ((await room.call('chief', 'get', '/api/media?use=binned')).body as MediaPage).pictures.map(
          (p) => p.id,
        ),
      ).toContain(old.id);
      await room.move('editor', post.id, { to: 'scheduled', runAt: fromNow(-5) });
      await eventually(async () => (await room.see('chief', post.id)).stage === 'published');
      expect((await room.nobody().get(better.src)).headers['cache-control']).toContain('immutable');
      await room.change('editor', post.id, { access: 'staff' });
      expect((await room.nobody().get(better.src)).status).toBe(404);
      expect((await (await room.as('proofreader')).get(better.src)).status).toBe(200);
    },
  );

  it('keeps videos and captions by their content, and serves them in parts', async () => {
    const mp4 = Buffer.concat([Buffer.from([0, 0, 0, 24]), Buffer.from('ftypisom'), Buffer.alloc(500, 7)]);
    const file = (await (await room.as('writer')).post('/api/files').attach('file', mp4, 'lock.mp4'))
      .body as { id: number; src: string; type: string };
    expect(file.type).toBe('video/mp4');
    const part = await (await room.as('writer')).get(file.src).set('Range', 'bytes=4-11').buffer(true);
    expect([part.status, part.headers['content-range'], (part.body as Buffer).toString()]).toEqual([
      206,
      `bytes 4-11/${mp4.length}`,
      'ftypisom',
    ]);
    expect((await (await room.as('writer')).get(file.src).set('Range', 'bytes=9999-')).status).toBe(416);
    expect((await room.nobody().get(file.src)).status).toBe(404);
    expect(
      (await (await room.as('writer')).post('/api/files').attach('file', Buffer.from('<html>'), 'x.mp4'))
        .status,
    ).toBe(415);
    expect(kindOfFile(Buffer.from('1\n00:00:01,000 --> 00:00:02,500\nMind.\n'))!.bytes.toString()).toBe(
      'WEBVTT\n\n1\n00:00:01.000 --> 00:00:02.500\nMind.\n',
    );
    const post = await room.pitch('writer');
    const store = async (id: number) =>
      (await room.as('writer'))
        .put(`/api/posts/${post.id}/body`)
        .set('If-Match', `"${(await room.see('chief', post.id)).version}"`)
        .send({ body: { type: 'doc', content: [{ type: 'video', attrs: { file: id } }] } });
    expect([(await store(file.id)).status, (await store(99_999)).status]).toEqual([200, 422]);
  });

  it('of files are given in parts as browsers ask for them (RFC 9110, section 14.1.2)', async () => {
    const film = Buffer.concat([Buffer.from('\0\0\0\x18ftypisom', 'latin1'), Buffer.alloc(9_988)]);
    const agent = await room.as('writer');
    const file = (await agent.post('/api/files').attach('file', film, 'long.mp4')).body as FileView;
    const ask = async (range: string | undefined) => {
      const answer = await (range ? agent.get(file.src).set('Range', range) : agent.get(file.src)).buffer(
        true,
      );
      const length = answer.status === 416 ? 0 : (answer.body as Buffer).length;
      return [answer.status, answer.headers['content-range'], length];
    };
    expect(await ask('bytes=0-499')).toEqual([206, 'bytes 0-499/10000', 500]);
    expect(await ask('bytes=-500')).toEqual([206, 'bytes 9500-9999/10000', 500]);
    expect(await ask('bytes=9500-')).toEqual([206, 'bytes 9500-9999/10000', 500]);
    expect(await ask('bytes=9999-20000')).toEqual([206, 'bytes 9999-9999/10000', 1]);
    expect(await ask('bytes=10000-')).toEqual([416, 'bytes */10000', 0]);
    for (const range of ['lines=1-2', 'bytes=0-1,5-6', undefined])
      expect(await ask(range)).toEqual([200, undefined, 10_000]);
  });
});
