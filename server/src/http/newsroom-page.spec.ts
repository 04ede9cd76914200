import { createHash } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { request as httpRequest } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { Newsroom } from '../testing/newsroom.js';

describe('the newsroom under a path of another site', () => {
  let room: Newsroom;
  let folder: string;
  const built = '<!doctype html><base href="/desk/" /><script src="main-ABCDEFGH.js"></script>';
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'newsroom-'));
    await writeFile(join(folder, 'index.html'), built);
    await writeFile(join(folder, 'main-ABCDEFGH.js'), 'let built');
    await writeFile(
      join(folder, 'ngsw.json'),
      JSON.stringify({
        index: '/desk/index.html',
        assetGroups: [{ name: 'shell', urls: ['/desk/index.html', '/desk/main-ABCDEFGH.js'] }],
        hashTable: { '/desk/index.html': 'as built', '/desk/main-ABCDEFGH.js': 'script' },
      }),
    );
    room = await Newsroom.make({ publicUrl: 'http://127.0.0.1/water/news', webFolder: folder });
  });
  afterAll(async () => {
    await room.close();
    await rm(folder, { recursive: true });
  });
  const get = (path: string) => request(room.url).get(path);

  it('has a page that loads its scripts from under that path, whether the proxy leaves the path or not', async () => {
    for (const path of [
      '/water/news/desk/',
      '/water/news/desk/posts/12',
      '/desk/today',
      '/desk/index.html',
    ]) {
      const { status, text } = await get(path);
      const base = /<base href="([^"]*)"/.exec(text)?.[1];
      expect([path, status, base]).toEqual([path, 200, '/water/news/desk/']);
      const script = new URL(/src="([^"]*)"/.exec(text)![1]!, `http://127.0.0.1${base}`);
      expect((await get(script.pathname)).text).toBe('let built');
    }
  });

  it('opens texts that several people write in there, too: asks who comes, before it says that nothing is there', async () => {
    const answered = await new Promise<number>((resolve, reject) => {
      httpRequest(`${room.url}/water/news/api/posts/1/text`, {
        headers: {
          ...{ Connection: 'Upgrade', Upgrade: 'websocket', 'Sec-WebSocket-Version': '13' },
          'Sec-WebSocket-Key': 'dGhlIHNhbXBsZSBub25jZQ==',
        },
      })
        .on('response', (answer) => resolve(answer.statusCode!))
        .on('error', reject)
        .end();
    });
    expect(answered).toBe(401);
  });

  it('is kept for being offline by its addresses there, and with the page as it is sent', async () => {
    const list = JSON.parse((await get('/water/news/desk/ngsw.json')).text) as {
      index: string;
      assetGroups: { urls: string[] }[];
      hashTable: Record<string, string>;
    };
    expect(list.index).toBe('/water/news/desk/index.html');
    expect(Object.keys(list.hashTable)).toEqual(list.assetGroups[0]!.urls);
    const page = (await get(list.index)).text;
    expect(list.hashTable[list.index]).toBe(createHash('sha1').update(page).digest('hex'));
    expect(list.hashTable['/water/news/desk/main-ABCDEFGH.js']).toBe('script');
  });
});
