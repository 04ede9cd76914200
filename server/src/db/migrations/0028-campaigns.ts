import type { Knex } from 'knex';

/** Campaigns with dates and outlets of their own, and patterns that make their pieces by themselves. */
export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table campaigns (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      version integer not null default 1,
      -- What its posts carry in their own field.
      name text not null check (name <> ''),
      about text not null default '',
      from_date date,
      until_date date,
      unique (blog_id, id),
      check (from_date <= until_date)
    );
    create unique index campaigns_name on campaigns (blog_id, lower(name));
    insert into campaigns (blog_id, name)
      select distinct on (blog_id, lower(campaign)) blog_id, campaign from all_posts where campaign <> ''
      order by blog_id, lower(campaign), campaign;

    -- Where everything in a campaign goes.
    create table campaign_outlets (
      campaign_id integer not null references campaigns on delete cascade,
      outlet_id integer not null references outlets on delete cascade,
      primary key (campaign_id, outlet_id)
    );
    create index posts_of_campaign on all_posts (blog_id, lower(campaign)) where campaign <> '';

    alter table rollout_patterns
      add column campaign_id integer references campaigns on delete set null,
      add column by_itself boolean not null default false;
    -- Which patterns made their pieces of a post: once, also when it is cleared again.
    create table patterns_used (
      post_id integer not null references all_posts on delete cascade,
      pattern_id integer not null references rollout_patterns on delete cascade,
      at timestamptz(3) not null default now(),
      primary key (post_id, pattern_id)
    );
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
