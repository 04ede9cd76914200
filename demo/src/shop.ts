import { readTheme } from '@keyroster/core';
import type { Db } from '@keyroster/server';

/**
 * Puts the blog into the stand-in shop, as its journal: in the colours of the shop's theme file, under its menu, at the
 * path that the shop passes on. Wherever the shop stands this time; left alone once somebody has taken it out.
 */
export async function standInShop(db: Db, standins: string): Promise<void> {
  const blog = await db('blogs')
    .where({ title: 'Halfway Lock' })
    .first<{ id: number; around: object | null } | undefined>('id', 'around');
  if (!blog) return;
  const takenOut =
    blog.around === null &&
    (await db('changes')
      .where({ blog_id: blog.id, kind: 'site' })
      .whereRaw(`jsonb_exists(became, 'around')`)
      .first('id'));
  if (takenOut) return;
  const answer = await fetch(`${standins}/ropewalk/theme.json`).catch(() => null);
  if (!answer?.ok) return;
  const read = readTheme(await answer.text());
  if (!read.ok) throw new Error(read.sentence);
  const mount = { host: new URL(standins).host, path: '/ropewalk/journal' };
  await db('blogs')
    .where({ id: blog.id })
    .update({ around: JSON.stringify({ ...read.theme, mount }) });
}
