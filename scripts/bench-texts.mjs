// One writer and all readers: how long the front page takes in the process that stores, brings in, measures and
// makes pieces of texts of four lengths.
import { cookiesOf } from './bench-figures.mjs';
import { watch } from './bench-watch.mjs';

const LENGTHS = [10_000, 100_000, 300_000, 900_000];
const SENTENCES = [
  'The boater’s last paddle is drawn slowly, “as ever”, while the pound fills behind it.',
  'Drain the lowest point first, and leave it open with the plug tied to the key.',
  'Two drops a minute under way is right; none at all means that it runs hot.',
  'Nobody thanks you for a tidy bilge until the day it matters, number',
];

const textOf = (length) => {
  const parts = [];
  for (let i = 0, left = length; left > 0; i++) {
    const part = `${SENTENCES[i % SENTENCES.length]} ${i}. `;
    parts.push(part);
    left -= part.length;
  }
  return parts.join('').slice(0, length);
};
const paragraphs = (text) =>
  text
    .match(/[\s\S]{1,600}/g)
    .map((part) => part.trim())
    .filter(Boolean);

export async function benchTexts(port, row, db) {
  const base = `http://127.0.0.1:${port}`;
  const people = await (await fetch(`${base}/api/demo/people`)).json();
  const { email, password } = people.find((p) => p.name === 'Mara Winslow');
  const signed = await fetch(`${base}/api/session`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ email, password }),
  });
  const cookie = cookiesOf(signed);
  const call = async (method, path, body, more = {}) => {
    const answer = await fetch(`${base}${path}`, {
      method,
      headers: { Cookie: cookie, ...(body ? { 'Content-Type': 'application/json' } : {}), ...more },
      body: body && JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${await answer.text()}`);
    return answer.status === 204 ? null : answer.json();
  };
  const outlets = await call('GET', '/api/outlets');
  for (let i = 0; i < 20; i++) await (await fetch(`${base}/`)).arrayBuffer();

  let stop = await watch(`${base}/`);
  await new Promise((done) => setTimeout(done, 3000));
  const quiet = Math.max(...(await stop()));

  for (const length of LENGTHS) {
    const text = textOf(length);
    const { id, version } = await call('POST', '/api/posts', { title: `A text of ${length} characters` });
    const took = {};
    const timed = async (name, work) => {
      const began = performance.now();
      await work();
      took[name] = performance.now() - began;
    };
    stop = await watch(`${base}/`);
    await timed('stored', () =>
      call(
        'PUT',
        `/api/posts/${id}/body`,
        {
          body: {
            type: 'doc',
            content: paragraphs(text).map((p) => ({
              type: 'paragraph',
              content: [{ type: 'text', text: p }],
            })),
          },
        },
        { 'If-Match': `"${version}"` },
      ),
    );
    await timed('measured', async () => {
      for (;;) {
        const post = await db('posts').where({ id }).first('version', 'measured_version');
        if (post.measured_version === post.version) return;
        await new Promise((done) => setTimeout(done, 50));
      }
    });
    await timed('brought in', async () => {
      const form = new globalThis.FormData();
      form.append('file', new globalThis.Blob([paragraphs(text).join('\n\n')]), 'text.md');
      const answer = await fetch(`${base}/api/bring-in`, {
        method: 'POST',
        headers: { Cookie: cookie },
        body: form,
      });
      if (!answer.ok) throw new Error(await answer.text());
      await answer.arrayBuffer();
    });
    await timed('made into a piece', () =>
      call('POST', `/api/posts/${id}/pieces`, {
        asks: [
          {
            kind: 'short post',
            outletId: outlets.find((o) => o.name === 'Towline').id,
            instruction: '',
            style: 'wedge',
            shape: 'square',
            timing: { kind: 'same hour', minutes: 0 },
          },
        ],
      }),
    );
    const times = await stop();
    row(
      `the front page while a text of ${length.toLocaleString('en-GB')} characters is stored, measured, brought in and made into a piece`,
      `slowest of ${times.length}: ${Math.max(...times).toFixed(0)} ms (${Object.entries(took)
        .map(([name, ms]) => `${name} in ${ms.toFixed(0)} ms`)
        .join(', ')})`,
      `while nothing happens: ${quiet.toFixed(0)} ms`,
      'under 100 ms',
    );
  }
}
