import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- The bin. \`posts\` is from now on what does not lie in it, so that nothing that reads posts can forget to look:
    -- readers' pages, planner, release and lists see a binned post no more than if it were gone. Its row keeps its
    -- address, versions, notes and uses of pictures, and only what is about the bin reads \`all_posts\`.
    alter table posts rename to all_posts;
    alter table all_posts
      add column binned_at timestamptz(3),
      add column binned_by integer references people,
      add column spotlight_from date,
      add column spotlight_until date,
      -- Keys of the checks that block or warn, as last measured.
      add column check_failing text[] not null default '{}',
      add check ((spotlight_from is null) = (spotlight_until is null) and (spotlight_from is null or spotlight_from <= spotlight_until));
    create view posts as select * from all_posts where binned_at is null;
    create index posts_binned on all_posts (blog_id, binned_at desc) where binned_at is not null;
    create index posts_spotlight on all_posts (blog_id, spotlight_until) where spotlight_until is not null;
    create index posts_title on all_posts (blog_id, lower(title), id);
    create index posts_updated on all_posts (blog_id, updated_at desc, id desc);
    create index posts_words on all_posts (blog_id, words desc, id desc);
    create index post_versions_person on post_versions (blog_id, person_id, post_id);

    -- Filters kept under a name; shared ones are everybody's to use.
    create table kept_filters (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      person_id integer not null references people,
      name text not null check (name <> ''),
      line text not null,
      sort text not null default '',
      shared boolean not null default false,
      unique (blog_id, person_id, name)
    );

    -- A batch: what it changes, and post by post the values before and after. Frozen when it is previewed.
    create table batches (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      person_id integer not null references people,
      -- previewed, waiting (applied as soon as a job comes to it), applied, failed
      state text not null default 'previewed' check (state in ('previewed','waiting','applied','failed')),
      changes jsonb not null,
      sentence text not null,
      line text not null default '',
      -- The batch that this one takes back.
      takes_back integer references batches,
      changed integer not null default 0,
      done integer not null default 0,
      fault text not null default '',
      made_at timestamptz(3) not null default now(),
      applied_at timestamptz(3),
      unique (blog_id, id)
    );
    create index batches_log on batches (blog_id, applied_at desc) where state = 'applied';
    create index batches_waiting on batches (id) where state = 'waiting';
    create table batch_items (
      batch_id integer not null references batches on delete cascade,
      post_id integer not null references all_posts on delete cascade,
      at integer not null,
      version integer not null,
      state text not null check (state in ('changes','same','refused','left')),
      sentence text not null default '',
      before jsonb not null,
      after jsonb not null,
      primary key (batch_id, post_id)
    );
    create index batch_items_at on batch_items (batch_id, state, at);
    create index batch_items_post on batch_items (post_id, batch_id);

    -- Who has which post open, told by the open page now and then.
    create unlogged table open_posts (
      post_id integer not null,
      person_id integer not null references people on delete cascade,
      seen_at timestamptz not null default now(),
      primary key (post_id, person_id)
    );

    -- Pages of categories and tags that were merged into others: they lead there for good.
    create table old_pages (
      blog_id integer not null references blogs on delete cascade,
      kind text not null check (kind in ('category','tag')),
      slug text not null,
      target_id integer not null,
      primary key (blog_id, kind, slug)
    );

    -- Days after which the bin empties itself; never while it is null.
    alter table blogs add column bin_days integer check (bin_days between 1 and 3650);
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
