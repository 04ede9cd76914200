import request from 'supertest';
import { release } from '../posts/release.js';
import { Newsroom, fromNow, type Who } from '../testing/newsroom.js';

describe('a site around the blog', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const mount = { host: 'shop.example', path: '/more/journal' };
  const theme = (more: object = {}) =>
    JSON.stringify({
      name: 'Ropewalk <Stores>',
      home: 'https://shop.example',
      color: { paper: { $value: '#fffaf0' }, ink: { $value: '#2a1c0b' }, act: { $value: '#8a3d00' } },
      header: [{ label: 'Rope', url: 'https://shop.example/rope' }],
      footer: [{ label: 'Returns', url: 'https://shop.example/returns' }],
      ...more,
    });
  const put = async (who: Who, body: object) => {
    return (await room.as(who)).put('/api/site/around').send(body);
  };
  const within = (path: string, host = mount.host) => request(room.url).get(path).set('Host', host);

  it('gives it colours, a menu and a path there, and leaves it as it was at its own address', async () => {
    const post = await room.scheduled(fromNow(-1), 'In the shop');
    await release(room.db, post.id);
    expect((await put('editor', { theme: theme(), mount })).status).toBe(403);
    expect((await put('chief', { theme: null, mount })).status).toBe(400);
    const unreadable = await put('chief', { theme: theme({ color: {} }), mount });
    expect([unreadable.status, unreadable.body.fields[0].field]).toEqual([400, 'theme']);
    expect((await put('chief', { theme: theme(), mount: { host: 'x y', path: '' } })).status).toBe(400);
    expect((await put('chief', { theme: theme(), mount })).body.around).toMatchObject({ mount });
    await room.running.services.places.refresh();
    const front = await within('/more/journal/');
    expect(front.status).toBe(200);
    for (const words of [
      'Ropewalk &lt;Stores&gt;',
      '<a href="https://shop.example/rope">Rope</a>',
      'Returns',
      `<a href="/more/journal/${post.slug}">`,
      'href="/more/journal/assets/site.css"',
      'href="/more/journal/look.css?',
      // It has one address for search engines, which is its own.
      `rel="canonical" href="${room.running.services.settings.publicUrl}/"`,
    ])
      expect(front.text).toContain(words);
    expect((await within('/more/journal/look.css')).text).toContain('--paper:#fffaf0');
    expect((await within('/more/journal/assets/site.css')).status).toBe(200);
    expect((await within(`/more/journal/${post.slug}`)).status).toBe(200);
    const own = await within('/', 'elsewhere.example');
    expect(own.text).not.toContain('Ropewalk');
    expect((await within('/look.css', 'elsewhere.example')).text).not.toContain('#fffaf0');
    // Nothing but the blog is to be had through the shop.
    expect((await within('/more/journal/api/session')).status).toBe(404);
    expect((await put('chief', { theme: null, mount: null })).body.around).toBeNull();
    await room.running.services.places.refresh();
    expect((await within('/more/journal/')).status).toBe(404);
  });
});
