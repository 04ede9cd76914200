// Ten people in one text, beside the same words through a bare relay; versions compared, and a post that has many.
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { cookiesOf, max, median, said } from './bench-figures.mjs';
import { root } from './machine.mjs';

const require = createRequire(join(root, 'server', 'package.json'));
const { WebSocket, WebSocketServer } = require('ws');
const Y = await import('yjs');
const { createDecoder, readVarUint, readVarUint8Array } = await import('lib0/decoding');
const { createEncoder, toUint8Array, writeVarUint } = await import('lib0/encoding');
const { readSyncMessage, writeSyncStep1, writeUpdate } = await import('y-protocols/sync');
const { TEXT_MESSAGES, textPath } = await import('@keyroster/contract');
const { compareBodies } = await import('@keyroster/core');
const { TEXT_FIELD, sharedFrom } = await import('@keyroster/core/texts');

const PEOPLE = 10;
const WORDS = 5000;
/** Each types a word so often, for so long, in ms. */
const EVERY_MS = 250;
const FOR_MS = 8000;
const ROUNDS = 2;
const MANY_VERSIONS = 500;
/** Lengths of texts in which a proofreader suggests, in words. */
const SUGGESTED = [5000, 120_000];
const SUGGESTIONS = 12;

const paragraph = (i, words = 50) => ({
  type: 'paragraph',
  content: [
    {
      type: 'text',
      text: Array.from(
        { length: words },
        (_, n) => ['gate', 'lock', 'pound', 'paddle', 'sill'][(i * 7 + n * 3) % 5] + n,
      ).join(' '),
    },
  ],
});
const textOf = (words) => ({
  type: 'doc',
  content: Array.from({ length: words / 50 }, (_, i) => paragraph(i)),
});

/** Somebody with the text open. `seen` is called with each state that has come from others, `kept` when theirs is. */
async function person(url, cookie, seen, kept = () => {}) {
  const doc = new Y.Doc();
  const socket = new WebSocket(url, { headers: { Cookie: cookie } });
  socket.binaryType = 'nodebuffer';
  const send = (write) => {
    const to = createEncoder();
    writeVarUint(to, TEXT_MESSAGES.sync);
    write(to);
    socket.send(toUint8Array(to));
  };
  const here = new Promise((done) => {
    socket.on('message', (data) => {
      const from = createDecoder(new Uint8Array(data));
      const kind = readVarUint(from);
      if (kind === TEXT_MESSAGES.kept) kept();
      if (kind === TEXT_MESSAGES.refused) throw new Error('refused');
      if (kind !== TEXT_MESSAGES.sync) return;
      readSyncMessage(from, createEncoder(), doc, socket);
      seen(doc);
      done();
    });
  });
  doc.on('update', (update, origin) => origin !== socket && send((to) => writeUpdate(to, update)));
  await new Promise((done, failed) => socket.once('open', done).once('error', failed));
  send((to) => writeSyncStep1(to, doc));
  await here;
  return { doc, close: () => socket.close() };
}

/** All type for a while; gives how long each edit took to each of the others, in ms. */
async function typing(url, cookie) {
  const times = [];
  const edits = [];
  const seen = (doc) => {
    const now = performance.now();
    for (const edit of edits)
      if (edit.by !== doc && !edit.at.has(doc) && Y.getState(doc.store, edit.by.clientID) > edit.clock) {
        edit.at.add(doc);
        times.push(now - edit.since);
      }
    while (edits.length > 0 && edits[0].at.size === PEOPLE - 1) edits.shift();
  };
  const people = [];
  for (let i = 0; i < PEOPLE; i++) people.push(await person(url, cookie, seen));
  const end = performance.now() + FOR_MS;
  await Promise.all(
    people.map(async ({ doc }, i) => {
      const text = doc
        .getXmlFragment(TEXT_FIELD)
        .get(i * 9)
        .get(0);
      await new Promise((done) => setTimeout(done, (i * EVERY_MS) / PEOPLE));
      while (performance.now() < end) {
        edits.push({
          by: doc,
          clock: Y.getState(doc.store, doc.clientID),
          since: performance.now(),
          at: new Set(),
        });
        text.insert(text.length, ' word');
        await new Promise((done) => setTimeout(done, EVERY_MS));
      }
    }),
  );
  await new Promise((done) => setTimeout(done, 1000));
  const same = new Set(people.map(({ doc }) => doc.getXmlFragment(TEXT_FIELD).toString())).size === 1;
  people.forEach((p) => p.close());
  return { times, lost: edits.length, same };
}

/** One word after the other, each when the one before is kept; gives how long each took, in ms. */
async function oneByOne(url, cookie, attributesOf) {
  let done;
  const { doc, close } = await person(
    url,
    cookie,
    () => {},
    () => done(),
  );
  const text = doc.getXmlFragment(TEXT_FIELD).get(3).get(0);
  const times = [];
  for (let i = 0; i < SUGGESTIONS; i++) {
    const since = performance.now();
    await new Promise((kept) => {
      done = kept;
      text.insert(text.length, ' word', attributesOf(i));
    });
    times.push(performance.now() - since);
    await new Promise((rest) => setTimeout(rest, 100));
  }
  close();
  return times;
}

/** The same messages through a server that only hands them on. */
async function relay() {
  const server = new WebSocketServer({ port: 0, host: '127.0.0.1' });
  await new Promise((done) => server.once('listening', done));
  const doc = new Y.Doc();
  Y.applyUpdate(doc, sharedFrom(textOf(WORDS)));
  server.on('connection', (socket) =>
    socket.on('message', (data) => {
      const from = createDecoder(new Uint8Array(data));
      readVarUint(from);
      const to = createEncoder();
      writeVarUint(to, TEXT_MESSAGES.sync);
      if (readVarUint(from) === 0) {
        writeVarUint(to, 1);
        const state = Y.encodeStateAsUpdate(doc, readVarUint8Array(from));
        writeVarUint(to, state.length);
        return socket.send(Buffer.concat([toUint8Array(to), state]));
      }
      Y.applyUpdate(doc, readVarUint8Array(from));
      for (const other of server.clients) if (other !== socket) other.send(data);
    }),
  );
  return { url: `ws://127.0.0.1:${server.address().port}/`, close: () => server.close() };
}

export async function benchTogether(ports, row) {
  const base = `http://127.0.0.1:${ports[0]}`;
  const people = await (await fetch(`${base}/api/demo/people`)).json();
  const signIn = async (name) => {
    const { email, password } = people.find((p) => p.name === name);
    const signed = await fetch(`${base}/api/session`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ email, password }),
    });
    return cookiesOf(signed);
  };
  const cookie = await signIn('Mara Winslow');
  const call = async (method, path, body, version) => {
    const answer = await fetch(`${base}${path}`, {
      method,
      headers: {
        Cookie: cookie,
        ...(body ? { 'Content-Type': 'application/json' } : {}),
        ...(version ? { 'If-Match': `"${version}"` } : {}),
      },
      body: body && JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`);
    return answer.json();
  };
  const made = async (title, words = WORDS) => {
    const post = await call('POST', '/api/posts', { title, categoryId: 1, bylineId: mara });
    await call('PUT', `/api/posts/${post.id}/body`, { body: textOf(words) }, post.version);
    return post.id;
  };

  const staff = await call('GET', '/api/people');
  const [mara, cyril] = ['Mara Winslow', 'Cyril Fenn'].map((name) => staff.find((p) => p.name === name).id);
  const id = await made('Ten people in it');
  const bare = await relay();
  const [ours, theirs] = [[], []];
  for (let round = 0; round < ROUNDS; round++) {
    ours.push(await typing(`ws://127.0.0.1:${ports[0]}${textPath(id)}`, cookie));
    theirs.push(await typing(bare.url, cookie));
  }
  bare.close();
  const all = (rounds) => rounds.flatMap((r) => r.times);
  if (ours.some((r) => r.lost > 0 || !r.same)) throw new Error('the ten do not end with the same text');
  row(
    `Ten people in ${WORDS} words, each a word every ${EVERY_MS} ms: an edit at the others`,
    said(all(ours)),
    `${said(all(theirs))} through a bare relay`,
    'within 200 ms',
  );

  const proofreader = await signIn('Cyril Fenn');
  for (const words of SUGGESTED) {
    const post = await made(`Suggested in ${words} words`, words);
    const { version } = await call('GET', `/api/posts/${post}`);
    const drafted = await call('POST', `/api/posts/${post}/moves`, { to: 'drafting' }, version);
    await call('PATCH', `/api/posts/${post}`, { proofreaderId: cyril }, drafted.post.version);
    const url = `ws://127.0.0.1:${ports[0]}${textPath(post)}`;
    const written = await oneByOne(url, cookie, () => ({}));
    const at = `${new Date().toISOString().slice(0, 16)}Z`;
    const suggested = await oneByOne(url, proofreader, (i) => ({
      inserted: { key: `${cyril}/${at}/b${i}` },
    }));
    row(
      `A word suggested in ${words.toLocaleString('en')} words, until it is kept`,
      said(suggested),
      `${said(written)} the same word written`,
      'not asked for',
    );
  }

  const before = textOf(10_000);
  const after = {
    ...before,
    content: before.content.flatMap((block, i) =>
      i % 9 === 0 ? [] : i % 4 === 0 ? [paragraph(i + 1), block] : i % 3 === 0 ? [paragraph(i, 47)] : [block],
    ),
  };
  const times = [];
  for (let i = 0; i < 9; i++) {
    const began = performance.now();
    compareBodies(before, after);
    times.push(performance.now() - began);
  }
  const plain = (body) => body.content.map((b) => b.content[0].text).join('\n');
  const { diffWords } = await import('diff');
  const whole = performance.now();
  diffWords(plain(before), plain(after));
  row(
    'Two versions of 10,000 words compared',
    said(times),
    `${(performance.now() - whole).toFixed(0)} ms word by word as a whole, by the package diff`,
    'within 200 ms',
  );

  const [one, many] = [await made('One version'), await made('Many versions')];
  let { version } = await call('GET', `/api/posts/${many}`);
  for (let i = 0; i < MANY_VERSIONS; i++)
    version = (await call('PATCH', `/api/posts/${many}`, { excerpt: `Version ${i}` }, version)).post.version;
  const open = async (post) => {
    const began = performance.now();
    await Promise.all([call('GET', `/api/posts/${post}`), call('GET', `/api/posts/${post}/versions`)]);
    return performance.now() - began;
  };
  const opened = { one: [], many: [] };
  for (let i = 0; i < 40; i++) {
    opened.one.push(await open(one));
    opened.many.push(await open(many));
  }
  row(
    `A post with ${MANY_VERSIONS} versions opened, with its newest versions`,
    `median ${median(opened.many).toFixed(1)} ms (most ${max(opened.many).toFixed(0)} ms)`,
    `median ${median(opened.one).toFixed(1)} ms (most ${max(opened.one).toFixed(0)} ms) with one or two`,
    'no slower',
  );
}
