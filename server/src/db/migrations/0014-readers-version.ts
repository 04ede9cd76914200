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
    -- By a join to the few that wait, so that a list of the newest ends when it has enough of them.
    create view readers_posts as
      select
        p.id, p.blog_id, p.stage, p.access, p.run_at, p.run_local, p.spotlight_from, p.spotlight_until,
        p.readers_version,
        case when r.post_id is null then p.updated_at else r.updated_at end as updated_at,
        case when r.post_id is null then p.title else r.title end as title,
        case when r.post_id is null then p.excerpt else r.excerpt end as excerpt,
        case when r.post_id is null then p.subtitle else r.subtitle end as subtitle,
        case when r.post_id is null then p.slug else r.slug end as slug,
        case when r.post_id is null then p.body else r.body end as body,
        case when r.post_id is null then p.words else r.words end as words,
        case when r.post_id is null then p.category_id else r.category_id end as category_id,
        case when r.post_id is null then p.second_category_id else r.second_category_id end as second_category_id,
        case when r.post_id is null then p.byline_id else r.byline_id end as byline_id,
        case when r.post_id is null then p.lead_media_id else r.lead_media_id end as lead_media_id,
        case when r.post_id is null then p.lead_alt else r.lead_alt end as lead_alt,
        case when r.post_id is null then p.share_media_id else r.share_media_id end as share_media_id,
        case when r.post_id is null then p.format_id else r.format_id end as format_id,
        case when r.post_id is null then p.format_values else r.format_values end as format_values,
        case when r.post_id is null then p.search_title else r.search_title end as search_title,
        case when r.post_id is null then p.search_description else r.search_description end as search_description,
        case when r.post_id is null then p.source_url else r.source_url end as source_url,
        case when r.post_id is null then p.title_links else r.title_links end as title_links,
        case when r.post_id is null then p.place else r.place end as place,
        case when r.post_id is null then p.comment_call else r.comment_call end as comment_call,
        case
          when r.post_id is null then array(select t.tag_id from post_tags t where t.post_id = p.id)
          else r.tag_ids
        end as tag_ids,
        case
          when r.post_id is null then array(select c.person_id from post_coauthors c where c.post_id = p.id)
          else r.coauthor_ids
        end as coauthor_ids
      from posts p
      left join readers_versions r on r.post_id = p.id and p.readers_version is not null;

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
