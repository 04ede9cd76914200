import type { CampaignChanges, CampaignView, FieldValues, NewCampaign } from '@keyroster/contract';
import { saveAddition, saveChange, saveRemoval, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import { editPosts } from '../posts/edit.js';
import type { Written } from '../posts/effects.js';
import { seeCampaign } from './campaign-views.js';

async function mustBeFree(trx: Trx, blogId: number, name: string, besides: number): Promise<void> {
  const other = await trx('campaigns')
    .where({ blog_id: blogId })
    .whereRaw('lower(name) = lower(?)', [name])
    .whereNot({ id: besides })
    .first('id');
  if (other) throw new ProblemError('taken', `There is a campaign “${name}” already.`);
}

export async function addCampaign(
  trx: Trx,
  person: CurrentPerson,
  { name }: NewCampaign,
): Promise<CampaignView> {
  await mustBeFree(trx, person.blogId, name, 0);
  const [row] = await trx('campaigns')
    .insert({ blog_id: person.blogId, name })
    .returning<{ id: number }[]>('id');
  await saveAddition({ trx, person }, changedCampaign(trx, person, row!.id));
  return seeCampaign(trx, person, row!.id);
}

const changedCampaign = (trx: Trx, { blogId }: CurrentPerson, id: number) => ({
  kind: 'campaign' as const,
  id,
  read: async (): Promise<CampaignChanges & FieldValues> => {
    const row = await trx('campaigns')
      .where({ blog_id: blogId, id })
      .first<Omit<CampaignChanges, 'outletIds'> | undefined>(
        'name',
        'about',
        'from_date as from',
        'until_date as until',
      );
    if (!row) throw notFound('That campaign');
    const outletIds = await trx('campaign_outlets')
      .where({ campaign_id: id })
      .orderBy('outlet_id')
      .pluck<number[]>('outlet_id');
    return { ...row, outletIds };
  },
  name: ({ name }: CampaignChanges) => name,
});

/** Changes what is given of a campaign. */
export async function changeCampaign(
  change: Change,
  id: number,
  changes: Partial<CampaignChanges>,
): Promise<CampaignView> {
  const { trx, person } = change;
  await saveChange(change, changedCampaign(trx, person, id), (before) =>
    writeCampaign(change, id, before, { ...before, ...changes }),
  );
  return seeCampaign(trx, person, id);
}

async function writeCampaign(
  { trx, person }: Change,
  id: number,
  before: CampaignChanges,
  { name, about, from, until, outletIds }: CampaignChanges,
): Promise<void> {
  if (from !== null && until !== null && from > until)
    throw new ProblemError('invalid', 'The first day comes after the last.', {
      fields: [{ field: 'until', sentence: 'This is before the first day.' }],
    });
  await mustBeFree(trx, person.blogId, name, id);
  const known = await trx('outlets')
    .where({ blog_id: person.blogId })
    .whereIn('id', [...outletIds])
    .pluck<number[]>('id');
  if (known.length < outletIds.length)
    throw new ProblemError('invalid', 'One of those outlets is not on this blog.');
  await trx('campaigns').where({ id }).update({ name, about, from_date: from, until_date: until });
  if (name !== before.name) await nameInPosts(trx, person, before.name, name);
  await trx('campaign_outlets').where({ campaign_id: id }).delete();
  if (outletIds.length > 0)
    await trx('campaign_outlets').insert(outletIds.map((outlet_id) => ({ campaign_id: id, outlet_id })));
}

/** Puts another name of a campaign, or none, into its posts: all of them or, where one is not theirs, none. */
async function nameInPosts(trx: Trx, person: CurrentPerson, before: string, after: string): Promise<void> {
  const ids = await trx('all_posts')
    .where({ blog_id: person.blogId })
    .whereRaw('lower(campaign) = lower(?)', [before])
    .orderBy('id')
    .pluck<number[]>('id');
  if (ids.length > 0)
    await editPosts(trx, person.blogId, person, ids, () => [{ kind: 'set', values: { campaign: after } }]);
}

export async function removeCampaign(change: Change, id: number): Promise<null> {
  const { trx, person } = change;
  await saveRemoval(change, changedCampaign(trx, person, id), async ({ name }) => {
    await nameInPosts(trx, person, name, '');
    await trx('campaigns').where({ id }).delete();
  });
  return null;
}

/** A campaign that a post is the first to name begins with that. */
export async function beginNamed(trx: Trx, written: readonly Written[]): Promise<void> {
  const named = written.filter((w) => w.changed.includes('campaign') && w.after.campaign.trim() !== '');
  if (named.length === 0) return;
  const names = new Map(named.map((w) => [`${w.blogId} ${w.after.campaign.trim().toLowerCase()}`, w]));
  await trx.raw(
    `
      insert into
        campaigns (blog_id, name)
      select
        n.blog_id,
        n.name
      from
        unnest(?::int[], ?::text[]) as n (blog_id, name)
      order by
        1,
        2
      on conflict do nothing
    `,
    [[...names.values()].map((w) => w.blogId), [...names.values()].map((w) => w.after.campaign.trim())],
  );
}
