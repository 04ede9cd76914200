import type { FieldValues, NewOutlet, OutletChanges, OutletView } from '@keyroster/contract';
import { proposeSlug, roleMay } from '@keyroster/core';
import { saveAddition, saveChange, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError, notFound, notYours } from '../http/problem.js';
import { emit } from '../live/live.js';
import { planSends } from './plan.js';
import { encrypt, decrypt } from './encrypt.js';
import { homeOf } from './destination.js';
import type { OutletRow } from './outlet-row.js';

const feedsOf = (home: string, row: Pick<OutletRow, 'protocol' | 'slug'>) =>
  row.protocol === 'feed'
    ? { atom: `${home}/outlets/${row.slug}.atom`, json: `${home}/outlets/${row.slug}.json` }
    : null;

/**
 * Where an outlet takes pieces is told to those who manage outlets: the address of a webhook can be a secret
 * of its own.
 */
export async function listOutlets(
  db: Queryable,
  person: Pick<CurrentPerson, 'blogId' | 'role'>,
): Promise<OutletView[]> {
  const home = await homeOf(db, person.blogId);
  const rows = await db('outlets as o')
    .where({ 'o.blog_id': person.blogId })
    .orderByRaw('closed_at is not null, o.id')
    .select<(OutletRow & { waiting: number; sent: number; needs: number })[]>(
      'o.*',
      db.raw(
        `
          (
            select
              count(*)::int
            from
              sends s
            where
              s.outlet_id = o.id
              and s.state in ('waiting', 'sending')
          ) as waiting
        `,
      ),
      db.raw(`
        (
          select
            count(*)::int
          from
            sends s
          where
            s.outlet_id = o.id
            and s.state = 'sent'
        ) as sent
      `),
      db.raw(
        `
          (
            select
              count(*)::int
            from
              sends s
            where
              s.outlet_id = o.id
              and s.state in ('unsure', 'failed')
          ) as needs
        `,
      ),
    );
  const manages = roleMay(person.role, 'manageOutlets');
  return rows.map((r) => ({
    id: r.id,
    name: r.name,
    slug: r.slug,
    kind: r.kind,
    protocol: r.protocol,
    address: manages ? r.address : '',
    settings: manages ? r.settings : {},
    limits: r.limits,
    voice: r.voice,
    knowsKeys: r.knows_keys,
    hasCredentials: r.credentials !== null,
    paused: r.paused_at !== null,
    closed: r.closed_at !== null,
    restingUntil: r.resting_until,
    feeds: feedsOf(home, r),
    waiting: r.waiting,
    sent: r.sent,
    needsPerson: r.needs,
    version: r.version,
  }));
}

async function seen(db: Queryable, person: CurrentPerson, id: number): Promise<OutletView> {
  const outlet = (await listOutlets(db, person)).find((o) => o.id === id);
  if (!outlet) throw notFound('That outlet');
  return outlet;
}

const changedOutlet = (trx: Trx, person: CurrentPerson, id: number) => ({
  kind: 'outlet' as const,
  id,
  read: async (): Promise<OutletView & FieldValues> => ({ ...(await seen(trx, person, id)) }),
  name: (outlet: OutletView) => outlet.name,
});

/** What must hold of an outlet, whatever its protocol. */
function mustBeSound({
  protocol,
  address,
  settings,
}: Pick<NewOutlet, 'protocol' | 'address' | 'settings'>): void {
  const bad = (sentence: string) => {
    throw new ProblemError('invalid', sentence);
  };
  if (protocol === 'mail') {
    if (!/^[^\s@<>]+@[^\s@<>]+$/.test(address)) bad('Give the list’s e-mail address.');
    if (!settings.host) bad('Give the mail server.');
    if (!/@/.test(settings.from ?? '')) bad('Give the address that letters come from.');
  } else if (protocol !== 'feed' || address !== '') {
    let url: URL | null = null;
    try {
      url = new URL(address);
    } catch {
      /* said below */
    }
    if (!url || !/^https?:$/.test(url.protocol) || url.username !== '')
      bad(
        protocol === 'feed'
          ? 'The hub’s address must begin with https://, or be left empty.'
          : 'Give the address where it takes pieces; it begins with https://.',
      );
  }
}

export async function addOutlet(
  trx: Trx,
  person: CurrentPerson,
  { credentials, ...outlet }: NewOutlet,
): Promise<OutletView> {
  mustBeSound(outlet);
  const taken = new Set(await trx('outlets').where({ blog_id: person.blogId }).pluck<string[]>('slug'));
  const slug = proposeSlug(outlet.name, (a) => taken.has(a));
  const [made] = await trx('outlets')
    .insert({
      blog_id: person.blogId,
      name: outlet.name,
      slug,
      kind: outlet.kind,
      protocol: outlet.protocol,
      address: outlet.address,
      settings: JSON.stringify(outlet.settings),
      limits: JSON.stringify(outlet.limits),
      voice: outlet.voice,
      knows_keys: outlet.knowsKeys,
      credentials:
        credentials && Object.keys(credentials).length > 0 ? await encrypt(trx, credentials) : null,
    })
    .returning<{ id: number }[]>('id');
  return saveAddition({ trx, person }, changedOutlet(trx, person, made!.id));
}

export async function changeOutlet(change: Change, id: number, changes: OutletChanges): Promise<OutletView> {
  const { trx, person } = change;
  const { paused: _, closed, credentials, ...fields } = changes;
  if (
    person.role !== 'managing editor' &&
    (closed !== undefined || credentials || Object.keys(fields).length > 0)
  )
    throw notYours('Changing an outlet');
  const after = await saveChange(change, changedOutlet(trx, person, id), () => writeOutlet(trx, id, changes));
  // Other credentials, or the end of a pause after failures, are no change of what is logged.
  await emit(trx, { blogId: person.blogId, kind: 'outlet', personId: person.id });
  return after;
}

async function writeOutlet(
  trx: Trx,
  id: number,
  { paused, closed, credentials, ...fields }: OutletChanges,
): Promise<void> {
  const row = (await trx('outlets').where({ id }).first<OutletRow | undefined>())!;
  mustBeSound({
    protocol: fields.protocol ?? row.protocol,
    address: fields.address ?? row.address,
    settings: fields.settings ?? row.settings,
  });
  const opened = (paused === false && row.paused_at !== null) || (closed === false && row.closed_at !== null);
  await trx('outlets')
    .where({ id })
    .update({
      ...(fields.name === undefined ? {} : { name: fields.name }),
      ...(fields.kind ? { kind: fields.kind } : {}),
      ...(fields.protocol ? { protocol: fields.protocol } : {}),
      ...(fields.address === undefined ? {} : { address: fields.address }),
      ...(fields.settings ? { settings: JSON.stringify(fields.settings) } : {}),
      ...(fields.limits ? { limits: JSON.stringify(fields.limits) } : {}),
      ...(fields.voice === undefined ? {} : { voice: fields.voice }),
      ...(fields.knowsKeys === undefined ? {} : { knows_keys: fields.knowsKeys }),
      ...(credentials
        ? {
            credentials:
              Object.keys(credentials).length > 0
                ? await encrypt(trx, {
                    ...(await decrypt(trx, row.credentials).catch(() => ({}))),
                    ...credentials,
                  })
                : null,
          }
        : {}),
      ...(paused === undefined ? {} : { paused_at: paused ? trx.raw('clock_timestamp()') : null }),
      ...(closed === undefined ? {} : { closed_at: closed ? trx.raw('clock_timestamp()') : null }),
      // After fixing an outlet, people want it tried now, not after its pause.
      failures: 0,
      resting_until: null,
      version: row.version + 1,
    });
  if (opened || row.resting_until !== null || credentials || fields.address !== undefined)
    await planSends(trx, { outletId: id });
}
