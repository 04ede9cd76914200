import type { Knex } from 'knex';

/** Posts that not everybody may read, for the order by access: each kind of them is found without looking at all. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create index posts_guarded on all_posts (blog_id, access, run_at desc nulls last, id desc)
    where
      access <> 'everyone';
    drop index posts_staff;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
