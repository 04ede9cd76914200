import type { Knex } from 'knex';

/** What readers say under posts, what other sites say of them, and who let it stand. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table comments (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      post_id integer not null references all_posts on delete cascade,
      -- Threads are one deep: an answer has the comment that it answers, which answers none.
      parent_id integer references comments on delete cascade,
      kind text not null default 'comment' check (kind in ('comment', 'mention')),
      state text not null check (state in ('held', 'approved', 'refused', 'spam')),
      name text not null,
      email text not null default '',
      text text not null,
      -- Of staff, who it is; of a member, which one.
      person_id integer references people,
      member_id integer references members on delete set null,
      -- By which somebody is known again; only a digest of what their browser keeps.
      author_key bytea,
      spam real not null default 0,
      -- Of a mention: the page that links to the post.
      source text,
      at timestamptz not null default now(),
      told_at timestamptz
    );
    create unique index comments_source on comments (post_id, source) where source is not null;
    create index comments_state on comments (blog_id, state, id desc);
    create index comments_newest on comments (blog_id, id desc);
    create index comments_post on comments (post_id, state, id);
    create index comments_author on comments (blog_id, author_key) where author_key is not null;
    create index comments_member on comments (member_id) where member_id is not null;
    create index comments_parent on comments (parent_id) where parent_id is not null;
    create index comments_untold on comments (post_id) where told_at is null;

    -- Moves of comments, so that they can be undone: what each was before.
    create table comment_moves (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      person_id integer not null references people,
      state text not null,
      items jsonb not null,
      at timestamptz not null default now(),
      undone_at timestamptz
    );
    create index comment_moves_blog on comment_moves (blog_id, id desc);

    alter table people add column mail_comments boolean not null default true;

    -- Mentions of other pages that were sent: where to, and what came of it.
    create table mentions_sent (
      post_id integer not null references all_posts on delete cascade,
      target text not null,
      endpoint text,
      status text not null,
      at timestamptz not null default now(),
      primary key (post_id, target)
    );
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
