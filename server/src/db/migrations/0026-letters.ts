import type { Knex } from 'knex';

/** The newsletter: who gets it, and letters with what became of each. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table subscribers (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      email text not null check (email = lower(email)),
      name text not null default '',
      state text not null check (state in ('asked', 'active', 'left', 'bounced')),
      how text not null check (how in ('form', 'import', 'newsroom')),
      -- By which they confirm and leave; it stands in every letter to them.
      key uuid not null unique default gen_random_uuid(),
      -- Under which post they signed up.
      post_id integer references all_posts on delete set null,
      asked_at timestamptz(3) not null default now(),
      -- Letters that asked to confirm, within a day of the newest.
      asked_letters integer not null default 0,
      asked_letter_at timestamptz(3),
      confirmed_at timestamptz(3),
      left_at timestamptz(3),
      -- Letters in a row that did not get through.
      bounces integer not null default 0,
      bounce_said text not null default '',
      unique (blog_id, email)
    );
    create index subscribers_state on subscribers (blog_id, state, id);
    create index subscribers_post on subscribers (post_id) where post_id is not null;
    -- Whoever signed up before was told to be on the list.
    insert into subscribers (blog_id, email, state, how, post_id, asked_at, confirmed_at)
      select blog_id, email, 'active', 'form', post_id, at, at from letter_readers order by at;
    drop table letter_readers;

    create table letters (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      version integer not null default 1,
      subject text not null,
      intro text not null default '',
      -- Does it carry posts with their whole text?
      whole boolean not null default false,
      state text not null default 'draft' check (state in ('draft', 'sending', 'stopped', 'sent')),
      -- Of a post that mailed itself when it was released: once, whatever becomes of the post.
      released_post_id integer unique references all_posts on delete set null,
      -- Why it stands as it does, where nobody decided so.
      note text not null default '',
      -- As it was built when sending began: subject, html, text and links.
      content jsonb,
      made_by integer references people,
      made_at timestamptz(3) not null default now(),
      sent_by integer references people,
      begun_at timestamptz(3),
      ended_at timestamptz(3),
      unique (blog_id, id)
    );
    create index letters_of on letters (blog_id, id desc);
    create index letters_sending on letters (id) where state = 'sending';

    create table letter_posts (
      letter_id integer not null references letters on delete cascade,
      post_id integer not null references all_posts on delete cascade,
      position integer not null,
      primary key (letter_id, post_id)
    );
    create index letter_posts_post on letter_posts (post_id);

    -- A letter to one subscriber. A row that is being handed over says so before a word is sent.
    create table letter_sends (
      id bigint generated always as identity primary key,
      letter_id integer not null references letters on delete cascade,
      subscriber_id integer references subscribers on delete set null,
      key uuid not null unique default gen_random_uuid(),
      state text not null default 'waiting' check (state in ('waiting', 'handing', 'sent', 'unsure', 'failed', 'left')),
      fault text not null default '',
      bounced boolean not null default false,
      unsubscribed boolean not null default false,
      opened_at timestamptz(3),
      at timestamptz(3),
      unique (letter_id, subscriber_id)
    );
    create index letter_sends_open on letter_sends (letter_id, id) where state in ('waiting', 'handing');
    create index letter_sends_subscriber on letter_sends (subscriber_id);

    -- Clicks on the links of a letter, as many as there were; counted where the blog allows it.
    create table letter_clicks (
      letter_id integer not null references letters on delete cascade,
      link integer not null,
      clicks integer not null default 0,
      primary key (letter_id, link)
    );

    -- Goes to all subscribers when it is released.
    alter table all_posts add column mail_at_release boolean not null default false;
    create or replace view posts as select * from all_posts where binned_at is null;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
