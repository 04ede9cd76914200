// A readers' page, in turn with a bare route that sends the same bytes.
import { spawn } from 'node:child_process';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { median } from './bench-figures.mjs';
import { root } from './machine.mjs';

const { shortCode } = await import('@keyroster/core');
const autocannon = createRequire(join(root, 'e2e', 'package.json'))('autocannon');

/** A bare Express route that sends the same bytes with the same headers. */
const BARE = `
const express = require('express');
const app = express();
let bytes = Buffer.alloc(0); let headers = {};
app.get('/page', (req, res) => { res.set(headers); res.send(bytes); });
process.on('message', (m) => { bytes = Buffer.from(m.bytes, 'base64'); headers = m.headers; const s = app.listen(0, '127.0.0.1', () => process.send(s.address().port)); });
`;

async function load(url, connections) {
  const result = await autocannon({ url, connections, duration: 5 });
  if (result.non2xx || result.errors)
    throw new Error(`${url}: ${result.non2xx} refused, ${result.errors} errors`);
  return { rate: result.requests.average, p99: result.latency.p99 };
}

/** The path of a post that is long enough to be one, and that can be changed: with a text among its versions. */
export async function longPost(port, db) {
  const post = await db('posts as p')
    .where({ stage: 'published', access: 'everyone', blog_id: 1 })
    .whereRaw('length(p.body_text) > 1500')
    .whereExists((q) => q.from('post_versions as v').whereRaw('v.post_id = p.id and v.body is not null'))
    .whereNotExists((q) => q.from('serial_parts as s').whereRaw('s.post_id = p.id'))
    .orderBy('p.id')
    .first('id');
  const answer = await fetch(`http://127.0.0.1:${port}/s/${shortCode(post.id)}`);
  return new URL(answer.url).pathname;
}

export async function benchReaders(port, db, row) {
  await besideBare(port, row, await longPost(port, db), { what: 'readers’ post page' });
}

/** A page in turn with a bare route that sends the same bytes. */
export async function besideBare(port, row, address, { what, connections = 32, must = 'at least 100%' }) {
  const url = `http://127.0.0.1:${port}${address}`;
  const page = await fetch(url, { headers: { 'accept-encoding': 'identity' } });
  const bytes = Buffer.from(await page.arrayBuffer());
  const bare = spawn(process.execPath, ['-e', BARE], {
    cwd: join(root, 'server'),
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  });
  const keep = [
    'content-type',
    'etag',
    'vary',
    'cache-control',
    'content-security-policy',
    'x-content-type-options',
    'referrer-policy',
  ];
  bare.send({
    bytes: bytes.toString('base64'),
    headers: Object.fromEntries(keep.map((k) => [k, page.headers.get(k)])),
  });
  const barePort = await new Promise((done) => bare.once('message', done));
  const [ours, theirs] = [[], []];
  for (let i = 0; i < 6; i++) {
    // The first round of each warms up and is not counted.
    const a = await load(url, connections);
    const b = await load(`http://127.0.0.1:${barePort}/page`, connections);
    if (i > 0) {
      ours.push(a);
      theirs.push(b);
    }
  }
  bare.kill('SIGTERM');
  const rates = (all) => median(all.map((l) => l.rate));
  const late = (all) => median(all.map((l) => l.p99));
  const ratio = median(ours.map((a, i) => a.rate / theirs[i].rate));
  row(
    `${what}, ${(bytes.length / 1024).toFixed(1)} kB, ${connections} connections, five rounds in turn`,
    `${rates(ours).toFixed(0)} requests/s (median of the ratios ${(100 * ratio).toFixed(0)}%), 99 of 100 within ${late(ours)} ms`,
    `${rates(theirs).toFixed(0)} requests/s, 99 of 100 within ${late(theirs)} ms, bare Express route`,
    must,
  );
}
