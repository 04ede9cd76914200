import type { Knex } from 'knex';

const STAGES =
  "('pitch','commissioned','drafting','in review','cleared','scheduled','published','withdrawn')";

export async function up(db: Knex): Promise<void> {
  await db.raw(`
    create table secrets (
      name text primary key,
      value text not null
    );

    create table blogs (
      id integer generated always as identity primary key,
      title text not null,
      tagline text not null default '',
      zone text not null,
      first_weekday smallint not null default 1 check (first_weekday between 1 and 7),
      created_at timestamptz(3) not null default now()
    );

    create table people (
      id integer generated always as identity primary key,
      name text not null,
      email text not null unique check (email = lower(email)),
      password_hash text not null,
      active boolean not null default true,
      created_at timestamptz(3) not null default now()
    );

    create table memberships (
      blog_id integer not null references blogs on delete cascade,
      person_id integer not null references people on delete cascade,
      role text not null check (role in ('managing editor','editor','contributor','proofreader','reader')),
      primary key (blog_id, person_id)
    );

    create table categories (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      name text not null,
      slug text not null,
      hue smallint not null check (hue between 1 and 10),
      unique (blog_id, slug),
      unique (blog_id, id)
    );
    create unique index categories_name on categories (blog_id, lower(name));

    create table editor_categories (
      blog_id integer not null,
      person_id integer not null,
      category_id integer not null,
      primary key (blog_id, person_id, category_id),
      foreign key (blog_id, person_id) references memberships on delete cascade,
      foreign key (blog_id, category_id) references categories (blog_id, id) on delete cascade
    );

    create table slots (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      weekday smallint not null check (weekday between 1 and 7),
      time text not null check (time ~ '^([01][0-9]|2[0-3]):[0-5][0-9]$'),
      category_id integer not null,
      from_date date,
      until_date date,
      unique (blog_id, weekday, time, category_id),
      foreign key (blog_id, category_id) references categories (blog_id, id)
    );

    create table media (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      sha256 text not null,
      type text not null,
      width integer not null check (width > 0),
      height integer not null check (height > 0),
      bytes bytea not null,
      added_by integer references people,
      added_at timestamptz(3) not null default now(),
      unique (blog_id, sha256),
      unique (blog_id, id)
    );
    alter table media alter column bytes set storage external;

    create table posts (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      version integer not null default 1,
      stage text not null default 'pitch' check (stage in ${STAGES}),
      stage_since timestamptz(3) not null default now(),
      title text not null check (title <> ''),
      thought text not null default '',
      excerpt text not null default '',
      address text,
      category_id integer,
      second_category_id integer,
      byline_id integer references people,
      editor_id integer references people,
      proofreader_id integer references people,
      access text not null default 'everyone' check (access in ('everyone','staff')),
      body jsonb not null,
      body_text text not null default '',
      words integer not null default 0,
      lead_media_id integer,
      lead_alt text not null default '',
      run_local timestamp,
      run_zone text,
      run_at timestamptz(3),
      scheduled_at timestamptz(3),
      released_at timestamptz(3),
      brief_angle text not null default '',
      brief_length integer check (brief_length > 0),
      copy_date date,
      created_by integer references people,
      created_at timestamptz(3) not null default now(),
      updated_at timestamptz(3) not null default now(),
      search tsvector generated always as (
        setweight(to_tsvector('english', title), 'A') || setweight(to_tsvector('english', excerpt), 'B') || setweight(to_tsvector('english', left(body_text, 200000)), 'C')
      ) stored,
      unique (blog_id, address),
      unique (blog_id, id),
      foreign key (blog_id, category_id) references categories (blog_id, id),
      foreign key (blog_id, second_category_id) references categories (blog_id, id),
      foreign key (blog_id, lead_media_id) references media (blog_id, id),
      check ((run_local is null) = (run_at is null) and (run_local is null) = (run_zone is null)),
      check (stage not in ('scheduled','published') or (run_at is not null and address is not null and byline_id is not null)),
      check (stage <> 'published' or released_at is not null)
    );
    create index posts_run on posts (blog_id, run_at desc nulls last, id desc);
    create index posts_stage on posts (blog_id, stage, run_at desc, id desc);
    create index posts_due on posts (run_at) where stage = 'scheduled';
    create index posts_search on posts using gin (search);
    create index posts_byline on posts (blog_id, byline_id);
    create index posts_category on posts (blog_id, category_id, run_at desc, id desc);

    create table post_coauthors (
      blog_id integer not null,
      post_id integer not null,
      person_id integer not null references people,
      primary key (post_id, person_id),
      foreign key (blog_id, post_id) references posts (blog_id, id) on delete cascade
    );

    -- Every version a post ever had. A body is kept only where it changed; it holds until the next one.
    create table post_versions (
      blog_id integer not null,
      post_id integer not null,
      version integer not null,
      person_id integer references people,
      at timestamptz(3) not null default now(),
      changed text[] not null,
      fields jsonb not null,
      body jsonb,
      primary key (post_id, version),
      foreign key (blog_id, post_id) references posts (blog_id, id) on delete cascade
    );

    create table stage_moves (
      id integer generated always as identity primary key,
      blog_id integer not null,
      post_id integer not null,
      from_stage text not null check (from_stage in ${STAGES}),
      to_stage text not null check (to_stage in ${STAGES}),
      person_id integer references people,
      note text not null default '',
      at timestamptz(3) not null default now(),
      foreign key (blog_id, post_id) references posts (blog_id, id) on delete cascade
    );
    create index stage_moves_post on stage_moves (post_id, id desc);

    create table notes (
      id integer generated always as identity primary key,
      blog_id integer not null,
      post_id integer not null,
      parent_id integer references notes on delete cascade,
      person_id integer not null references people,
      text text not null check (text <> ''),
      passage jsonb,
      at timestamptz(3) not null default now(),
      settled_at timestamptz(3),
      settled_by integer references people,
      foreign key (blog_id, post_id) references posts (blog_id, id) on delete cascade
    );
    create index notes_post on notes (post_id, id);

    create table release_log (
      id integer generated always as identity primary key,
      blog_id integer not null,
      post_id integer not null,
      planned_local timestamp not null,
      planned_at timestamptz(3) not null,
      due_at timestamptz(3) not null,
      released_at timestamptz(3) not null,
      backdated boolean not null,
      -- One post can be due at one moment only once, so a release can never be logged twice.
      unique (post_id, due_at),
      foreign key (blog_id, post_id) references posts (blog_id, id) on delete cascade
    );
    create index release_log_at on release_log (blog_id, released_at desc);

    create table events (
      id bigint generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      kind text not null,
      post_id integer,
      version integer,
      person_id integer,
      at timestamptz(3) not null default now()
    );
    create function tell_event() returns trigger language plpgsql as $$
    begin
      perform pg_notify('key_roster', json_build_object(
        'id', new.id, 'blogId', new.blog_id, 'kind', new.kind, 'postId', new.post_id, 'version', new.version, 'personId', new.person_id)::text);
      return null;
    end $$;
    create trigger events_tell after insert on events for each row execute function tell_event();

    create table demo_people (
      person_id integer primary key references people on delete cascade,
      password text not null
    );

    create table session (
      sid varchar primary key,
      sess json not null,
      expire timestamp(6) not null
    );
    create index session_expire on session (expire);
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
