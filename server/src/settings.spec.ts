import request from 'supertest';
import { PASSWORD, Newsroom } from './testing/newsroom.js';
import { settingsFrom } from './settings.js';

const proxies = (env: Record<string, string>) =>
  settingsFrom({ DATABASE_URL: 'postgres://x', ...env }).trustedProxies;

describe('a newsroom behind https', () => {
  it('believes a proxy on its own machine, unless others are named or none', () => {
    expect(proxies({})).toEqual([]);
    expect(proxies({ PUBLIC_URL: 'http://blog.example' })).toEqual([]);
    expect(proxies({ PUBLIC_URL: 'https://blog.example' })).toEqual(['loopback']);
    expect(proxies({ PUBLIC_URL: 'https://blog.example', TRUSTED_PROXIES: '10.0.0.2' })).toEqual([
      '10.0.0.2',
    ]);
    expect(proxies({ PUBLIC_URL: 'https://blog.example', TRUSTED_PROXIES: 'none' })).toEqual([]);
  });

  it('keeps a session where the proxy is trusted, and says why it cannot where it is not', async () => {
    for (const [trustedProxies, status] of [
      [['loopback'], 200],
      [[], 409],
    ] as const) {
      const room = await Newsroom.make({
        publicUrl: 'https://blog.example',
        trustedProxies: [...trustedProxies],
      });
      const answer = await request(room.url)
        .post('/api/session')
        .set('X-Forwarded-Proto', 'https')
        .send({ email: 'chief@test.example', password: PASSWORD });
      expect(answer.status).toBe(status);
      if (status === 409) expect(answer.body.detail).toContain('TRUSTED_PROXIES');
      else expect(String(answer.headers['set-cookie'])).toMatch(/key_roster=.*Secure/);
      for (const path of ['/', '/feed.atom', '/api/session', '/assets/icon.svg'])
        expect((await request(room.url).get(path)).headers['strict-transport-security']).toContain('max-age');
      await room.close();
    }
  });

  it('answers HEAD where it answers GET, and has shared caches keep what is the same for everybody', async () => {
    const room = await Newsroom.make();
    const at = (path: string) => request(room.url).head(path);
    for (const path of [
      '/',
      '/feed.atom',
      '/sitemap.xml',
      '/robots.txt',
      '/look.css',
      '/sign-in',
      '/assets/icon.svg',
    ])
      expect([path, (await at(path)).status, (await request(room.url).get(path)).status]).toEqual([
        path,
        200,
        200,
      ]);
    const vary = async (path: string) => (await request(room.url).get(path)).headers['vary'];
    for (const path of ['/feed.atom', '/feed.rss', '/feed.json', '/sitemap.xml', '/robots.txt', '/look.css'])
      expect([path, await vary(path)]).toEqual([path, 'Accept-Encoding']);
    expect(await vary('/')).toContain('Cookie');
    expect((await request(room.url).get('/assets/icon.svg')).headers['etag']).toMatch(/^(W\/)?"/);
    expect(String((await request(room.url).get('/')).headers['set-cookie'] ?? '')).toBe('');
    await room.close();
  });
});
