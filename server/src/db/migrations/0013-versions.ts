import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- What somebody called a version, and the version that was restored with it.
    alter table post_versions add column name text not null default '';
    alter table post_versions add column restored integer;

    -- Up to which version somebody has read a post: now, and when they had it open the time before.
    create table read_versions (
      post_id integer not null references all_posts on delete cascade,
      person_id integer not null references people on delete cascade,
      version integer not null,
      before_version integer,
      seen_at timestamptz(3) not null default clock_timestamp(),
      primary key (post_id, person_id)
    );
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
