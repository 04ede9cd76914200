import type { Knex } from 'knex';

/** Who may read what: members, passwords, links for outsiders, and serials whose parts each reader gets later. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    alter table all_posts drop constraint posts_access_check;
    alter table all_posts add constraint posts_access_check
      check (access in ('everyone', 'members', 'password', 'staff'));
    alter table all_posts add column reading_password text not null default '';
    create or replace view posts as select * from all_posts where binned_at is null;

    create table serials (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      version integer not null default 1,
      title text not null,
      intro text not null default '',
      created_at timestamptz not null default now()
    );
    create index serials_blog on serials (blog_id, title);
    create table serial_parts (
      post_id integer primary key references all_posts on delete cascade,
      serial_id integer not null references serials on delete cascade,
      position integer not null,
      days integer not null,
      hours integer not null,
      minutes integer not null,
      delayed boolean not null generated always as (days + hours + minutes > 0) stored
    );
    create index serial_parts_serial on serial_parts (serial_id, position);
    create index serial_parts_delayed on serial_parts (post_id) where delayed;
    -- How many readers came first in a minute. Nothing is kept of who they were.
    create table first_visits (
      blog_id integer not null references blogs on delete cascade,
      minute timestamptz not null,
      readers integer not null,
      primary key (blog_id, minute)
    );

    create table members (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      email text not null,
      first_visit timestamptz not null,
      joined_at timestamptz not null default now(),
      blocked boolean not null default false,
      unique (blog_id, email)
    );
    -- Links in e-mails, each for one sign-in; only a digest of what stands in the link is kept.
    create table member_links (
      digest bytea primary key,
      blog_id integer not null references blogs on delete cascade,
      email text not null,
      back text not null,
      made_at timestamptz not null default now(),
      expires_at timestamptz not null,
      used_at timestamptz
    );
    create index member_links_email on member_links (blog_id, email, made_at);
    create index member_links_expires on member_links (expires_at);
    create table member_sessions (
      digest bytea primary key,
      member_id integer not null references members on delete cascade,
      expires_at timestamptz not null
    );
    create index member_sessions_member on member_sessions (member_id);
    create index member_sessions_expires on member_sessions (expires_at);

    create table preview_links (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      post_id integer not null references all_posts on delete cascade,
      digest bytea not null unique,
      label text not null,
      person_id integer references people,
      made_at timestamptz not null default now(),
      expires_at timestamptz not null,
      opened integer not null default 0
    );
    create index preview_links_post on preview_links (post_id);
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
