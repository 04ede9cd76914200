import type { Knex } from 'knex';

/** What came of posts and pieces: figures of outlets, a day each, and how often posts were read on a day. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create index post_reads_day on post_reads (day) include (post_id, reads);

    -- What an outlet says of a piece, as it stood on a day; it only ever grows.
    create table piece_figures (
      send_id integer not null references sends on delete cascade,
      day date not null,
      seen integer not null,
      passed_on integer not null,
      replies integer not null,
      clicks integer not null,
      primary key (send_id, day)
    );
    -- When the outlet was asked last.
    alter table sends add column figures_at timestamptz(3);
    create index sends_figures on sends (figures_at nulls first) where state = 'sent' and url <> '';
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
