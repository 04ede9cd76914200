import type { Knex } from 'knex';

/** What versions called the fields that changed, and what the fields are called. */
const RENAMED: Record<string, string> = {
  address: 'slug',
  category_id: 'categoryId',
  second_category_id: 'secondCategoryId',
  byline_id: 'bylineId',
  coauthors: 'coauthorIds',
  editor_id: 'editorId',
  proofreader_id: 'proofreaderId',
  tags: 'tagIds',
  lead_media_id: 'leadPicture',
  lead_alt: 'leadPicture',
  share_media_id: 'sharePicture',
  format_id: 'formatId',
  format_values: 'formatValues',
  search_title: 'searchTitle',
  search_description: 'searchDescription',
  source_url: 'sourceUrl',
  title_links: 'titleLinks',
  comment_call: 'commentCall',
  spotlight_from: 'spotlight',
  spotlight_until: 'spotlight',
  brief_angle: 'brief',
  brief_length: 'brief',
  copy_date: 'brief',
  not_before: 'dateConstraint',
  not_after: 'dateConstraint',
  must_be_on: 'dateConstraint',
  run_local: 'run',
  run_zone: 'run',
  run_at: 'run',
  stage_since: 'stageSince',
  scheduled_at: 'scheduledAt',
  released_at: 'releasedAt',
};

/** What styles of cards were called, and what they are called. */
const STYLES: Record<string, string> = {
  gate: 'wedge',
  ripple: 'wave',
  ledger: 'ruled',
  'winding hole': 'arch',
  bollard: 'stripes',
};

export async function up(knex: Knex): Promise<void> {
  await knex.raw(
    `
      alter table batches add column force boolean not null default false;
      alter table batches rename column fault to error;
      alter table sends rename column fault to error;
      alter table all_posts rename column address to slug;
      alter view posts rename column address to slug;
      alter table all_posts rename constraint posts_blog_id_address_key to posts_blog_id_slug_key;
      alter table old_addresses rename to old_slugs;
      update outlets set limits = replace(limits::text, '"most":', '"max":')::jsonb;
      alter table old_slugs rename column address to slug;
      create temporary table renamed (was text primary key, is_now text) on commit drop;
    `,
  );
  await knex.raw("alter table pieces alter column style set default 'wedge'");
  for (const [was, isNow] of Object.entries(STYLES)) {
    await knex('pieces').where({ style: was }).update({ style: isNow });
    await knex.raw(
      `update piece_versions set content = jsonb_set(content, '{style}', to_jsonb(?::text)) where content ->> 'style' = ?`,
      [isNow, was],
    );
    await knex.raw(
      `update rollout_patterns set stops = replace(stops::text, ?, ?)::jsonb where stops::text like ?`,
      [`"style": "${was}"`, `"style": "${isNow}"`, `%"style": "${was}"%`],
    );
  }
  await knex('renamed').insert(Object.entries(RENAMED).map(([was, is_now]) => ({ was, is_now })));
  await knex.raw(
    `
      update post_versions v
      set
        changed = array(
          select distinct coalesce(r.is_now, c.name)
          from unnest(v.changed) c (name) left join renamed r on r.was = c.name
        )
      where
        v.changed && array(select was from renamed);
      update post_versions set fields = (fields - 'address') || jsonb_build_object('slug', fields -> 'address') where fields ? 'address';
      update batch_items i
      set
        before = case when i.before ? 'address' then (i.before - 'address') || jsonb_build_object('slug', i.before -> 'address') else i.before end,
        after = case when i.after ? 'address' then (i.after - 'address') || jsonb_build_object('slug', i.after -> 'address') else i.after end
      where
        i.before ? 'address' or i.after ? 'address';
      update batch_items set after = replace(after::text, '"atMost":', '"maxBytes":')::jsonb where after::text like '%"atMost":%';
      update batches set changes = replace(regexp_replace(changes::text, '("places": \\[[^]]*)"address"', '\\1"slug"', 'g'), '"most":', '"max":')::jsonb;
      update kept_filters set sort = regexp_replace(sort, '\\maddress\\M', 'slug') where sort ~ 'address';
      update batch_items i
      set
        before = (i.before - 'lead') || jsonb_build_object('leadPicture', nullif(i.before -> 'lead', 'null')),
        after = (i.after - 'lead') || jsonb_build_object('leadPicture', nullif(i.after -> 'lead', 'null'))
      where
        i.after ? 'lead';
      update batch_items i
      set
        before = case
          when i.before -> 'leadPicture' ? 'media' then jsonb_set(i.before #- '{leadPicture,bytes}', '{leadPicture,alt}', to_jsonb(p.lead_alt))
          else i.before
        end,
        after = case
          when i.after -> 'leadPicture' ? 'media' then jsonb_set(i.after #- '{leadPicture,bytes}', '{leadPicture,alt}', to_jsonb(p.lead_alt))
          else i.after
        end
      from
        all_posts p
      where
        p.id = i.post_id
        and i.after ? 'leadPicture';
    `.replaceAll('?', '\\?'),
  );
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
