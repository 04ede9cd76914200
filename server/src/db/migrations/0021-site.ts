import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- Where each blog of the newsroom stands, and what its editor decided about its pages.
    alter table blogs
      add column host text check (host = lower(host) and host <> ''),
      add column path text not null default '' check (path ~ '^(/[a-z0-9]+(-[a-z0-9]+)*){0,1}$'),
      add column site jsonb not null default '{}',
      add column menu jsonb,
      add column panels jsonb not null default '[]',
      add column look jsonb not null default '{}',
      add column around jsonb,
      add column site_version integer not null default 1,
      -- Posts and their mean length when terms were last counted.
      add column corpus_posts integer not null default 0,
      add column corpus_length real not null default 0;
    create unique index blogs_place on blogs (coalesce(host, ''), path);

    -- Looks that readers saw, each from when on.
    create table looks (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      look jsonb not null,
      person_id integer references people,
      at timestamptz(3) not null default clock_timestamp()
    );
    create index looks_of on looks (blog_id, id desc);

    -- Kept out of search engines; counts at once.
    alter table all_posts add column in_search boolean not null default true;
    -- Which version of it readers saw when a post was related; null: not yet.
    alter table all_posts add column related_version integer;
    create or replace view posts as select * from all_posts where binned_at is null;
    -- What readers search of a post whose update waits: the words they see.
    alter table readers_versions add column search tsvector generated always as (
      setweight(to_tsvector('english', title), 'A') || setweight(to_tsvector('english', excerpt), 'B') ||
      setweight(
        jsonb_to_tsvector('english', jsonb_path_query_array(body, 'strict $.**.text'), '["string"]'), 'C'
      )
    ) stored;
    create or replace view readers_posts as
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
        end as coauthor_ids,
        p.in_search,
        p.related_version,
        case when r.post_id is null then p.search else r.search end as search
      from posts p
      left join readers_versions r on r.post_id = p.id and p.readers_version is not null;

    -- The address of a person's own page on a blog: made of the name once, and kept.
    alter table memberships add column slug text;
    create unique index memberships_slug on memberships (blog_id, slug);
    create function slug_for_member(in_blog integer, of_person integer) returns text language sql as $$
      select
        case
          when plain = '' then 'writer-' || of_person
          when exists (select 1 from memberships where blog_id = in_blog and slug = plain)
            then plain || '-' || of_person
          else plain
        end
      from (
        select left(trim(both '-' from regexp_replace(
          lower(regexp_replace(normalize(name, NFKD), '[\\u0300-\\u036f]', '', 'g')), '[^a-z0-9]+', '-', 'g'
        )), 60) as plain
        from people where id = of_person
      ) n
    $$;
    create function give_member_slug() returns trigger language plpgsql as $$
      begin
        new.slug := slug_for_member(new.blog_id, new.person_id);
        return new;
      end
    $$;
    create trigger member_slug before insert on memberships for each row when (new.slug is null)
      execute function give_member_slug();
    do $$
      declare
        m record;
      begin
        for m in select blog_id, person_id from memberships order by 1, 2 loop
          update memberships set slug = slug_for_member(m.blog_id, m.person_id)
          where blog_id = m.blog_id and person_id = m.person_id;
        end loop;
      end
    $$;

    -- The telling terms of what readers see of a post, heaviest first, weights of length 1 together.
    create table post_terms (
      post_id integer not null references all_posts on delete cascade,
      blog_id integer not null references blogs on delete cascade,
      at smallint not null,
      term text not null,
      weight real not null,
      primary key (post_id, term)
    );
    create index post_terms_term on post_terms (blog_id, term, post_id) include (weight);
    -- In how many posts each term comes; reckoned anew from time to time.
    create table term_posts (
      blog_id integer not null references blogs on delete cascade,
      term text not null,
      posts integer not null,
      primary key (blog_id, term)
    );
    create table related_posts (
      post_id integer not null references all_posts on delete cascade,
      other_id integer not null references all_posts on delete cascade,
      likeness real not null,
      primary key (post_id, other_id)
    );
    create index related_posts_other on related_posts (other_id);
    create index posts_unrelated on all_posts (blog_id, id)
      where stage = 'published' and related_version is null;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
