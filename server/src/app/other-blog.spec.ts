import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { ROUTES, type RouteName } from '@keyroster/contract';
import { schemasOf } from '@keyroster/contract/schemas';
import { doc, Newsroom } from '../testing/newsroom.js';
import { FOREIGN_ID, FOREIGN_WORD, OtherBlog } from '../testing/other-blog.js';
import {
  idPathsIn,
  sampleBodies,
  SOME_ID,
  withAt,
  type IdPath,
  type Sample,
} from '../testing/sample-body.js';

/** Needs built files: the demo fills the blog, with something of nearly everything. */
const LOAD_DEMO = fileURLToPath(new URL('../../../demo/dist/load.js', import.meta.url));
const MANAGER = { email: 'mara@halfwaylock.example', password: 'thirteen locks to Tolver' };

const NAMES = Object.keys(ROUTES) as RouteName[];
/** Streams do not end, and leaving would end the session. */
const APART: readonly RouteName[] = ['events.stream', 'session.close', 'session.closeAll'];
/**
 * Where such an id is left out and the rest is done: lists of what to work on or not, ids that the server gives, the
 * format whose field a batch sets in the posts that have it, what of a plan does not fit, and the order of what is in
 * the spotlight.
 */
const LEFT_OUT: readonly string[] = [
  'batches.preview ids.0',
  'batches.preview except.0',
  'batches.preview changes.0.formatId',
  'plan.accept places.0.postId',
  'plan.accept places.0.writerId',
  'plan.accept task.writerId',
  'specials.try page',
  'site.change spotlightOrder.0',
  'comments.move ids.0',
  'subscribers.restore ids.0',
  'checklists.add items.0.id',
  'checklists.change items.0.id',
];
/** Tables that the demo leaves empty and in which nothing has an id that a route takes. */
const NOT_BY_ID = [
  'batch_chores',
  'captures',
  'checklist_formats',
  'erased_subscribers',
  'file_uses',
  'files',
  'media_sizes',
  'member_links',
  'member_sessions',
  'mentions_sent',
  'moved_away',
  'old_pages',
  'old_slugs',
  'open_posts',
  'patterns_used',
  'post_coauthors',
  'post_terms',
  'read_versions',
  'related_posts',
  'running_tasks',
  'shared_text_clients',
  'shared_text_updates',
  'shared_texts',
  'subscriber_imports',
  'term_posts',
];

/** Of what kind an id in a body is, by its name; what is not here is of the kind in the path. */
const KIND_OF: Readonly<Record<string, string>> = {
  categoryId: 'categories',
  secondCategoryId: 'categories',
  mergeInto: 'categories',
  categories: 'categories',
  writes: 'categories',
  personId: 'people',
  writerId: 'people',
  bylineId: 'people',
  editorId: 'people',
  proofreaderId: 'people',
  coauthorIds: 'people',
  to: 'people',
  postId: 'posts',
  postIds: 'posts',
  otherIds: 'posts',
  outletId: 'outlets',
  outletIds: 'outlets',
  formatId: 'formats',
  formats: 'formats',
  patternId: 'rollout_patterns',
  checklistId: 'checklists',
  campaignId: 'campaigns',
  coverId: 'media',
  pictureId: 'media',
  media: 'media',
  with: 'media',
  pieceId: 'pieces',
  parentId: 'notes',
  blogId: 'blogs',
};
/** Tables by the first part of the path, where the name differs. */
const TABLE_OF: Readonly<Record<string, string>> = {
  'preview-links': 'preview_links',
  'title-trials': 'title_trials',
  'rollout-patterns': 'rollout_patterns',
  plan: 'posts',
  bin: 'posts',
  archive: 'posts',
};
/** Bodies that a schema alone does not tell how to make. */
const SAID: Partial<Record<RouteName, unknown>> = {
  'body.store': { body: doc('A line.') },
  'people.add': {
    name: 'A',
    email: 'a@test.example',
    password: 'a password',
    role: 'editor',
    categories: [SOME_ID],
  },
  'people.change': { role: 'editor', categories: [SOME_ID], writes: [SOME_ID] },
  'slots.add': { weekday: 1, time: '08:00', categoryId: SOME_ID },
  'slots.change': { weekday: 1, time: '08:00', categoryId: SOME_ID },
  'slots.weigh': { id: SOME_ID, slot: { weekday: 1, time: '08:00', categoryId: SOME_ID } },
  'chores.change': { assignee: 'person', personId: SOME_ID },
  'checklists.add': {
    name: 'A new one',
    formats: [SOME_ID],
    categories: [SOME_ID],
    items: [
      { id: SOME_ID, text: 'Look', assignee: 'person', personId: SOME_ID, daysBefore: 1, holds: false },
    ],
  },
  'checklists.change': {
    name: 'Another name',
    formats: [SOME_ID],
    categories: [SOME_ID],
    items: [
      { id: SOME_ID, text: 'Look', assignee: 'person', personId: SOME_ID, daysBefore: 1, holds: false },
    ],
  },
  'serials.seenAs': { firstVisit: '2020-01-01T08:00', page: 'part', postId: SOME_ID },
  'people.profile': { pictureId: SOME_ID },
  'invites.make': { name: 'B', email: 'b@test.example', role: 'editor', categories: [SOME_ID] },
};

const tableOf = (name: RouteName): string => {
  const part = ROUTES[name].path.split('/')[2]!;
  return TABLE_OF[part] ?? part;
};

const samplesOf = (name: RouteName): Sample[] => {
  const schema = schemasOf(name).body;
  if (SAID[name]) return [{ body: SAID[name], idPaths: idPathsIn(SAID[name]) }];
  return schema ? sampleBodies(schema) : [{ body: undefined, idPaths: [] }];
};

describe('an id that belongs to another blog', () => {
  let room: Newsroom;
  let other: OtherBlog;
  let agent: ReturnType<Newsroom['nobody']>;
  beforeAll(async () => {
    room = await Newsroom.make({ people: false, mailServer: 'smtp://127.0.0.1:9' });
    const loaded = spawnSync(process.execPath, [LOAD_DEMO], {
      env: { ...process.env, DATABASE_URL: room.databaseUrl },
      encoding: 'utf8',
    });
    if (loaded.status !== 0) throw new Error(loaded.stderr);
    agent = room.nobody();
    expect((await agent.post('/api/session').send(MANAGER)).status).toBe(200);
    await fill();
    other = await OtherBlog.make(room.db);
  }, 240_000);
  afterAll(() => room.close());

  /** What the demo has none of, and what a route takes an id of. */
  async function fill(): Promise<void> {
    const post = await ownId('posts');
    const comment = await ownId('comments');
    const answers = [
      await agent.post('/api/calendars').send({ kind: 'runs' }),
      await agent.post('/api/tokens').send({ name: 'A program', scopes: ['create'] }),
      await agent.post(`/api/posts/${post}/preview-links`).send({ label: 'For a friend', days: 3 }),
      await agent
        .post('/api/invites')
        .send({ name: 'Somebody', email: 'new@test.example', role: 'contributor', categories: [] }),
      await agent.post('/api/categories').send({ name: 'Written down', hue: 2 }),
      await agent.post('/api/comments/moves').send({ ids: [comment], to: 'held' }),
    ];
    expect(answers.map((a) => a.status)).toEqual(answers.map(() => 201));
    for (const table of new Set([...Object.values(KIND_OF), ...NAMES.map(tableOf)]))
      if (await room.db.schema.hasColumn(table, 'id')) own.set(table, await ownId(table));
    // Not the manager, who calls: a closed account calls nothing.
    own.set('people', (await managerId()) + 1);
    const draft = (await room.db('letters').where({ state: 'draft' }).first('id')) as { id: number };
    own.set('letters', draft.id);
  }
  const own = new Map<string, number>();
  /** A body with ids of this blog, by the names under which they stand. */
  const ofOwn = (name: RouteName, { body, idPaths }: Sample): unknown =>
    idPaths.reduce((now, path) => withAt(now, path, ownAt(name, path)), body);
  const ownAt = (name: RouteName, path: IdPath): number => {
    const key = path.findLast((part) => typeof part === 'string');
    return own.get(KIND_OF[key as string] ?? tableOf(name)) ?? 1;
  };
  const ownId = async (table: string): Promise<number> =>
    ((await room.db(table).where('id', '<', FOREIGN_ID).min('id as id').first()) as { id: number | null })
      .id ?? 1;

  const call = (
    name: RouteName,
    id: number,
    { body, query, version = 1 }: { body?: unknown; query?: object; version?: number },
  ) => {
    const { method, path, file } = ROUTES[name];
    const asked = agent[method.toLowerCase() as 'post'](path.replace(':id', String(id)))
      .query(query ?? {})
      .set('If-Match', ROUTES[name].saves ? '*' : `"${version}"`);
    if (file) return asked.attach('file', Buffer.from('nothing'), 'nothing.bin');
    return body === undefined ? asked : asked.send(body as object);
  };

  it('is put into a body of every route that takes one', () => {
    const none = NAMES.filter((name) => schemasOf(name).body && samplesOf(name).length === 0);
    expect(none).toEqual([]);
  });

  it('exists of every kind', () => {
    expect(other.empty).toEqual(NOT_BY_ID);
  });

  it.each(NAMES.filter((name) => ROUTES[name].path.includes(':id')))('is not found by %s', async (name) => {
    const [question] = sampleBodies(schemasOf(name).query);
    const [sample] = samplesOf(name);
    const before = await other.digest();
    const answer = await call(name, FOREIGN_ID, {
      body: ofOwn(name, sample!),
      query: question && (ofOwn(name, question) as object),
    });
    expect([String(answer.status), answer.text]).toEqual([
      expect.stringMatching(/^40[34]$/),
      expect.not.stringContaining(FOREIGN_WORD),
    ]);
    expect(await other.digest()).toBe(before);
  });

  it.each(NAMES.filter((name) => !APART.includes(name) && samplesOf(name).some((s) => s.idPaths.length > 0)))(
    'is not taken from what %s is sent',
    async (name) => {
      const id = name === 'people.profile' ? await managerId() : ownAt(name, ['id']);
      for (const sample of samplesOf(name))
        for (const path of sample.idPaths) {
          const version = await versionOf(name, id);
          const asked = withAt(ofOwn(name, sample), path, FOREIGN_ID) as Record<string, unknown>;
          if ('version' in asked) asked['version'] = version;
          const before = await other.digest();
          const { status, text } = await call(name, id, { body: asked, version });
          const what = `${name} ${path.join('.')}`;
          expect([what, text]).toEqual([what, expect.not.stringContaining(FOREIGN_WORD)]);
          const answered = LEFT_OUT.includes(what) ? /^(?:20[01]|400|409) / : /^4(?:0[0349]|22) /;
          expect([what, `${status} ${text}`]).toEqual([what, expect.stringMatching(answered)]);
          // Neither is anything of the other blog another, nor does anything of this one lead to it.
          expect(await other.digest()).toBe(before);
        }
    },
  );

  it('is not asked after, as a filter', async () => {
    for (const name of NAMES.filter(
      (n) => ROUTES[n].method === 'GET' && !ROUTES[n].path.includes(':id') && !APART.includes(n),
    ))
      for (const sample of sampleBodies(schemasOf(name).query))
        for (const path of sample.idPaths) {
          const { status, text } = await call(name, 0, {
            query: withAt(ofOwn(name, sample), path, FOREIGN_ID) as object,
          });
          expect([name, status < 500, text]).toEqual([name, true, expect.not.stringContaining(FOREIGN_WORD)]);
        }
  });

  const managerId = async (): Promise<number> =>
    ((await room.db('people').where({ email: MANAGER.email }).first('id')) as { id: number }).id;

  /** The version of what is changed, so that the id is what the change is refused for. */
  async function versionOf(name: RouteName, id: number): Promise<number> {
    if (tableOf(name) === 'site') {
      const site = (await room.db('blogs').orderBy('id').first('version')) as { version: number };
      return site.version;
    }
    if (!(await room.db.schema.hasColumn(tableOf(name), 'version'))) return 1;
    return (
      ((await room.db(tableOf(name)).where({ id }).first('version')) as { version: number } | undefined)
        ?.version ?? 1
    );
  }
});
