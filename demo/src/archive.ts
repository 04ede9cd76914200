import {
  applyBatch,
  requestApply,
  changePost,
  findPerson,
  saveFilter,
  lockPost,
  pitch,
  previewBatch,
  type CurrentPerson,
  type Db,
} from '@keyroster/server';
import { addDays, dateOf } from '@keyroster/core';
import { ZONE } from './load-posts.js';

/**
 * What a used archive holds beside its posts: kept filters, batches that were applied, a post in the
 * spotlight, two in the bin.
 */
export async function loadArchive(db: Db): Promise<void> {
  const person = async (name: string) =>
    (await findPerson(db, (await db('people').where({ name }).first<{ id: number }>('id'))!.id, null))!;
  const [chief, editor] = [await person('Mara Winslow'), await person('Edda Thorne')];
  const today = dateOf(new Date().toISOString(), ZONE);
  const winter = await db.transaction(async (trx) => {
    await saveFilter(trx, chief, {
      name: 'Published without tags',
      line: 'stage:published lacks:tags',
      sort: '-run',
      shared: true,
    });
    await saveFilter(trx, chief, {
      name: 'Engine room, before this year',
      line: `category:"Engine room" released:..${Number(today.slice(0, 4)) - 1}`,
      sort: '-run',
      shared: true,
    });
    await saveFilter(trx, editor, {
      name: 'Held back by checks',
      line: 'checks:blocking -stage:published',
      sort: 'run',
      shared: true,
    });
    const lit = await trx('posts')
      .where({ title: 'Frost on the Hallow Steps' })
      .first<{ id: number } | undefined>('id');
    if (lit)
      await changePost(trx, (await lockPost(trx, chief.blogId, lit.id))!, chief, {
        spotlight: { from: today, until: addDays(today, 7) },
      });
    const spare = [];
    for (const title of ['Trying the new editor, please ignore', 'Old list of winter moorings'])
      spare.push((await pitch(trx, chief, { title })).id);
    await askAll(trx, chief, await previewBatch(trx, chief, { changes: [{ kind: 'bin' }], ids: spare }));
    return (await previewAndAsk(trx, editor)).concat(await waiting(trx));
  });
  for (const id of [...new Set(winter)].sort((a, b) => a - b)) await applyBatch(db, id);
}

type Trx = Parameters<typeof previewBatch>[0];

async function askAll(trx: Trx, person: CurrentPerson, preview: { id: number }): Promise<number> {
  await requestApply(trx, person, preview.id);
  return preview.id;
}

/** An editor's batch: all that is tagged winter belongs to one campaign. */
async function previewAndAsk(trx: Trx, person: CurrentPerson): Promise<number[]> {
  const preview = await previewBatch(trx, person, {
    changes: [{ kind: 'campaign', to: 'Winter on the water' }],
    line: 'tag:winter stage:published',
  });
  return preview.counts.changes > 0 ? [await askAll(trx, person, preview)] : [];
}

const waiting = (trx: Trx) => trx('batches').where({ state: 'waiting' }).pluck<number[]>('id');
