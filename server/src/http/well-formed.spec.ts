import { mustBeWellFormed } from './well-formed.js';
import { ROUTES, type RouteName } from '@keyroster/contract';
import { Newsroom } from '../testing/newsroom.js';

describe('what comes in', () => {
  // Unicode, section 3.9: a surrogate alone is no character; PostgreSQL stores no NUL.
  it.each([
    ['half a pair', { a: { b: ['ok', 'x\ud83d'] } }, 'a.b.1'],
    ['the other half', ['\udea2 x'], '0'],
    ['NUL', { a: 'x\u0000' }, 'a'],
    ['half a pair in a name', { 'x\ud83d': 1 }, 'body'],
  ])('is refused with %s', (_, input, field) => {
    expect(() => mustBeWellFormed(input)).toThrow(
      expect.objectContaining({ message: expect.stringContaining(`“${field}” holds a character`) }),
    );
  });

  it('is let through otherwise, however deep', () => {
    let deep: unknown = '🚢 é \u0301 \u200d';
    for (let i = 0; i < 20_000; i++) deep = [deep];
    expect(() => mustBeWellFormed(deep)).not.toThrow();
    expect(() => mustBeWellFormed([null, undefined, 1, true, Buffer.from([0])])).not.toThrow();
  });

  it('is refused by every route that accepts a body, and never breaks one', async () => {
    const room = await Newsroom.make();
    const chief = await room.as('chief');
    const wrong: [RouteName, number][] = [];
    for (const [name, route] of Object.entries(ROUTES) as [RouteName, (typeof ROUTES)[RouteName]][]) {
      if (route.method === 'GET' || route.method === 'DELETE' || 'file' in route) continue;
      const method = route.method.toLowerCase() as 'post' | 'put' | 'patch';
      const path = route.path.replace(/:\w+/g, '1');
      const answer = await chief[method](path)
        .set('If-Match', '"1"')
        .set('Content-Type', 'application/json')
        .send('{"title":"x\\ud83d","name":"x\\u0000"}');
      if (answer.status < 400 || answer.status >= 500) wrong.push([name, answer.status]);
    }
    expect(wrong).toEqual([]);
    // By name: one change of the blog that says nothing to do.
    expect((await chief.patch('/api/blog').send({ accepting: true })).status).toBe(400);
    await room.close();
  });
});
