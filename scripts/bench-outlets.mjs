// The outlets' numbers: making pieces, drawing cards, and five hundred pieces due in a minute with an outlet
// that fails.
import { max, median, said } from './bench-figures.mjs';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { URLSearchParams } from 'node:url';
import { Worker } from 'node:worker_threads';
import { CARD_STYLES, PIECE_KINDS, SHAPE_NAMES, USUAL_LIMITS } from '@keyroster/core';
import { startStandins } from './standins.mjs';

const { addOutlet, cardPng, findPerson, planSends } = await import('@keyroster/server');

const ROUNDS = 15;

/**
 * Runs in a worker: takes a body apart, ranks it and makes a piece of every kind; answers how long each round
 * took.
 */
const MAKER = `
  const { parentPort, workerData } = require('node:worker_threads');
  import('@keyroster/core').then((core) => {
    const times = [];
    let made = 0;
    for (let i = 0; i < workerData.rounds; i++) {
      const began = performance.now();
      const source = {
        title: 'Winter on the cut',
        excerpt: '',
        url: 'https://halfwaylock.example/winter',
        byline: 'Tobias Orme',
        blog: 'Halfway Lock',
        category: 'Engine room',
        tags: ['winter', 'pumps'],
        phrases: [],
        ...core.sourceOf(workerData.body),
      };
      const ranked = new core.RankedSource(source);
      made = 0;
      for (const kind of core.PIECE_KINDS) {
        const piece = core.makePiece(ranked, {
          kind,
          outlet: { name: 'Any', limits: workerData.limits },
          instruction: 'warm, at most 280 characters',
          shape: 'square',
          others: [ranked],
        });
        if (piece.ok) made++;
      }
      times.push(performance.now() - began);
    }
    parentPort.postMessage({ times, made, sentences: core.sourceOf(workerData.body).sentences.length });
  });`;

const inWorker = (body) =>
  new Promise((done, fail) => {
    const worker = new Worker(MAKER, {
      eval: true,
      workerData: { body, rounds: ROUNDS, limits: USUAL_LIMITS['short-post network'] },
    });
    worker.once('message', (message) => {
      void worker.terminate();
      done(message);
    });
    worker.once('error', fail);
  });

const SENTENCES = [
  'Drain the lowest point first, and leave it open with the plug tied to the key',
  'A cup of water in the wrong place is all that frost needs',
  'Turn the engine by hand for six turns before you trust it to be dry',
  'We counted boats at every lock between Tolver and the summit',
  'The keeper said that the paddles had not been greased since spring',
  'Is the stove drawing, or only smoking',
  'Nobody thanks you for a tidy bilge until the day it matters',
];
/** A text of so many words, each sentence a little different from the others. */
function textOf(words) {
  const content = [];
  for (let n = 0, i = 0; n < words; i++) {
    if (i % 9 === 0)
      content.push({
        type: 'heading',
        attrs: { level: 2 },
        content: [{ type: 'text', text: `Part ${i / 9 + 1}, and what it asks` }],
      });
    if (i % 40 === 5) content.push({ type: 'picture', attrs: { media: 1, alt: `Boat ${i}`, caption: '' } });
    const text = [0, 1, 2]
      .map(
        (k) =>
          `${SENTENCES[(i * 3 + k * 2) % SENTENCES.length]}, at mile ${i * 3 + k} of the ` +
          `${['feeder', 'summit', 'flight', 'arm', 'basin'][(i + k) % 5]}.`,
      )
      .join(' ');
    n += text.split(' ').length;
    content.push({ type: 'paragraph', content: [{ type: 'text', text }] });
  }
  return { type: 'doc', content };
}

async function making(row) {
  for (const words of [2000, 30_000]) {
    const { times, made, sentences } = await inWorker(textOf(words));
    row(
      `${made} of ${PIECE_KINDS.length} kinds of piece from a post of ` +
        `${words.toLocaleString('en')} words (${sentences.toLocaleString('en')} sentences), ` +
        'in a worker',
      said(times),
      'nothing',
      words === 2000 ? 'within 200 ms' : 'none',
    );
  }
  const times = [];
  for (const style of CARD_STYLES) {
    for (const shape of SHAPE_NAMES) {
      const began = performance.now();
      await cardPng({
        words: 'Six turns clears the housing; three only moves the water somewhere colder',
        foot: 'HALFWAY LOCK',
        style,
        shape,
        palette: times.length,
      });
      times.push(performance.now() - began);
    }
  }
  row(
    `a card, ${CARD_STYLES.length} styles in ${SHAPE_NAMES.length} shapes, each drawn as PNG`,
    said(times),
    'nothing',
    'within 1 s each',
  );
}

const COUNT = 500;
const WINDOW_S = 60;
const FAILS_S = 20;

async function sending(db, row, standins) {
  const { id } = await db('people').where({ name: 'Mara Winslow' }).first('id');
  const chief = await findPerson(db, id, null);
  const limits = { ...USUAL_LIMITS['short-post network'], perHour: null, perDay: null, quiet: null };
  const ids = await db.transaction(async (trx) => {
    await trx('outlets').update({ paused_at: trx.raw('now()') });
    const made = [];
    const add = async (name, slug, more) =>
      made.push(
        (
          await addOutlet(trx, chief, {
            name,
            kind: 'short-post network',
            protocol: 'micropub',
            address: `${standins.url}/${slug}/micropub`,
            settings: {},
            limits,
            voice: '',
            knowsKeys: true,
            credentials: { token: `${slug}-token` },
            ...more,
          })
        ).id,
      );
    await add('Bench one', 'towline');
    await add('Bench two', 'slipway');
    await add('Bench three', 'ropewalk', {
      protocol: 'webhook',
      address: `${standins.url}/ropewalk/hook`,
      credentials: { token: 'whsec_cm9wZXdhbGstc3RvcmVzLXNlY3JldA==' },
    });
    await add('Bench four', 'friday-letter', {
      protocol: 'mail',
      address: 'list@letter.example',
      settings: { host: '127.0.0.1', port: standins.smtpPort, from: 'bench@halfwaylock.example' },
      knowsKeys: false,
      credentials: { user: 'letters', password: 'letters-password' },
    });
    await add('Bench five, which fails at first', 'porthole');
    return made;
  });
  const behave = (answer) =>
    fetch(`${standins.url}/porthole/manners`, {
      method: 'POST',
      redirect: 'manual',
      body: new URLSearchParams({ slowMs: '0', perMinute: '0', answer }),
    });
  await behave('broken');
  const begin = new Date(Date.now() + 3000);
  await db.transaction(async (trx) => {
    const post = await trx('posts').where({ stage: 'published' }).orderBy('id').first('id', 'version');
    for (let i = 0; i < COUNT; i++) {
      const due = new Date(begin.getTime() + (i * WINDOW_S * 1000) / COUNT);
      const [piece] = await trx('pieces')
        .insert({
          blog_id: 1,
          post_id: post.id,
          outlet_id: ids[i % 5],
          kind: 'short post',
          parts: [`Bench piece ${i}`],
          source_version: post.version,
          timing: JSON.stringify({ kind: 'date', local: due.toISOString().slice(0, 19) }),
          due_local: due.toISOString().slice(0, 19),
          due_at: due.toISOString(),
        })
        .returning('id');
      const [send] = await trx('sends')
        .insert({ blog_id: 1, piece_id: piece.id, outlet_id: ids[i % 5], due_at: due.toISOString() })
        .returning('id');
      await planSends(trx, { sendId: send.id });
    }
  });
  setTimeout(() => void behave('usual'), begin.getTime() - Date.now() + FAILS_S * 1000);
  const left = async () =>
    Number((await db('sends').whereIn('outlet_id', ids).whereNot({ state: 'sent' }).count('id as n'))[0].n);
  const end = Date.now() + 240_000;
  while ((await left()) > 0 && Date.now() < end) await new Promise((done) => setTimeout(done, 300));
  const log = await db('sends as s')
    .whereIn('outlet_id', ids)
    .select(
      's.outlet_id',
      's.state',
      db.raw('extract(epoch from s.sent_at - s.due_at) as late'),
      db.raw('extract(epoch from s.sent_at - ?::timestamptz) as at', [begin.toISOString()]),
    );
  const received = (
    await Promise.all(
      ['towline', 'slipway', 'ropewalk', 'friday-letter', 'porthole'].map(async (slug) =>
        (
          await (await fetch(`${standins.url}/${slug}`, { headers: { accept: 'application/json' } })).json()
        ).map((r) => r.text.trim()),
      ),
    )
  )
    .flat()
    .filter((t) => /^Bench piece/.test(t));
  const well = log.filter((l) => l.outlet_id !== ids[4] && l.state === 'sent');
  const failing = log.filter((l) => l.outlet_id === ids[4] && l.state === 'sent');
  row(
    `${COUNT} pieces due within a minute at five outlets (Micropub, webhook, mail), two ` +
      'processes: the four that work',
    `${well.length} of ${(COUNT / 5) * 4} out ` +
      `${max(well.map((l) => Number(l.at))).toFixed(1)} s after the first was due; median ` +
      `${(median(well.map((l) => Number(l.late))) * 1000).toFixed(0)} ms late`,
    'their time',
    'all out within the minute',
  );
  row(
    `the fifth, which is out of order for the first ${FAILS_S} s`,
    `${failing.length} of ${COUNT / 5} out ` +
      `${max(failing.map((l) => Number(l.at))).toFixed(1)} s after the first was due`,
    'their time',
    'none lost',
  );
  row(
    'received by the outlets',
    `${received.length} pieces, ${received.length - new Set(received).size} of them twice`,
    `${COUNT} sent`,
    'none twice',
  );
}

export async function benchOutlets(db, row, standins) {
  await making(row);
  await sending(db, row, standins);
}

export const benchStandins = () => startStandins({ folder: mkdtempSync(join(tmpdir(), 'bench-standins-')) });
