import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- The switch that stops all sending of a blog, and who threw it.
    alter table blogs add column sending_stopped_at timestamptz(3), add column sending_stopped_by integer references people;

    -- Places that pieces are sent to.
    create table outlets (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      name text not null check (name <> ''),
      slug text not null,
      kind text not null,
      protocol text not null check (protocol in ('micropub','mail','feed','webhook')),
      -- Where it takes pieces: an endpoint, a list's address, a hub.
      address text not null default '',
      -- What the protocol needs beside: mail server and sender.
      settings jsonb not null default '{}',
      limits jsonb not null,
      voice text not null default '',
      -- Sealed with AES-256-GCM; null when none are kept.
      credentials bytea,
      -- Does it know a piece again by its key, so that sending it again does no harm?
      knows_keys boolean not null default false,
      paused_at timestamptz(3),
      closed_at timestamptz(3),
      -- After failures in a row nothing is tried until then.
      failures integer not null default 0,
      resting_until timestamptz(3),
      version integer not null default 1,
      unique (blog_id, slug),
      unique (blog_id, id)
    );
    create unique index outlets_name on outlets (blog_id, lower(name));

    create table rollout_patterns (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      name text not null check (name <> ''),
      stops jsonb not null,
      format_id integer,
      category_id integer,
      unique (blog_id, name),
      foreign key (blog_id, format_id) references formats (blog_id, id) on delete set null (format_id),
      foreign key (blog_id, category_id) references categories (blog_id, id) on delete set null (category_id)
    );

    -- Spin-offs. What the engine made, or a person wrote over it, for one outlet.
    create table pieces (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      post_id integer not null,
      outlet_id integer not null,
      kind text not null,
      instruction text not null default '',
      style text not null default 'gate',
      shape text not null default 'square',
      -- Other posts of a digest.
      other_ids integer[] not null default '{}',
      subject text not null default '',
      parts text[] not null,
      words text not null default '',
      alt text not null default '',
      tags text[] not null default '{}',
      remarks text[] not null default '{}',
      -- Sentences of the post it is built from, by index, at this version of the post.
      used integer[] not null default '{}',
      source_version integer not null,
      -- A person's words: rebuilding asks first.
      edited boolean not null default false,
      timing jsonb not null,
      -- When it is due by the release of its post; null while there is none.
      due_local timestamp(0),
      due_at timestamptz(3),
      version integer not null default 1,
      made_by integer references people,
      made_at timestamptz(3) not null default now(),
      unique (blog_id, id),
      foreign key (blog_id, post_id) references all_posts (blog_id, id) on delete cascade,
      foreign key (blog_id, outlet_id) references outlets (blog_id, id)
    );
    create index pieces_post on pieces (post_id);
    create index pieces_outlet on pieces (outlet_id, due_at);

    -- Earlier versions of a piece.
    create table piece_versions (
      piece_id integer not null references pieces on delete cascade,
      version integer not null,
      at timestamptz(3) not null default now(),
      person_id integer references people,
      content jsonb not null,
      primary key (piece_id, version)
    );

    -- The outbox: a piece that was approved, and what became of it. The key is what an outlet can know it again by.
    create table sends (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      piece_id integer not null unique,
      outlet_id integer not null,
      key uuid not null default gen_random_uuid(),
      state text not null default 'waiting' check (state in ('waiting','sending','sent','unsure','failed','stopped')),
      due_at timestamptz(3),
      -- Not before, after a failure or for the outlet's pace.
      next_at timestamptz(3),
      attempts integer not null default 0,
      claimed_at timestamptz(3),
      -- Parts of a thread that are out, by their addresses; pictures that the outlet has.
      steps jsonb not null default '{}',
      url text not null default '',
      fault text not null default '',
      approved_by integer references people,
      approved_at timestamptz(3) not null default now(),
      sent_at timestamptz(3),
      unique (blog_id, id),
      foreign key (blog_id, piece_id) references pieces (blog_id, id) on delete cascade,
      foreign key (blog_id, outlet_id) references outlets (blog_id, id)
    );
    create index sends_log on sends (blog_id, id desc);
    create index sends_due on sends (due_at) where state = 'waiting';
    create index sends_sending on sends (outlet_id, claimed_at) where state = 'sending';
    create index sends_sent on sends (outlet_id, sent_at) where state = 'sent';

    create table send_attempts (
      id bigint generated always as identity primary key,
      send_id integer not null references sends on delete cascade,
      began_at timestamptz(3) not null default clock_timestamp(),
      ended_at timestamptz(3),
      outcome text not null default 'begun',
      sentence text not null default ''
    );
    create index send_attempts_send on send_attempts (send_id);
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
