import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- The document of a text that several people write in together. It is made when the text is first opened, and
    -- never anew: two documents of one text would join to the text twice.
    create table shared_texts (
      post_id integer primary key references all_posts on delete cascade,
      -- Everything up to an update, as one update.
      state bytea not null,
      state_id bigint not null default 0,
      -- The last update that the post's row has taken in.
      stored_id bigint not null default 0
    );
    -- What came after the state, in the order in which it was let in: ids of one text grow as they are committed,
    -- since whoever adds one holds the row of its text.
    create table shared_text_updates (
      id bigint generated always as identity primary key,
      post_id integer not null references shared_texts on delete cascade,
      person_id integer references people on delete set null,
      content bytea not null,
      -- Made from a change of the post's row (a batch, an import, a restore), which has it already.
      from_post boolean not null default false,
      added_at timestamptz(3) not null default clock_timestamp()
    );
    create index shared_text_updates_post on shared_text_updates (post_id, id);
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
