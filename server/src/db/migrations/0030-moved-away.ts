import type { Knex } from 'knex';

/** Addresses of posts that moved to another blog of the newsroom, which lead to where they are now. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table moved_away (
      blog_id integer not null references blogs on delete cascade,
      slug text not null,
      post_id integer not null references all_posts on delete cascade,
      primary key (blog_id, slug)
    );
    create index moved_away_post on moved_away (post_id);
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
