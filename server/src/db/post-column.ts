import type { Knex } from 'knex';

/** Columns of a row of `readers_versions` that say whose it is. */
const WHOSE = ['post_id', 'blog_id', 'version'];
/** Lists that posts keep in tables of their own. */
const LISTS: Record<string, string> = {
  tag_ids: 'array(select t.tag_id from post_tags t where t.post_id = p.id)',
  coauthor_ids: 'array(select c.person_id from post_coauthors c where c.post_id = p.id)',
};

/**
 * Gives posts a column of text, for migrations. With `readers`, readers go on seeing its earlier value while a post
 * waits for its update; with `sorted`, the archive finds it in order by an index.
 */
export async function addTextColumn(
  knex: Knex,
  name: string,
  { readers, sorted }: { readers: boolean; sorted: boolean },
): Promise<void> {
  await knex.raw(`alter table all_posts add column ?? text not null default ''`, [name]);
  await knex.raw('create or replace view posts as select * from all_posts where binned_at is null');
  if (sorted)
    await knex.raw(
      `create index ?? on all_posts (blog_id, lower(??), run_at desc nulls last, id desc) where ?? <> ''`,
      [`posts_${name}`, name, name],
    );
  if (!readers) return;
  await knex.raw(`alter table readers_versions add column ?? text not null default ''`, [name]);
  await showToReaders(knex, name);
}

/** Adds a column to the view of posts as readers see them, which stays otherwise as it is. */
async function showToReaders(knex: Knex, added: string): Promise<void> {
  const columns = async (of: string) =>
    (await knex('information_schema.columns')
      .where({ table_schema: 'public', table_name: of })
      .orderBy('ordinal_position')
      .pluck('column_name')) as string[];
  const kept = (await columns('readers_versions')).filter((c) => !WHOSE.includes(c));
  const shown = [...(await columns('readers_posts')), added].map((name) => {
    const column = knex.ref(name).toQuery();
    return kept.includes(name)
      ? `case when r.post_id is null then ${LISTS[name] ?? `p.${column}`} else r.${column} end as ${column}`
      : `p.${column}`;
  });
  await knex.raw(`
    create or replace view readers_posts as
      select ${shown.join(', ')}
      from posts p
      left join readers_versions r on r.post_id = p.id and p.readers_version is not null
  `);
}
