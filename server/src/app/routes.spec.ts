import * as fc from 'fast-check';
import { ROUTES, type RouteName } from '@keyroster/contract';
import { ROLES, type Role } from '@keyroster/core';
import { Validator } from '@seriousme/openapi-schema-validator';
import { answerError } from '../testing/answers.js';
import { Newsroom, type Who } from '../testing/newsroom.js';
import { WHO_MAY_CALL } from '../testing/who-may-call.js';

const WHO: Record<Role, Who> = {
  'managing editor': 'chief',
  editor: 'editor',
  contributor: 'writer',
  proofreader: 'proofreader',
  reader: 'reader',
};
const NAMES = Object.keys(ROUTES) as RouteName[];
/** Streams do not end, and leaving ends the session that the next case needs. */
const APART: RouteName[] = ['events.stream', 'session.close', 'session.closeAll'];

const LETTER: Record<Role, string> = {
  'managing editor': 'm',
  editor: 'e',
  contributor: 'c',
  proofreader: 'p',
  reader: 'r',
};
const mayCall = (name: RouteName) =>
  Object.entries(WHO_MAY_CALL).find(([, names]) => names.includes(name))?.[0] ?? '';

it('stands in the table that was written by hand, once', () => {
  expect(Object.values(WHO_MAY_CALL).flat().sort()).toEqual([...NAMES].sort());
});

describe('every route', () => {
  let room: Newsroom;
  let postId: number;
  beforeAll(async () => {
    room = await Newsroom.make({ demo: true });
    postId = (await room.cleared('For the routes')).id;
  });
  afterAll(() => room.close());

  const call = async (name: RouteName, agent: Awaited<ReturnType<Newsroom['as']>>, body: unknown = {}) => {
    const { method, path, file } = ROUTES[name];
    const asked = agent[method.toLowerCase() as 'get'](path.replace(':id', String(postId)));
    if (file) return asked.attach('file', Buffer.from('nothing'), 'nothing.bin');
    return method === 'GET' ? asked : asked.set('If-Match', '"1"').send(body as object);
  };

  it.each(
    NAMES.filter((n) => !APART.includes(n)).flatMap((name) => ROLES.map((role) => [name, role] as const)),
  )('%s as %s', async (name, role) => {
    const open = mayCall(name) === 'everybody' || mayCall(name).includes(LETTER[role]);
    const answer = await call(name, await room.as(WHO[role]));
    if (open) expect(answer.status === 403 && /is not open to a/.test(answer.text)).toBe(false);
    else expect([answer.status, answer.body.code]).toEqual([403, 'not-yours']);
    expect(answer.status).toBeLessThan(500);
  });

  it.each(NAMES.filter((n) => !APART.includes(n)))('%s for a stranger', async (name) => {
    const answer = await call(name, room.nobody());
    if (mayCall(name) === 'everybody') expect(answer.status).not.toBe(403);
    else expect([answer.status, answer.body.code]).toEqual([401, 'signed-out']);
  });

  it('lets nobody but staff hear the live events', async () => {
    expect((await room.nobody().get('/api/events')).status).toBe(401);
    expect((await (await room.as('reader')).get('/api/events')).status).toBe(403);
  });

  it.each(NAMES.filter((n) => ['POST', 'PUT', 'PATCH'].includes(ROUTES[n].method) && !ROUTES[n].file))(
    '%s refuses unknown fields, wrong types, no JSON and too much',
    async (name) => {
      const agent = await room.as('chief');
      const { method, path } = ROUTES[name];
      const url = path.replace(':id', String(postId));
      const send = () => agent[method.toLowerCase() as 'post'](url).set('If-Match', '"1"');
      for (const body of [{ surprise: 1 }, [], [1], { title: { $gt: '' } }]) {
        const answer = await send().send(body);
        expect(answer.status).toBe(400);
        expect(answer.headers['content-type']).toMatch(/^application\/problem\+json/);
        expect(answer.body).toMatchObject({
          type: expect.stringContaining('urn:'),
          status: 400,
          code: 'invalid',
          detail: expect.stringMatching(/\.$/),
        });
      }
      expect((await send().set('Content-Type', 'application/json').send('{"title": ')).body.code).toBe(
        'not-json',
      );
      expect(
        (
          await send()
            .set('Content-Type', 'application/json')
            .send(`{"title":"${'x'.repeat(5_000_000)}"}`)
        ).status,
      ).toBe(413);
    },
  );

  it('answers unknown addresses and methods as problems', async () => {
    expect((await room.nobody().get('/api/nowhere')).body.code).toBe('not-found');
    const wrong = await room.nobody().put('/api/session');
    expect([wrong.status, wrong.headers['allow']]).toEqual([405, 'GET, POST, DELETE']);
    for (const id of ['0', '-1', 'x', '99999999999', '1.5', '%00'])
      expect((await (await room.as('chief')).get(`/api/posts/${id}`)).status).toBe(400);
  });

  it('never answers any request with 5xx (property)', async () => {
    const agents = await Promise.all((['chief', 'writer'] as Who[]).map((w) => room.as(w)));
    const text = fc.oneof(
      fc.string({ unit: 'binary', maxLength: 40 }),
      fc.constantFrom(
        '\u0000',
        '\ud800',
        '%',
        "'; drop table posts;--",
        '../../etc/passwd',
        '2026-11-27T12:00',
        '2026-11-27',
        'pitch',
        'scheduled',
        'a@b.example',
        '9999999999999999999',
      ),
    );
    const value = fc.oneof(
      text,
      fc.integer(),
      fc.double(),
      fc.boolean(),
      fc.constant(null),
      fc.array(text, { maxLength: 3 }),
    );
    const fields = [
      'title',
      'thought',
      'excerpt',
      'slug',
      'categoryId',
      'bylineId',
      'coauthorIds',
      'runAt',
      'to',
      'note',
      'text',
      'passage',
      'parentId',
      'settled',
      'body',
      'email',
      'password',
      'name',
      'role',
      'categories',
      'active',
      'brief',
      'leadPicture',
      'access',
      'weekday',
      'time',
      'hue',
      'tagline',
      'blogTitle',
      'zone',
      'dateConstraint',
      'rating',
      'titles',
      'personId',
      'from',
      'to',
      'until',
      'everyWeeks',
      'exceptions',
      'capacity',
      'kind',
      'slot',
      'id',
      'postIds',
      'format',
    ];
    const body = fc.oneof(
      fc.dictionary(
        fc.constantFrom(...fields),
        fc.oneof(
          value,
          fc.dictionary(
            fc.constantFrom(
              'angle',
              'length',
              'copyDate',
              'media',
              'alt',
              'exact',
              'prefix',
              'suffix',
              'type',
              'content',
              'attrs',
            ),
            value,
          ),
        ),
        { maxKeys: 5 },
      ),
      fc.json().map((j) => JSON.parse(j) as unknown),
    );
    const names = NAMES.filter((n) => !APART.includes(n) && n !== 'people.change' && n !== 'session.open');
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...names),
        fc.nat(1),
        body,
        fc.dictionary(
          fc.constantFrom(
            'stage',
            'words',
            'category',
            'byline',
            'sort',
            'cursor',
            'limit',
            'from',
            'weeks',
            'q',
          ),
          text,
          { maxKeys: 3 },
        ),
        fc.oneof(
          fc.constant(String(1)),
          text.map((t) => encodeURIComponent(t.replace(/[\ud800-\udfff]/gu, '\ufffd')).slice(0, 60)),
        ),
        fc.constantFrom('"1"', '*', '"99"', 'W/"2"', 'x'),
        async (name, who, json, query, id, ifMatch) => {
          const { method, path, file } = ROUTES[name];
          const search = new URLSearchParams(
            Object.entries(query).map(([k, v]) => [k, v.replace(/[\ud800-\udfff]/gu, '\ufffd')]),
          ).toString();
          const asked = agents[who]![method.toLowerCase() as 'post'](
            `${path.replace(':id', id || '1')}?${method === 'GET' ? search : ''}`,
          ).set('If-Match', ifMatch);
          const answer =
            method === 'GET'
              ? await asked
              : file
                ? await asked.attach('file', Buffer.from(JSON.stringify(json)), { filename: 'f.md' })
                : await asked.set('Content-Type', 'application/json').send(JSON.stringify(json));
          if (answer.status >= 500) throw new Error(`${method} ${path} ${answer.status} ${answer.text}`);
        },
      ),
      { numRuns: 250 },
    );
  });

  it('describes itself from the same table', async () => {
    const { body } = await room.nobody().get('/api/openapi.json');
    expect(body.openapi).toBe('3.1.0');
    const described = Object.entries(body.paths as Record<string, object>).flatMap(([path, methods]) =>
      Object.keys(methods).map((m) => `${m.toUpperCase()} ${path.replace('{id}', ':id')}`),
    );
    expect(described.sort()).toEqual(NAMES.map((n) => `${ROUTES[n].method} ${ROUTES[n].path}`).sort());
    expect(
      body.paths['/api/posts/{id}/moves'].post.requestBody.content['application/json'].schema.required,
    ).toEqual(['to']);
    // Every success has its schema, or says that it is a file or nothing; references lead somewhere.
    const bare = NAMES.filter((name) => {
      const { method, path, status = 200 } = ROUTES[name];
      const { responses } = body.paths[path.replace(':id', '{id}')][method.toLowerCase()];
      return status !== 204 && !responses[status]?.content;
    });
    expect(bare).toEqual([]);
    const refs = [...JSON.stringify(body).matchAll(/"\$ref":"#\/components\/schemas\/([^"]+)"/g)];
    expect(refs.length).toBeGreaterThan(100);
    expect(refs.filter(([, name]) => body.components.schemas[name!] === undefined)).toEqual([]);
    // The OpenAPI 3.1 schema of the specification itself, by a package that carries it.
    expect(await new Validator().validate(body)).toEqual({ valid: true });
  });

  it('holds answers against what is described, and says where one differs', () => {
    const json = { 'content-type': 'application/json; charset=utf-8' };
    const answer = (body: unknown) => ({ status: 200, headers: json, body });
    expect(answerError('GET', '/api/calendars', answer([]))).toBeNull();
    expect(answerError('GET', '/api/calendars', answer([{ id: 'one' }]))).toMatch(/^calendars\.list\/0 /);
    expect(answerError('GET', '/api/outlets', answer({}))).toMatch(/^outlets\.list must be array/);
    expect(answerError('GET', '/api/outlets', { ...answer({}), status: 404 })).toBeNull();
  });
});
