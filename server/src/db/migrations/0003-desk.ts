import type { Knex } from 'knex';

export async function up(db: Knex): Promise<void> {
  await db.raw(`
    alter table blogs
      add column home text not null default '',
      add column checks jsonb not null default '{}',
      add column title_aim smallint not null default 30 check (title_aim between 1 and 99);

    create table formats (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      name text not null check (name <> ''),
      hint text not null default '',
      fields jsonb not null default '[]',
      starter jsonb not null,
      retired boolean not null default false,
      unique (blog_id, id)
    );
    create unique index formats_name on formats (blog_id, lower(name));

    create table templates (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      name text not null check (name <> ''),
      body jsonb not null,
      made_by integer references people,
      at timestamptz(3) not null default now()
    );
    create unique index templates_name on templates (blog_id, lower(name));

    create table tags (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      name text not null check (name <> ''),
      slug text not null,
      unique (blog_id, slug),
      unique (blog_id, id)
    );
    create unique index tags_name on tags (blog_id, lower(name));

    create table post_tags (
      blog_id integer not null,
      post_id integer not null,
      tag_id integer not null,
      primary key (post_id, tag_id),
      foreign key (blog_id, post_id) references posts (blog_id, id) on delete cascade,
      foreign key (blog_id, tag_id) references tags (blog_id, id) on delete cascade
    );
    create index post_tags_tag on post_tags (tag_id);

    -- Addresses that a published post once had: they lead to it for good.
    create table old_addresses (
      blog_id integer not null references blogs on delete cascade,
      address text not null,
      post_id integer not null,
      at timestamptz(3) not null default now(),
      primary key (blog_id, address),
      foreign key (blog_id, post_id) references posts (blog_id, id) on delete cascade
    );

    alter table media
      add column name text not null default '',
      add column alt text not null default '',
      add column caption text not null default '',
      add column credit text not null default '',
      add column licence text not null default '',
      add column source text not null default '',
      add column tags text[] not null default '{}',
      add column focus_x real not null default 0.5 check (focus_x between 0 and 1),
      add column focus_y real not null default 0.5 check (focus_y between 0 and 1),
      add column size integer not null generated always as (octet_length(bytes)) stored,
      add column made_from_id integer references media,
      add column binned_at timestamptz(3),
      add column sizes_at timestamptz(3);
    create function media_words(name text, alt text, caption text, credit text, tags text[]) returns tsvector language sql immutable as
      $$ select to_tsvector('english'::regconfig, name || ' ' || alt || ' ' || caption || ' ' || credit || ' ' || coalesce(array_to_string(tags, ' '), '')) $$;
    alter table media add column search tsvector generated always as (media_words(name, alt, caption, credit, tags)) stored;
    create index media_search on media using gin (search);
    create index media_tags on media using gin (tags);

    -- Smaller copies and cut shapes, made once and served as they are.
    create table media_sizes (
      media_id integer not null references media on delete cascade,
      kind text not null,
      type text not null,
      width integer not null,
      height integer not null,
      bytes bytea not null,
      primary key (media_id, kind)
    );
    alter table media_sizes alter column bytes set storage external;

    -- Where a picture is used; kept with every change of a post.
    create table media_uses (
      blog_id integer not null,
      post_id integer not null,
      media_id integer not null,
      how text not null check (how in ('text','lead','share')),
      primary key (media_id, post_id, how),
      foreign key (blog_id, post_id) references posts (blog_id, id) on delete cascade,
      foreign key (blog_id, media_id) references media (blog_id, id)
    );
    create index media_uses_post on media_uses (post_id);

    create table files (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      sha256 text not null,
      type text not null,
      name text not null default '',
      size integer not null,
      bytes bytea not null,
      added_by integer references people,
      added_at timestamptz(3) not null default now(),
      unique (blog_id, sha256),
      unique (blog_id, id)
    );
    alter table files alter column bytes set storage external;

    create table file_uses (
      blog_id integer not null,
      post_id integer not null,
      file_id integer not null,
      primary key (file_id, post_id),
      foreign key (blog_id, post_id) references posts (blog_id, id) on delete cascade,
      foreign key (blog_id, file_id) references files (blog_id, id)
    );
    create index file_uses_post on file_uses (post_id);

    alter table posts
      add column subtitle text not null default '',
      add column format_id integer,
      add column format_values jsonb not null default '{}',
      add column share_media_id integer,
      add column search_title text not null default '',
      add column search_description text not null default '',
      add column source_url text not null default '',
      add column title_links boolean not null default false,
      add column place text not null default '',
      add column comments boolean not null default true,
      add column comment_call text not null default '',
      add column campaign text not null default '',
      add column copied_from_id integer,
      add column check_blocks smallint not null default 0,
      add column check_warns smallint not null default 0,
      add column alike_id integer,
      add column alike_share real,
      add column measured_version integer,
      add foreign key (blog_id, format_id) references formats (blog_id, id),
      add foreign key (blog_id, share_media_id) references media (blog_id, id),
      add foreign key (copied_from_id) references posts (id) on delete set null;
    -- What the checks said of a post when it went out.
    alter table release_log add column check_blocks smallint, add column check_warns smallint;
    create index posts_campaign on posts (blog_id, campaign) where campaign <> '';
    create index posts_unmeasured on posts (id) where measured_version is null;

    -- MinHash signatures of the posts' texts, and the keys of their bands.
    create table post_signatures (
      post_id integer primary key references posts on delete cascade,
      blog_id integer not null,
      signature integer[] not null
    );
    create table post_bands (
      blog_id integer not null,
      band smallint not null,
      key integer not null,
      post_id integer not null references posts on delete cascade,
      primary key (blog_id, band, key, post_id)
    );
    create index post_bands_post on post_bands (post_id);

    create table title_trials (
      id integer generated always as identity primary key,
      blog_id integer not null,
      post_id integer not null,
      title text not null check (title <> ''),
      person_id integer not null references people,
      at timestamptz(3) not null default now(),
      unique (post_id, title),
      foreign key (blog_id, post_id) references posts (blog_id, id) on delete cascade
    );

    -- How often a post's page was read, by day; counted without telling readers apart.
    create table post_reads (
      post_id integer not null references posts on delete cascade,
      day date not null,
      reads integer not null check (reads > 0),
      primary key (post_id, day)
    );

    create table letter_readers (
      blog_id integer not null references blogs on delete cascade,
      email text not null check (email = lower(email)),
      post_id integer references posts on delete set null,
      at timestamptz(3) not null default now(),
      primary key (blog_id, email)
    );

    insert into media_uses (blog_id, post_id, media_id, how) select blog_id, id, lead_media_id, 'lead' from posts where lead_media_id is not null;
    insert into media_uses (blog_id, post_id, media_id, how)
      select distinct p.blog_id, p.id, m.id, 'text' from posts p, jsonb_path_query(p.body, '$.**.media') v join media m on m.id = (v #>> '{}')::int
      where m.blog_id = p.blog_id and jsonb_typeof(v) = 'number'
      on conflict do nothing;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
