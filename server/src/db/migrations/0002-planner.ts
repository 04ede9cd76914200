import type { Knex } from 'knex';

export async function up(db: Knex): Promise<void> {
  await db.raw(`
    -- A slot is a recurrence now: two may share weekday and time and take turns by the week.
    alter table slots
      drop constraint slots_blog_id_weekday_time_category_id_key,
      add column format text not null default '',
      add column every_weeks smallint not null default 1 check (every_weeks between 1 and 26),
      add constraint slots_counted check (every_weeks = 1 or from_date is not null),
      add constraint slots_ends check (until_date >= from_date),
      add unique (blog_id, id);

    create table slot_exceptions (
      blog_id integer not null,
      slot_id integer not null,
      date date not null,
      moved_to date,
      moved_time text check (moved_time ~ '^([01][0-9]|2[0-3]):[0-5][0-9]$'),
      primary key (slot_id, date),
      check (moved_to is not null or moved_time is null),
      foreign key (blog_id, slot_id) references slots (blog_id, id) on delete cascade
    );

    alter table memberships add column capacity smallint check (capacity between 0 and 50);

    create table absences (
      id integer generated always as identity primary key,
      blog_id integer not null,
      person_id integer not null,
      from_date date not null,
      to_date date not null,
      note text not null default '',
      created_by integer references people,
      created_at timestamptz(3) not null default now(),
      check (to_date >= from_date),
      foreign key (blog_id, person_id) references memberships on delete cascade
    );
    create index absences_span on absences (blog_id, to_date);

    alter table posts
      add column not_before date,
      add column not_after date,
      add column must_be_on date,
      add column rating smallint check (rating between 1 and 5),
      add constraint posts_wish check (not_after >= not_before);
    create index posts_run_local on posts (blog_id, run_local) where run_local is not null;

    -- Subscription addresses. Only a digest of the secret is kept: who reads the table cannot read the calendar.
    create table calendars (
      id integer generated always as identity primary key,
      blog_id integer not null,
      person_id integer not null,
      kind text not null check (kind in ('runs', 'copy')),
      secret_sha256 text not null unique,
      made_at timestamptz(3) not null default now(),
      last_read_at timestamptz(3),
      unique (blog_id, person_id, kind),
      foreign key (blog_id, person_id) references memberships on delete cascade
    );
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
