import { ROUTES, type RouteName } from './routes.js';
import { prepareQuery, schemasOf } from './schemas.js';

const NAMES = Object.keys(ROUTES) as RouteName[];
const valid = (name: RouteName, part: 'query' | 'body', value: object) =>
  schemasOf(name)[part]!.validate(value, { convert: true });

describe('the schemas of the routes', () => {
  it.each(NAMES)('%s refuses what it does not know', (name) => {
    const { params, query, body } = schemasOf(name);
    for (const schema of [query, ...(body ? [body] : [])])
      expect(schema.validate({ surprise: 1 }).error).toBeDefined();
    expect(params.validate({ id: 'x' }).error).toBeDefined();
    expect(ROUTES[name].path.includes(':id')).toBe(params.validate({ id: 5 }).error === undefined);
  });

  it('has a body wherever something is written by JSON', () => {
    for (const name of NAMES)
      expect([name, ['POST', 'PUT', 'PATCH'].includes(ROUTES[name].method) && !ROUTES[name].file]).toEqual([
        name,
        schemasOf(name).body !== null,
      ]);
  });

  it('takes stages one by one or joined by commas', () => {
    const list = (stage: unknown) =>
      valid('posts.list', 'query', prepareQuery('posts.list', { stage })).value as { stage: string[] };
    expect(list('pitch').stage).toEqual(['pitch']);
    expect(list('pitch,in review').stage).toEqual(['pitch', 'in review']);
    expect(list(['pitch', 'cleared']).stage).toEqual(['pitch', 'cleared']);
    expect(
      valid('posts.list', 'query', prepareQuery('posts.list', { stage: 'nowhere' })).error,
    ).toBeDefined();
  });

  it.each([
    ['2026-11-27T12:00', true],
    ['2026-11-27 12:00:30', true],
    ['2026-10-25T01:30+00:00', true],
    ['2026-11-27T12:00Z', true],
    ['2026-11-27', false],
    ['27.11.2026 12:00', false],
    ['', false],
  ])('reads %j as a run time: %s', (runAt, ok) => {
    expect(valid('posts.move', 'body', { to: 'scheduled', runAt }).error === undefined).toBe(ok);
  });

  it('bounds every text and normalises it', () => {
    expect(valid('posts.pitch', 'body', { title: '  Cafe\u0301  ' }).value).toEqual({ title: 'Café' });
    for (const title of ['', '   ', 'x'.repeat(301), 'a\u0000b', 'a\ud800b'])
      expect(valid('posts.pitch', 'body', { title }).error).toBeDefined();
  });
});
