import sharp from 'sharp';
import { Newsroom } from '../testing/newsroom.js';

describe('pictures', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const add = async (bytes: Buffer, name = 'p.jpg') =>
    (await room.as('writer')).post('/api/media').attach('file', bytes, name);
  const plain = (width: number, height: number) =>
    sharp({ create: { width, height, channels: 3, background: '#2f6f9f' } });

  it('keeps a picture upright, bounded, without its metadata, and once', async () => {
    const camera = await plain(3000, 1000)
      .jpeg()
      .withExif({ IFD0: { Artist: 'Somebody' }, IFD3: { GPSLatitude: '51/1 30/1 0/1' } })
      .withMetadata({ orientation: 6 })
      .toBuffer();
    const first = await add(camera);
    expect(first.status).toBe(201);
    expect(first.body).toMatchObject({ type: 'image/jpeg', width: 1000, height: 3000 });
    const served = await (await room.as('writer')).get(first.body.src).buffer(true);
    expect(served.headers['cache-control']).toBe('private, max-age=3600');
    const meta = await sharp(served.body as Buffer).metadata();
    expect([meta.width, meta.height, meta.exif, meta.orientation]).toEqual([
      1000,
      3000,
      undefined,
      undefined,
    ]);
    expect((await add(camera)).body.id).toBe(first.body.id);
    expect(
      (await (await room.as('writer')).get(first.body.src).set('If-None-Match', served.headers['etag']!))
        .status,
    ).toBe(304);
  });

  it('recognises by content, not by name', async () => {
    expect((await add(await plain(10, 10).png().toBuffer(), 'lie.jpg')).body.type).toBe('image/png');
    expect((await add(await plain(10, 10).gif().toBuffer(), 'x.gif')).body.type).toBe('image/png');
  });

  it.each<[string, Buffer | (() => Promise<Buffer>), number]>([
    [
      'a drawing',
      Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'),
      415,
    ],
    [
      'a drawing behind white space',
      Buffer.from('\n  <?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg"/>'),
      415,
    ],
    ['a page', Buffer.from('<!doctype html><p>hello'), 415],
    ['nothing', Buffer.alloc(0), 415],
    ['half a picture', async () => (await plain(400, 400).jpeg().toBuffer()).subarray(0, 200), 415],
    ['a decompression bomb', async () => plain(9000, 9000).png({ compressionLevel: 9 }).toBuffer(), 413],
  ])('refuses %s', async (_, bytes, status) => {
    const answer = await add(typeof bytes === 'function' ? await bytes() : bytes);
    expect([answer.status, answer.body.detail]).toEqual([status, expect.stringMatching(/\.$/)]);
  });

  it('has nothing at other addresses', async () => {
    for (const path of ['/media/0', '/media/999', '/media/x', '/media/1%00', '/media/99999999999999'])
      expect((await room.nobody().get(path)).status).toBe(404);
  });
});
