import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { NewOutlet, OutletView, PiecesMade, RolloutView } from '@keyroster/contract';
import { USUAL_LIMITS, type OutletKind, type PieceKind } from '@keyroster/core';
import { STAND_INS, startStandins, type Manners, type Running } from '@keyroster/standins';
import { Newsroom, eventually, fromNow, type Who } from '../testing/newsroom.js';

export let standins: Running;
export let room: Newsroom;
export const outlets = new Map<string, OutletView>();
export const USUAL: Manners = { slowMs: 0, answer: 'usual', perMinute: 0, losesAnswers: false };
export const call = async (
  who: Who,
  method: 'get' | 'post' | 'patch' | 'put' | 'delete',
  path: string,
  body?: object,
  ifMatch?: number,
) => {
  let asked = (await room.as(who))[method](path);
  if (ifMatch !== undefined) asked = asked.set('If-Match', String(ifMatch));
  return body ? asked.send(body) : asked;
};
const PACED = { perHour: null, perDay: null, quiet: null };
export const outlet = (slug: string, kind: OutletKind, more: Partial<NewOutlet> = {}): NewOutlet => ({
  name: STAND_INS.find((s) => s.slug === slug)!.name,
  kind,
  protocol: 'micropub',
  address: `${standins.url}/${slug}/micropub`,
  settings: {},
  limits: { ...USUAL_LIMITS[kind], ...PACED },
  voice: '',
  knowsKeys: STAND_INS.find((s) => s.slug === slug)!.knowsKeys,
  credentials: { token: STAND_INS.find((s) => s.slug === slug)!.token },
  ...more,
});

const TEXT = [
  'A stern gland that drips is doing its work and needs no more than a look.',
  'Lift the boards and watch the gland with the engine in gear for a full minute.',
  'Two drops a minute under way is right, and none at all means that it runs hot.',
  'Slacken both nuts, slide the collar back and pick out the old rings with a corkscrew tool.',
];
/** Each post has sentences of its own, so that what came of it can be told from the others. */
export const textOf = (title: string) => TEXT.map((t) => t.replace(/\.$/, `, says ${title}.`));
export async function published(title = 'Packing a stern gland'): Promise<number> {
  const post = await room.cleared(title);
  await (
    await room.as('chief')
  )
    .put(`/api/posts/${post.id}/body`)
    .set('If-Match', String((await room.see('chief', post.id)).version))
    .send({
      body: {
        type: 'doc',
        content: textOf(title).map((text) => ({ type: 'paragraph', content: [{ type: 'text', text }] })),
      },
    });
  await room.move('editor', post.id, { to: 'scheduled', runAt: fromNow(-60) });
  await eventually(async () => (await room.see('chief', post.id)).stage === 'published');
  return post.id;
}
export async function make(
  postId: number,
  kind: PieceKind,
  slug: string,
  more: object = {},
): Promise<RolloutView['pieces'][number]> {
  const answer = await call('chief', 'post', `/api/posts/${postId}/pieces`, {
    asks: [
      {
        kind,
        outletId: outlets.get(slug)!.id,
        instruction: '',
        style: 'wedge',
        shape: 'square',
        timing: { kind: 'same hour', minutes: 0 },
        ...more,
      },
    ],
  });
  const { made, refused } = answer.body as PiecesMade;
  if (!made?.[0]) throw new Error(answer.text + refused?.join());
  return piece(postId, made[0]);
}
export const rollout = async (postId: number, who: Who = 'chief') =>
  (await call(who, 'get', `/api/posts/${postId}/rollout`)).body as RolloutView;
export const piece = async (postId: number, id: number) =>
  (await rollout(postId)).pieces.find((p) => p.id === id)!;
export const approve = (id: number, approved = true, who: Who = 'chief') =>
  call(who, 'post', `/api/pieces/${id}/approval`, { approved });
export const became = async (postId: number, id: number, state: string) =>
  eventually(async () => {
    const p = await piece(postId, id);
    return p.send?.state === state ? p : null;
  });

/** A newsroom whose outlets are stand-ins, for all tests of a file. */
export function useOutlets(): void {
  beforeAll(async () => {
    standins = await startStandins({
      port: 0,
      smtpPort: 0,
      folder: mkdtempSync(join(tmpdir(), 'standins-')),
    });
    room = await Newsroom.make({
      jobs: true,
      privateOutlets: [standins.url, `127.0.0.1:${standins.smtpPort}`],
    });
    // The hub and the partner ask for the feeds where the server really is.
    await room.db('blogs').update({ home: room.url });
    for (const made of [
      outlet('towline', 'short-post network'),
      outlet('porthole', 'picture network'),
      outlet('slipway', 'professional network'),
      outlet('ropewalk', 'shop’s news page', {
        protocol: 'webhook',
        address: `${standins.url}/ropewalk/hook`,
      }),
      outlet('chandlers-row', 'partner site', {
        protocol: 'feed',
        address: `${standins.url}/hub`,
        credentials: {},
      }),
      outlet('friday-letter', 'newsletter', {
        protocol: 'mail',
        address: 'list@friday.example',
        settings: { host: '127.0.0.1', port: standins.smtpPort, from: 'Test Lock <letter@test.example>' },
        credentials: { user: 'letters', password: 'letters-password' },
      }),
    ]) {
      const answer = await call('chief', 'post', '/api/outlets', made);
      if (answer.status !== 201) throw new Error(answer.text);
      outlets.set(STAND_INS.find((s) => s.name === made.name)!.slug, answer.body as OutletView);
    }
  });
  afterAll(async () => {
    await room.close();
    await standins.stop();
  });
  afterEach(() => {
    for (const { slug } of STAND_INS) standins.store.behave(slug, USUAL);
  });
}
