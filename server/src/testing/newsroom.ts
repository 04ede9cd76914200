import { randomBytes } from 'node:crypto';
import argon2 from 'argon2';
import pg from 'pg';
import request from 'supertest';
import sharp from 'sharp';
import type { BodyNode, Role } from '@keyroster/core';
import type { MediaView, MoveDone, NewMove, PostChanges, PostDetails, PostView } from '@keyroster/contract';
import { addPerson } from '../accounts/people.js';
import { startServer, type Running } from '../app/start.js';
import { release } from '../posts/release.js';
import type { Settings } from '../settings.js';
import { answerError, takesAnyVersion } from './answers.js';

export const PASSWORD = 'a password for tests';
/** One for all, and a weak one: what a strong one takes at every sign-in is tried in the spec of accounts. */
const hash = argon2.hash(PASSWORD, { type: argon2.argon2id, memoryCost: 1024, timeCost: 2, parallelism: 1 });
export type Who = 'chief' | 'editor' | 'otherEditor' | 'writer' | 'otherWriter' | 'proofreader' | 'reader';
const PEOPLE: Record<Who, { role: Role; categories: number[] }> = {
  chief: { role: 'managing editor', categories: [] },
  editor: { role: 'editor', categories: [1] },
  otherEditor: { role: 'editor', categories: [2] },
  writer: { role: 'contributor', categories: [] },
  otherWriter: { role: 'contributor', categories: [] },
  proofreader: { role: 'proofreader', categories: [] },
  reader: { role: 'reader', categories: [] },
};

type Agent = ReturnType<typeof request.agent>;

/** A newsroom of its own for one spec: a cloned database, a running server, a person of each role. */
export class Newsroom {
  private readonly agents = new Map<Who, Agent>();
  readonly ids = {} as Record<Who, number>;
  private readonly answerErrors = new Set<string>();

  private constructor(
    readonly running: Running,
    readonly databaseUrl: string,
    private readonly dropDatabase: () => Promise<void>,
  ) {}

  static async make(
    options: {
      jobs?: boolean;
      demo?: boolean;
      people?: boolean;
      publicUrl?: string;
      privateOutlets?: string[];
      privateMentions?: string[];
      mailServer?: string;
      trustedProxies?: string[];
      webFolder?: string;
    } = {},
  ): Promise<Newsroom> {
    const base = process.env['TEST_POSTGRES_URL'];
    if (!base) throw new Error('TEST_POSTGRES_URL is not set: run these through npm test, or npm test unit.');
    const name = `kr_${randomBytes(6).toString('hex')}`;
    const admin = async (sql: string) => {
      const client = new pg.Client(base);
      await client.connect();
      await client.query(sql);
      await client.end();
    };
    await admin(`create database ${name} template kr_template`);
    const databaseUrl = base.replace(/\/postgres$/, `/${name}`);
    const settings: Settings = {
      port: 0,
      host: '127.0.0.1',
      databaseUrl,
      publicUrl: options.publicUrl ?? 'http://127.0.0.1',
      sessionSecret: 'only for tests',
      demo: options.demo ?? false,
      webFolder: options.webFolder ?? null,
      privateOutlets: options.privateOutlets ?? [],
      privateMentions: options.privateMentions ?? [],
      mailServer: options.mailServer ?? null,
      mailIn: null,
      mailFrom: 'Key Roster <newsroom@test.example>',
      trustedProxies: options.trustedProxies ?? [],
    };
    const running = await startServer(settings, { jobs: options.jobs ?? false });
    const room = new Newsroom(running, databaseUrl, () =>
      admin(`drop database if exists ${name} with (force)`),
    );
    if (options.people !== false) await room.settle();
    return room;
  }

  get db() {
    return this.running.services.db;
  }
  get url() {
    return `http://127.0.0.1:${this.running.port}`;
  }

  private async settle(): Promise<void> {
    await this.db.transaction(async (trx) => {
      await trx('blogs').insert({
        title: 'Test Lock',
        tagline: 'A blog for tests',
        zone: 'Europe/London',
        home: this.running.services.settings.publicUrl,
      });
      await trx('categories').insert([
        { blog_id: 1, name: 'Towpath', slug: 'towpath', hue: 4 },
        { blog_id: 1, name: 'Engine', slug: 'engine', hue: 1 },
      ]);
      await trx('slots').insert({ blog_id: 1, weekday: 1, time: '08:00', category_id: 1 });
      for (const who of Object.keys(PEOPLE) as Who[])
        this.ids[who] = await addPerson(
          trx,
          1,
          { name: `${who} Test`, email: `${who.toLowerCase()}@test.example`, ...PEOPLE[who] },
          await hash,
        );
    });
  }

  /** Every answer is held against its description on the way; what differs is said when the newsroom closes. */
  nobody(): Agent {
    return request.agent(this.url).use((asked: request.Test) => {
      // Tests that are not about versions change what is there, whichever it is.
      if (takesAnyVersion(asked.method, asked.url)) asked.set('If-Match', '*');
      asked.on('response', (answer: request.Response) => {
        const error = answerError(asked.method, asked.url, answer);
        if (error) this.answerErrors.add(error);
      });
    });
  }

  async as(who: Who): Promise<Agent> {
    const known = this.agents.get(who);
    if (known) return known;
    const agent = this.nobody();
    const answer = await agent
      .post('/api/session')
      .send({ email: `${who.toLowerCase()}@test.example`, password: PASSWORD });
    if (answer.status !== 200) throw new Error(`sign-in of ${who}: ${answer.text}`);
    this.agents.set(who, agent);
    return agent;
  }

  /** The cookies of somebody who is signed in, for connections that the agent does not make. */
  async cookieOf(who: Who): Promise<string> {
    const { jar } = (await this.as(who)) as unknown as {
      jar: { getCookies(of: object): { toValueString(): string } };
    };
    return jar.getCookies({ domain: '127.0.0.1', path: '/', secure: false, script: false }).toValueString();
  }

  /** Calls a route as somebody. */
  async call(who: Who, method: 'get' | 'post' | 'put' | 'patch' | 'delete', path: string, body?: object) {
    const asked = (await this.as(who))[method](path);
    return method === 'get' || method === 'delete' ? asked : asked.send(body ?? {});
  }

  forget(who: Who): void {
    this.agents.delete(who);
  }

  async pitch(who: Who, title = 'Frost on the steps', more: object = { categoryId: 1 }): Promise<PostView> {
    const answer = await (await this.as(who)).post('/api/posts').send({ title, ...more });
    if (answer.status !== 201) throw new Error(answer.text);
    return answer.body as PostView;
  }

  async see(who: Who, id: number): Promise<PostView> {
    return (await (await this.as(who)).get(`/api/posts/${id}`)).body as PostView;
  }

  async move(who: Who, id: number, body: NewMove) {
    return (await this.as(who)).post(`/api/posts/${id}/moves`).send(body);
  }

  async change(who: Who, id: number, body: PostChanges, version?: number) {
    return (await this.as(who))
      .patch(`/api/posts/${id}`)
      .set('If-Match', `"${version ?? (await this.see('chief', id)).version}"`)
      .send(body);
  }

  async write(who: Who, id: number, text: string | BodyNode = 'Open the paddle slowly.', version?: number) {
    return (await this.as(who))
      .put(`/api/posts/${id}/body`)
      .set('If-Match', `"${version ?? (await this.see('chief', id)).version}"`)
      .send({ body: typeof text === 'string' ? doc(text) : text });
  }

  /** Puts what was changed in a published post before its readers. */
  async update(who: Who, id: number, version?: number) {
    return (await this.as(who))
      .post(`/api/posts/${id}/updates`)
      .set('If-Match', `"${version ?? (await this.see('chief', id)).version}"`)
      .send({});
  }

  /** A picture of one shade in the library. */
  async picture(who: Who = 'writer', shade = '#2f6f9f'): Promise<MediaView> {
    const plain = sharp({ create: { width: 60, height: 40, channels: 3, background: shade } });
    return (
      await (await this.as(who)).post('/api/media').attach('file', await plain.png().toBuffer(), 'gate.png')
    ).body as MediaView;
  }

  /** A post that stands cleared, with text, byline and category. */
  async cleared(title?: string): Promise<PostDetails> {
    const post = await this.pitch('chief', title, { categoryId: 1, bylineId: this.ids.writer });
    await this.move('editor', post.id, { to: 'commissioned' });
    await this.write('writer', post.id);
    await this.move('writer', post.id, { to: 'in review' });
    const done = await this.move('editor', post.id, { to: 'cleared' });
    if (done.status !== 200) throw new Error(done.text);
    return (done.body as MoveDone).post;
  }

  async scheduled(runAt: string, title?: string): Promise<PostDetails> {
    const post = await this.cleared(title);
    const done = await this.move('editor', post.id, { to: 'scheduled', runAt });
    if (done.status !== 200) throw new Error(done.text);
    return (done.body as MoveDone).post;
  }

  /** A post that has just gone out, with changes made before it did. */
  async published(title?: string, changes: PostChanges = {}): Promise<PostView> {
    const { id } = await this.cleared(title);
    if (Object.keys(changes).length > 0) await this.change('chief', id, changes);
    await this.move('editor', id, { to: 'scheduled', runAt: fromNow(-1) });
    // Where jobs run, one of them may have been before us.
    await release(this.db, id);
    const post = await this.see('chief', id);
    if (post.stage !== 'published') throw new Error(`“${post.title}” did not go out.`);
    return post;
  }

  /** Where a spec makes up what no description knows, its answers are not held against one. */
  async close({ described = true } = {}): Promise<void> {
    await this.running.stop();
    await this.dropDatabase();
    if (described && this.answerErrors.size > 0)
      throw new Error(`Answers that are not as described:\n${[...this.answerErrors].join('\n')}`);
  }
}

export const doc = (...paragraphs: string[]) => ({
  type: 'doc',
  content: paragraphs.map((text) => ({ type: 'paragraph', content: [{ type: 'text', text }] })),
});

/** An instant so many seconds from now, as the API takes it. */
export const fromNow = (seconds: number) =>
  new Date(Date.now() + seconds * 1000).toISOString().replace(/\.\d+Z$/, 'Z');

/** Waits until something holds; for what other processes do in their own time. */
export async function eventually<T>(
  what: () => Promise<T | null | undefined | false>,
  ms = 40_000,
): Promise<T> {
  const end = Date.now() + ms;
  for (;;) {
    const value = await what();
    if (value) return value;
    if (Date.now() > end) throw new Error('It did not come about in time.');
    await new Promise((done) => setTimeout(done, 50));
  }
}

/** Waits until no job is at work or due: what jobs were to do, they have done. */
export const jobsDone = ({ db }: Newsroom): Promise<boolean> =>
  eventually(async () => {
    const due = await db('graphile_worker.jobs')
      .where((job) => job.whereNotNull('locked_at').orWhere('run_at', '<=', db.fn.now()))
      .whereRaw('attempts < max_attempts')
      .first('id');
    return due === undefined;
  });

/** Waits until somebody waits in the database for what somebody else holds. */
export const someoneWaits = ({ db }: Newsroom): Promise<boolean> =>
  eventually(async () => {
    const { rows } = await db.raw<{ rows: unknown[] }>(
      `select 1 from pg_stat_activity where wait_event_type = 'Lock' and datname = current_database()`,
    );
    return rows.length > 0;
  });
