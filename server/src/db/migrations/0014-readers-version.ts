import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- The version that readers see while a post that is out is worked on; null where they see it as it is.
    alter table all_posts add column readers_version integer;
    create or replace view posts as select * from all_posts where binned_at is null;

    -- What readers see of such a post: every field that waits for its update, as it was in that version.
    create table readers_versions (
      post_id integer primary key references all_posts on delete cascade,
      blog_id integer not null references blogs on delete cascade,
      version integer not null,
      updated_at timestamptz(3) not null,
      title text not null,
      excerpt text not null,
      subtitle text not null,
      slug text,
      body jsonb not null,
      words integer not null,
      category_id integer,
      second_category_id integer,
      tag_ids integer[] not null,
      byline_id integer,
      coauthor_ids integer[] not null,
      lead_media_id integer,
      lead_alt text not null,
      share_media_id integer,
      format_id integer,
      format_values jsonb not null,
      search_title text not null,
      search_description text not null,
      source_url text not null,
      title_links boolean not null,
      place text not null,
      comment_call text not null,
      -- What of the library they show.
      media_ids integer[] not null default '{}',
      file_ids integer[] not null default '{}'
    );
    create index readers_versions_slug on readers_versions (blog_id, slug);

    -- Posts as readers see them. Who may see them at all is asked of the row, which has no version of its own for that.
    create view readers_posts as
      select
        id, blog_id, stage, access, run_at, run_local, spotlight_from, spotlight_until, readers_version,
        updated_at, title, excerpt, subtitle, slug, body, words, category_id, second_category_id, byline_id,
        lead_media_id, lead_alt, share_media_id, format_id, format_values, search_title, search_description,
        source_url, title_links, place, comment_call,
        array(select t.tag_id from post_tags t where t.post_id = posts.id) as tag_ids,
        array(select c.person_id from post_coauthors c where c.post_id = posts.id) as coauthor_ids
      from posts
      where readers_version is null
      union all
      select
        p.id, p.blog_id, p.stage, p.access, p.run_at, p.run_local, p.spotlight_from, p.spotlight_until,
        p.readers_version, r.updated_at, r.title, r.excerpt, r.subtitle, r.slug, r.body, r.words, r.category_id,
        r.second_category_id, r.byline_id, r.lead_media_id, r.lead_alt, r.share_media_id, r.format_id,
        r.format_values, r.search_title, r.search_description, r.source_url, r.title_links, r.place,
        r.comment_call, r.tag_ids, r.coauthor_ids
      from posts p
      join readers_versions r on r.post_id = p.id
      where p.readers_version is not null;

    -- Pictures by the posts that use them, at the desk or before readers.
    create view all_media_uses as
      select blog_id, post_id, media_id, how from media_uses
      union all
      select r.blog_id, r.post_id, m.id, 'readers'
      from readers_versions r, unnest(r.media_ids) as m (id)
      where not exists (select 1 from media_uses u where u.media_id = m.id and u.post_id = r.post_id);
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
