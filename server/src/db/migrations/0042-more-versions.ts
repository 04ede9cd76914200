import type { Knex } from 'knex';

/** What people change one at a time beside what migration 0041 counts, and the columns that are theirs to change. */
const COUNTED: Readonly<Record<string, string>> = {
  blogs:
    'title, tagline, zone, first_weekday, checks, bin_days, host, path, site, menu, panels, look, around',
  campaigns: 'name, about, from_date, until_date',
  rollout_patterns: 'name, stops, format_id, category_id, campaign_id, by_itself',
  serials: 'title, intro',
  specials: 'title, intro, slug, host, look, cover_media_id, cover_alt, published_at',
  letters: 'subject, intro, whole',
};

/** Raises the version of these as well, whoever writes them. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw('alter table blogs rename column site_version to version');
  for (const [table, columns] of Object.entries(COUNTED))
    await knex.raw(`
      create trigger ${table}_version before update of ${columns} on ${table}
        for each row execute function raise_version()
    `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
