// Nobody waits for somebody else's work: the front page while one person imports, exports or changes a lot, of each
// kind that there is, in the process that does it.
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { cookiesOf } from './bench-figures.mjs';
import { watch } from './bench-watch.mjs';
import { root, say } from './machine.mjs';

const POSTS = 20_000;
const { loadLarge } = await import('@keyroster/demo');
const sharp = createRequire(join(root, 'server', 'package.json'))('sharp');

const list = (count, line) => Array.from({ length: count }, (_, i) => line(i)).join('\n');
const PARAGRAPH = 'Drain the lowest point first, and leave it open with the plug tied to the key. '.repeat(6);

/** A picture whose every pixel is another, as a camera's are. */
async function picture() {
  const [width, height] = [3000, 2000];
  const raw = Buffer.from(
    Uint8Array.from({ length: width * height * 3 }, (_, i) => (i * 2_654_435_761) >>> 24),
  );
  return sharp(raw, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 80 })
    .toBuffer();
}

export async function benchOthers(port, db, row) {
  const base = `http://127.0.0.1:${port}`;
  const people = await (await fetch(`${base}/api/demo/people`)).json();
  const { email, password } = people.find((p) => p.name === 'Mara Winslow');
  const signed = await fetch(`${base}/api/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ email, password }),
  });
  const cookie = cookiesOf(signed);
  const call = async (method, path, body) => {
    const isForm = body instanceof globalThis.FormData;
    const answer = await fetch(`${base}${path}`, {
      method,
      headers: { Cookie: cookie, ...(body && !isForm ? { 'Content-Type': 'application/json' } : {}) },
      body: isForm ? body : body && JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`);
    return answer;
  };
  const json = async (...ask) => (await call(...ask)).json();
  const send = async (path, content, name) => {
    const form = new globalThis.FormData();
    form.append('file', new globalThis.Blob([content]), name);
    await (await call('POST', path, form)).arrayBuffer();
  };
  const fetched = async (path) => (await (await call('GET', path)).arrayBuffer()).byteLength;

  const { rows } = await db.raw(`select count(*)::int as posts from all_posts where slug like 'large-%'`);
  if (rows[0].posts === 0) await loadLarge(db, POSTS);
  const ids = await db('all_posts').where('slug', 'like', 'large-%').orderBy('id').limit(10_000).pluck('id');
  const special = (await json('GET', '/api/specials'))[0];
  const until = async (id) => {
    for (;;) {
      const { state } = await db('batches').where({ id }).first('state');
      if (state === 'applied') return;
      if (state === 'failed') throw new Error('The batch failed.');
      await new Promise((done) => setTimeout(done, 50));
    }
  };
  let batch = null;
  const photograph = await picture();
  const document = list(2000, () => `${PARAGRAPH}\n`);
  const out = (await json('GET', '/api/posts?stage=published&limit=1')).posts[0];
  const KINDS = {
    'import of 50,000 subscribers': () =>
      send(
        '/api/subscribers/import',
        list(50_000, (i) => `Reader ${i},reader${i}@example.org`),
        'list.csv',
      ),
    'import of 2,000 pitches': () =>
      send('/api/pitches/import', `title\n${list(2000, (i) => `A pitch of many ${i}`)}`, 'pitches.csv'),
    'a document of 1 MB': () => send('/api/bring-in', document, 'long.md'),
    'a picture of 6 megapixels': () => send('/api/media', photograph, 'picture.jpg'),
    'export of the archive': () => fetched('/api/archive.csv?sort=-run'),
    'export of subscribers': () => fetched('/api/subscribers.csv'),
    'export of results': () => fetched('/api/results.csv?from=2026-01-01&to=2026-12-31'),
    'a special as files': () => (special ? fetched(`/api/specials/${special.id}/files`) : 0),
    'a post as Word': () => fetched(`/api/posts/${out.id}/out?as=docx`),
    'preview of a batch over 10,000': async () => {
      batch = await json('POST', '/api/batches', { changes: [{ kind: 'campaign', to: 'Bench' }], ids });
    },
    'the batch applied': async () => {
      await call('POST', `/api/batches/${batch.id}/apply`, {});
      await until(batch.id);
    },
    'the batch taken back': async () => {
      const back = await json('POST', `/api/batches/${batch.id}/back`, {});
      await call('POST', `/api/batches/${back.id}/apply`, {});
      await until(back.id);
    },
  };

  for (let i = 0; i < 20; i++) await (await fetch(`${base}/`)).arrayBuffer();
  const results = [];
  for (const [name, work] of Object.entries(KINDS)) {
    let stop = await watch(`${base}/`);
    await new Promise((done) => setTimeout(done, 2000));
    const quiet = Math.max(...(await stop()));
    stop = await watch(`${base}/`);
    const began = performance.now();
    await work();
    const took = performance.now() - began;
    const slowest = Math.max(...(await stop()));
    results.push({ name, quiet, slowest, took });
    say(`  ${name}: ${slowest.toFixed(0)} ms (quiet ${quiet.toFixed(0)}), took ${took.toFixed(0)} ms`);
  }
  const slower = ({ quiet, slowest }) => slowest - quiet;
  const worst = [...results].sort((a, b) => slower(b) - slower(a));
  row(
    `the front page during every kind of import, export and batch, ${results.length}`,
    `slowest answer: ${worst.map((r) => `${r.name} ${r.slowest.toFixed(0)}`).join(', ')} ms; ` +
      `${worst.filter((r) => slower(r) > 100).length} over`,
    `while nothing happens, before each: ${Math.min(...results.map((r) => r.quiet)).toFixed(0)} to ` +
      `${Math.max(...results.map((r) => r.quiet)).toFixed(0)} ms`,
    'at most 100 ms slower',
  );
}
