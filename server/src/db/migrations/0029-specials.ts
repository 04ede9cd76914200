import type { Knex } from 'knex';

/** Specials: small sites of their own, built from chosen posts. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table specials (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      version integer not null default 1,
      title text not null check (title <> ''),
      intro text not null default '',
      slug text not null,
      -- Of its own; without one it stands under the blog's address.
      host text unique,
      look jsonb not null,
      cover_media_id integer references media on delete set null,
      cover_alt text not null default '',
      -- Null: readers do not see it.
      published_at timestamptz(3),
      unique (blog_id, slug)
    );
    create index specials_cover on specials (cover_media_id) where cover_media_id is not null;

    create table special_posts (
      special_id integer not null references specials on delete cascade,
      post_id integer not null references all_posts on delete cascade,
      position integer not null,
      primary key (special_id, post_id)
    );
    create index special_posts_of on special_posts (post_id);
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
