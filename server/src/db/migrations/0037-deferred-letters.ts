import type { Knex } from 'knex';

/** Letters to single recipients may be deferred, and only what is about an address counts against it. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table letter_sends
      -- Not tried before this moment.
      add column due_at timestamptz(3) not null default now(),
      -- How often their mail server said to try later, and since when.
      add column tries integer not null default 0,
      add column deferred_since timestamptz(3),
      -- What stopped the letter when it was their turn; the same a second time, and it is given up for them.
      add column refusal text not null default '',
      -- Their mail server says that the address does not exist.
      add column address_refused boolean not null default false,
      drop constraint letter_sends_state_check,
      add constraint letter_sends_state_check
        check (state in ('waiting', 'handing', 'sent', 'unsure', 'failed', 'undelivered', 'left'));
    drop index letter_sends_open;
    create index letter_sends_open on letter_sends (letter_id, due_at, id) where state in ('waiting', 'handing');

    alter table letters
      -- Why the mail server refused us when the letter stopped, and when it was resumed.
      add column refusal text not null default '',
      add column resumed_at timestamptz(3),
      -- Tries in a row in which nothing could be sent to anybody, and since when.
      add column tries integer not null default 0,
      add column trouble_since timestamptz(3);

    -- Refusals before this moment do not count.
    alter table subscribers add column restored_at timestamptz(3);

    -- Digests of addresses that were deleted from a list, which no file puts on it again.
    alter table blogs add column erasure_salt text not null default gen_random_uuid()::text;
    create table erased_subscribers (
      blog_id integer not null references blogs on delete cascade,
      digest bytea not null,
      at timestamptz(3) not null default now(),
      primary key (blog_id, digest)
    );
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
