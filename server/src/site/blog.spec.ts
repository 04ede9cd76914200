import type { BlogView } from '@keyroster/contract';
import { eventually, Newsroom } from '../testing/newsroom.js';

describe('the blog’s settings', () => {
  let room: Newsroom;
  beforeAll(async () => {
    room = await Newsroom.make();
  });
  afterAll(() => room.close());
  const blog = async () => (await (await room.as('writer')).get('/api/session')).body.blog as BlogView;

  it('are the managing editor’s to change, and readers see them at once', async () => {
    const chief = await room.as('chief');
    expect((await room.nobody().get('/')).text).toContain('Test Lock');
    expect(
      (await chief.patch('/api/blog').send({ title: 'Renamed <Lock>', tagline: ' Slow & steady ' })).body,
    ).toMatchObject({ title: 'Renamed <Lock>', tagline: 'Slow & steady' });
    await eventually(async () => (await room.nobody().get('/')).text.includes('Renamed &lt;Lock&gt;'));
    for (const who of ['editor', 'writer', 'proofreader', 'reader'] as const)
      expect((await (await room.as(who)).patch('/api/blog').send({ title: 'Mine' })).status).toBe(403);
    expect((await chief.patch('/api/blog').send({})).status).toBe(400);
    expect((await chief.patch('/api/blog').send({ zone: 'Europe/Nowhere' })).body.fields[0].field).toBe(
      'zone',
    );
  });

  it('take categories of any script once, and keep the address of a renamed one', async () => {
    const chief = await room.as('chief');
    const added = await chief.post('/api/categories').send({ name: 'Łódź & Öl', hue: 7 });
    expect(added.body).toMatchObject({ name: 'Łódź & Öl', slug: 'lodz-ol', hue: 7 });
    expect((await chief.post('/api/categories').send({ name: 'łódź & öl', hue: 3 })).body.code).toBe('taken');
    expect((await chief.post('/api/categories').send({ name: '🚤', hue: 11 })).status).toBe(400);
    expect((await chief.patch(`/api/categories/${added.body.id}`).send({ name: 'Oil' })).body).toMatchObject({
      name: 'Oil',
      slug: 'lodz-ol',
    });
    expect((await chief.patch('/api/categories/9999').send({ hue: 1 })).status).toBe(404);
    expect((await room.nobody().get('/category/lodz-ol')).text).toContain('>Oil</h1>');
  });

  it('open and close standing slots; posts keep their run times', async () => {
    const chief = await room.as('chief');
    expect(
      (await chief.post('/api/slots').send({ weekday: 3, time: '09:30', categoryId: 2 })).body.slots,
    ).toHaveLength(2);
    expect(
      (await chief.post('/api/slots').send({ weekday: 3, time: '09:30', categoryId: 2 })).body.code,
    ).toBe('taken');
    for (const slot of [
      { weekday: 8, time: '09:30', categoryId: 2 },
      { weekday: 1, time: '24:00', categoryId: 2 },
      { weekday: 1, time: '9:30', categoryId: 2 },
      { weekday: 1, time: '09:30', categoryId: 77 },
    ])
      expect((await chief.post('/api/slots').send(slot)).status).toBe(400);
    const post = await room.pitch('chief', 'In the slot', { categoryId: 2 });
    await room.move('chief', post.id, { to: 'commissioned', runAt: '2031-01-08T09:30' });
    const slot = (await blog()).slots.find((s) => s.weekday === 3)!;
    await chief.delete(`/api/slots/${slot.id}`);
    expect((await blog()).slots).toHaveLength(1);
    expect((await chief.delete(`/api/slots/${slot.id}`)).status).toBe(404);
    expect((await room.see('chief', post.id)).runLocal).toBe('2031-01-08T09:30:00');
  });
});
