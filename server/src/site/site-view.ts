import type { FieldValues, LookView, SiteChanges, SiteView } from '@keyroster/contract';
import {
  FIRST_LOOK,
  inSpotlightOrder,
  lookOf,
  menuWarnings,
  overlapsOf,
  turnsFrom,
  usualMenu,
  type Around,
  type Look,
  type MenuEntry,
  type Panel,
  type SiteSettings,
} from '@keyroster/core';
import { personRef } from '../accounts/people.js';
import { saveChange, type Change } from '../changes/save.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable, Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import type { Settings } from '../settings.js';
import { clockOf } from '../slots/clock.js';
import { heldFrom } from '../pages/spotlight.js';
import { homeOf, type Place } from '../pages/places.js';
import { menuPosts, siteSettings } from '../pages/reader-blog.js';
import { readable } from '../access/readable.js';

/** Weeks whose turns are told. */
const TURNS_SHOWN = 8;
/** Looks that can be gone back to. */
const LOOKS_SHOWN = 20;

interface SiteRow extends Place {
  version: number;
  site: Partial<SiteSettings>;
  menu: MenuEntry[] | null;
  panels: Panel[];
  look: unknown;
  around: Around | null;
  title: string;
}
const COLUMNS = [
  'id',
  'host',
  'path',
  'version',
  'site',
  'menu',
  'panels',
  'look',
  'around',
  'title',
] as const;

export async function siteView(
  db: Queryable,
  { blogId }: Pick<CurrentPerson, 'blogId'>,
  { publicUrl }: Pick<Settings, 'publicUrl'>,
): Promise<SiteView> {
  const row = (await db('blogs')
    .where({ id: blogId })
    .first<SiteRow>(...COLUMNS))!;
  const settings = siteSettings(row.site);
  const categories = await db('categories')
    .where({ blog_id: blogId })
    .orderBy('id')
    .select<{ id: number; name: string; slug: string }[]>('id', 'name', 'slug');
  const menu = row.menu ?? usualMenu(categories);
  const chosen = [
    ...settings.start.posts,
    ...(settings.rotation?.posts ?? []),
    ...menu.flatMap((entry) => (entry.kind === 'post' ? [entry.id] : [])),
  ];
  const asEntries = chosen.map((id): MenuEntry => ({ kind: 'post', id, label: '' }));
  const posts = await menuPosts(db, { id: blogId }, asEntries, settings.addressPattern);
  const titles = await db('all_posts')
    .where({ blog_id: blogId })
    .whereRaw('id = any (?)', [chosen])
    .select<{ id: number; title: string }[]>('id', 'title');
  const [{ count } = { count: '0' }] = await readable(db, { id: blogId }).count<{ count: string }[]>(
    'posts.id as count',
  );
  const home = homeOf(row, publicUrl);
  const { today, firstWeekday } = await clockOf(db, blogId);
  const held = await heldFrom(db, { id: blogId }, today);
  const titleOf = (id: number) => titles.find((t) => t.id === id)?.title ?? '';
  return {
    id: blogId,
    version: row.version,
    home,
    settings,
    menu,
    menuIsUsual: row.menu === null,
    panels: row.panels,
    look: lookOf(row.look),
    around: row.around,
    looks: await earlierLooks(db, blogId),
    warnings: menuWarnings(menu, {
      home,
      categories,
      posts,
      hasStart: settings.start.posts.some((id) => posts.has(id)),
    }),
    posts: Number(count),
    held: inSpotlightOrder(held, settings.spotlightOrder),
    overlaps: overlapsOf(held, settings.spotlightOrder, today),
    turns: turnsFrom(settings.rotation, today, firstWeekday, TURNS_SHOWN).map((turn) => ({
      ...turn,
      title: titleOf(turn.postId),
      shown: posts.has(turn.postId),
    })),
    titles: titles.map((t) => ({ ...t, shown: posts.has(t.id) })),
  };
}

async function earlierLooks(db: Queryable, blogId: number): Promise<LookView[]> {
  const rows = await db('looks as l')
    .leftJoin('people as p', 'p.id', 'l.person_id')
    .where('l.blog_id', blogId)
    .orderBy('l.id', 'desc')
    .limit(LOOKS_SHOWN)
    .select<{ id: number; look: unknown; at: string; personId: number | null; name: string | null }[]>(
      'l.id',
      'l.look',
      'l.at',
      'p.id as personId',
      'p.name',
    );
  return rows.map(({ id, look, at, personId, name }) => ({
    id,
    look: lookOf(look),
    at,
    by: personId === null ? null : personRef({ id: personId, name: name! }),
  }));
}

/** What was decided about the readers' pages, by field. A menu that nobody made is null, a look that nobody chose too. */
interface SiteValues extends SiteSettings, FieldValues {
  menu: MenuEntry[] | null;
  panels: Panel[];
  look: Look | null;
  around: Around | null;
  title: string;
}

export const changedSite = (trx: Trx, { blogId }: Pick<CurrentPerson, 'blogId'>) => ({
  kind: 'site' as const,
  id: blogId,
  read: async (): Promise<SiteValues> => {
    const { site, menu, panels, look, around, title } = (await trx('blogs')
      .where({ id: blogId })
      .first<SiteRow>(...COLUMNS))!;
    return { ...siteSettings(site), menu, panels, look: look === null ? null : lookOf(look), around, title };
  },
  name: ({ title }: SiteValues) => title,
});

export async function changeSite(
  change: Change,
  { menu, panels, ...settings }: SiteChanges,
  about: Pick<Settings, 'publicUrl'>,
): Promise<SiteView> {
  const { trx, person } = change;
  await saveChange(change, changedSite(trx, person), async () => {
    await mustBeOnBlog(trx, person.blogId, menu ?? [], [
      ...(settings.start?.posts ?? []),
      ...(settings.rotation?.posts ?? []),
    ]);
    await trx('blogs')
      .where({ id: person.blogId })
      .update({
        site: trx.raw('site || ?::jsonb', [JSON.stringify(settings)]),
        ...(menu === undefined ? {} : { menu: menu === null ? null : JSON.stringify(menu) }),
        ...(panels ? { panels: JSON.stringify(panels) } : {}),
      });
  });
  return siteView(trx, person, about);
}

async function mustBeOnBlog(
  trx: Trx,
  blogId: number,
  menu: readonly MenuEntry[],
  named: readonly number[],
): Promise<void> {
  const posts = [...named, ...menu.flatMap((e) => (e.kind === 'post' ? [e.id] : []))];
  const categories = menu.flatMap((e) => (e.kind === 'category' ? [e.id] : []));
  const missing = async (table: string, ids: readonly number[]) => {
    const known = await trx(table).where({ blog_id: blogId }).whereIn('id', ids).pluck<number[]>('id');
    return ids.some((id) => !known.includes(id));
  };
  if (await missing('all_posts', posts))
    throw new ProblemError('invalid', 'One of those posts is not on this blog.');
  if (await missing('categories', categories))
    throw new ProblemError('invalid', 'One of those categories is not on this blog.');
}

/** Gives the pages a look. The first time, the look of before is kept too, so that it can be gone back to. */
export async function applyLook(
  change: Change,
  look: Look | null,
  about: Pick<Settings, 'publicUrl'>,
): Promise<SiteView> {
  const { trx, person } = change;
  const { blogId } = person;
  const keep = (of: Look, personId: number | null) =>
    trx('looks').insert({ blog_id: blogId, look: JSON.stringify(of), person_id: personId });
  await saveChange(change, changedSite(trx, person), async (before) => {
    if (!(await trx('looks').where({ blog_id: blogId }).first('id')))
      await keep(before.look ?? FIRST_LOOK, null);
    await keep(look ?? FIRST_LOOK, person.id);
    await trx('blogs')
      .where({ id: blogId })
      .update({ look: look && JSON.stringify(look) });
  });
  return siteView(trx, person, about);
}
