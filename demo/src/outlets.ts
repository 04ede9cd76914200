import {
  addOutlet,
  approvePiece,
  changePiece,
  editPost,
  findPerson,
  addPattern,
  makePieces,
  readBody,
  storeBody,
  lockPost,
  type CurrentPerson,
  type Db,
  type Trx,
} from '@keyroster/server';
import {
  USUAL_LIMITS,
  type BodyNode,
  type CardStyle,
  type OutletKind,
  type PieceKind,
  type Shape,
  type Timing,
} from '@keyroster/core';
import type { NewOutlet } from '@keyroster/contract';

/** Where the stand-ins are, as the start command says. */
const STANDINS = process.env['STANDINS_URL'] ?? 'http://127.0.0.1:4390';
const SMTP_PORT = Number(process.env['STANDINS_SMTP_PORT'] ?? 4391);

interface Ask {
  kind: PieceKind;
  outlet: string;
  timing: Timing;
  instruction?: string;
  style?: CardStyle;
  shape?: Shape;
}

function outlets(): NewOutlet[] {
  const made = (name: string, slug: string, kind: OutletKind, more: Partial<NewOutlet>): NewOutlet => ({
    name,
    kind,
    protocol: 'micropub',
    address: `${STANDINS}/${slug}/micropub`,
    settings: {},
    limits: USUAL_LIMITS[kind],
    voice: '',
    knowsKeys: true,
    ...more,
  });
  return [
    made('Towline', 'towline', 'short-post network', {
      limits: { ...USUAL_LIMITS['short-post network'], perHour: 12, perDay: 60, quiet: null },
      voice: 'One thing at a time. No exclamation marks; the weather provides those.',
      credentials: { token: 'towline-token' },
    }),
    made('Porthole', 'porthole', 'picture network', {
      limits: { ...USUAL_LIMITS['picture network'], perHour: 6, perDay: 30, quiet: null },
      voice: 'Pictures first, and say who took them.',
      knowsKeys: false,
      credentials: { token: 'porthole-token' },
    }),
    made('Slipway', 'slipway', 'professional network', {
      voice: 'For boatyards and fitters: what it cost, and what it saved.',
      credentials: { token: 'slipway-token' },
    }),
    made('The Friday Letter', 'friday-letter', 'newsletter', {
      protocol: 'mail',
      address: 'readers@friday-letter.example',
      settings: { host: '127.0.0.1', port: SMTP_PORT, from: 'Halfway Lock <letter@halfwaylock.example>' },
      knowsKeys: false,
      credentials: { user: 'letters', password: 'letters-password' },
      voice: 'As to a friend on another boat.',
    }),
    made('Chandler’s Row', 'chandlers-row', 'partner site', {
      protocol: 'feed',
      address: `${STANDINS}/hub`,
      voice: 'They show our newest item beside their winter stock.',
    }),
    made('Ropewalk Stores', 'ropewalk', 'shop’s news page', {
      protocol: 'webhook',
      address: `${STANDINS}/ropewalk/hook`,
      credentials: { token: 'whsec_cm9wZXdhbGstc3RvcmVzLXNlY3JldA==' },
      voice: 'No prices of other shops.',
    }),
  ];
}

/**
 * What a used set of outlets holds: a rollout half on its way, a piece behind its post, patterns, and a log
 * of what went out before.
 */
export async function loadOutlets(db: Db): Promise<void> {
  const chief = (await findPerson(
    db,
    (await db('people').where({ name: 'Mara Winslow' }).first<{ id: number }>('id'))!.id,
    null,
  ))!;
  await db.transaction(async (trx) => {
    const ids = new Map<string, number>();
    for (const outlet of outlets()) ids.set(outlet.name, (await addOutlet(trx, chief, outlet)).id);
    await loadPatterns(trx, chief, ids);
    await loadRollout(trx, chief, ids);
    await loadPast(trx, chief, ids);
  });
}

const full = (
  ids: ReadonlyMap<string, number>,
  { kind, outlet, timing, instruction = '', style = 'wedge', shape = 'square' }: Ask,
) => ({ kind, outletId: ids.get(outlet)!, instruction, style, shape, timing });

const HOW_TO: Ask[] = [
  { kind: 'short post', outlet: 'Towline', timing: { kind: 'same day', time: '12:30' } },
  {
    kind: 'picture card',
    outlet: 'Porthole',
    timing: { kind: 'next day', time: '17:00' },
    shape: 'landscape',
  },
  {
    kind: 'newsletter item',
    outlet: 'The Friday Letter',
    timing: { kind: 'weekday', weekday: 5, time: '07:00' },
    instruction: 'warm',
  },
  {
    kind: 'checklist',
    outlet: 'Ropewalk Stores',
    timing: { kind: 'next week', time: '12:30' },
    instruction: 'without link',
  },
  {
    kind: 'question',
    outlet: 'Towline',
    timing: { kind: 'next month', time: '12:30' },
    instruction: 'for first-year owners',
  },
];

async function loadPatterns(trx: Trx, chief: CurrentPerson, ids: ReadonlyMap<string, number>): Promise<void> {
  const category = await trx('categories').where({ name: 'Engine room' }).first<{ id: number }>('id');
  await addPattern(trx, chief, {
    name: 'Evergreen how-to',
    stops: HOW_TO.map((a) => full(ids, a)),
    formatId: null,
    categoryId: category!.id,
    campaignId: null,
    byItself: false,
  });
  await addPattern(trx, chief, {
    name: 'News and no more',
    stops: [
      full(ids, {
        kind: 'short post',
        outlet: 'Towline',
        timing: { kind: 'same hour', minutes: 5 },
        instruction: 'brisk',
      }),
      full(ids, {
        kind: 'newsletter item',
        outlet: 'Chandler’s Row',
        timing: { kind: 'same hour', minutes: 30 },
      }),
    ],
    formatId: null,
    categoryId: null,
    campaignId: null,
    byItself: false,
  });
}

async function loadRollout(trx: Trx, chief: CurrentPerson, ids: ReadonlyMap<string, number>): Promise<void> {
  const found = (await trx('posts')
    .where({ title: 'Winter-proofing a raw water pump', stage: 'published' })
    .first<{ id: number } | undefined>('id'))!;
  const { made } = await makePieces(trx, chief, found.id, { asks: HOW_TO.map((a) => full(ids, a)) });
  // The post is corrected after its newsletter item was made of it.
  const post = (await lockPost(trx, chief.blogId, found.id))!;
  const used = (await trx('pieces').where({ id: made[2]! }).first<{ parts: string[] }>('parts'))!.parts[0]!;
  const sentence = /lost one impeller/.test(used)
    ? ['lost one impeller', 'lost two impellers']
    : ['six full turns', 'seven full turns'];
  const body = JSON.parse(JSON.stringify(post.body).replace(sentence[0]!, sentence[1]!)) as BodyNode;
  await storeBody(trx, post, chief, await readBody(body), null);
  await editPost(trx, (await lockPost(trx, chief.blogId, found.id))!, chief, { kind: 'update' });
  for (const id of [made[0]!, made[1]!, made[3]!]) await approvePiece(trx, chief, id, { approved: true });
}

/**
 * Has a stand-in hold what went out before, by Micropub like anybody, so that its readers have reacted to it.
 * Without stand-ins the log stands alone.
 */
async function passedOn(
  slug: string,
  { parts, tags, due_at }: { parts: string[]; tags: string[]; due_at: string },
): Promise<string> {
  const answer = await fetch(`${STANDINS}/${slug}/micropub`, {
    method: 'POST',
    headers: { authorization: `Bearer ${slug}-token`, 'content-type': 'application/json' },
    signal: AbortSignal.timeout(2000),
    body: JSON.stringify({
      type: ['h-entry'],
      properties: {
        content: [parts[0]],
        category: tags.map((t) => t.replace(/^#/, '')),
        published: [due_at],
      },
    }),
  }).catch(() => null);
  return answer?.status === 201 ? (answer.headers.get('location') ?? '') : '';
}

/** Pieces of older posts that went out before the newsroom had a log to show. */
async function loadPast(trx: Trx, chief: CurrentPerson, ids: ReadonlyMap<string, number>): Promise<void> {
  const older = await trx('posts')
    .where({ blog_id: chief.blogId, stage: 'published', access: 'everyone' })
    .where('words', '>', 150)
    .orderBy('run_at', 'desc')
    .offset(3)
    .limit(14)
    .select<{ id: number; run: string }[]>('id', 'run_local as run');
  const kinds: Ask[] = [
    { kind: 'short post', outlet: 'Towline', timing: { kind: 'same day', time: '12:30' } },
    { kind: 'quote card', outlet: 'Porthole', timing: { kind: 'next day', time: '17:00' }, style: 'wave' },
    { kind: 'short post', outlet: 'Slipway', timing: { kind: 'next day', time: '10:00' } },
    {
      kind: 'newsletter item',
      outlet: 'The Friday Letter',
      timing: { kind: 'weekday', weekday: 5, time: '07:00' },
    },
  ];
  let n = 0;
  for (const post of older) {
    const ask = kinds[n % kinds.length]!;
    const { made } = await makePieces(trx, chief, post.id, { asks: [full(ids, ask)] });
    if (!made[0]) continue;
    n++;
    const piece = (await trx('pieces')
      .where({ id: made[0] })
      .first<{ outlet_id: number; due_at: string; parts: string[]; tags: string[] }>(
        'outlet_id',
        'due_at',
        'parts',
        'tags',
      ))!;
    if (Date.parse(piece.due_at) > Date.now()) continue;
    const doubtful = n === 2;
    const url = ask.kind === 'short post' ? await passedOn(ask.outlet.toLowerCase(), piece) : '';
    const [send] = await trx('sends')
      .insert({
        blog_id: chief.blogId,
        piece_id: made[0],
        outlet_id: piece.outlet_id,
        due_at: piece.due_at,
        attempts: 1,
        approved_by: chief.id,
        approved_at: piece.due_at,
        claimed_at: piece.due_at,
        ...(doubtful
          ? { state: 'unsure', error: 'Porthole hung up before it answered.' }
          : { state: 'sent', sent_at: piece.due_at, url }),
      })
      .returning<{ id: number }[]>('id');
    await trx('send_attempts').insert({
      send_id: send!.id,
      began_at: piece.due_at,
      ended_at: piece.due_at,
      outcome: doubtful ? 'unsure' : 'sent',
      sentence: doubtful ? 'Porthole hung up before it answered.' : 'It is out.',
    });
  }
  const coming = await trx('posts')
    .where({ blog_id: chief.blogId, stage: 'scheduled' })
    .orderBy('run_at')
    .first<{ id: number } | undefined>('id');
  if (!coming) return;
  const { made } = await makePieces(trx, chief, coming.id, {
    asks: [
      // Earlier than its readers look, as the figures of the year before tell.
      full(ids, { kind: 'short post', outlet: 'Towline', timing: { kind: 'next day', time: '08:15' } }),
      full(ids, { kind: 'thread', outlet: 'Slipway', timing: { kind: 'next day', time: '10:00' } }),
    ],
  });
  if (made[0]) {
    const piece = (await trx('pieces')
      .where({ id: made[0] })
      .first<{ version: number; parts: string[] }>('version', 'parts'))!;
    await changePiece(trx, chief, made[0], piece.version, {
      parts: [`From the galley: ${piece.parts[0]!}`.slice(0, 290)],
    });
  }
}

/** Has the demo's outlets follow the stand-ins to the ports they have this time. */
export async function moveOutlets(db: Db): Promise<void> {
  if (!process.env['STANDINS_URL'] || !(await db('demo_people').first('person_id'))) return;
  await db('outlets')
    .whereNot({ protocol: 'mail' })
    .whereRaw(`address ~ '^http://127\\.0\\.0\\.1:\\d+/'`)
    .update({ address: db.raw(`regexp_replace(address, '^http://127\\.0\\.0\\.1:\\d+', ?)`, [STANDINS]) });
  await db('outlets')
    .where({ protocol: 'mail' })
    .whereRaw(`settings->>'host' = '127.0.0.1'`)
    .update({ settings: db.raw(`settings || ?::jsonb`, [JSON.stringify({ port: SMTP_PORT })]) });
}
