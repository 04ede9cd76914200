import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    create table checklists (
      id integer generated always as identity primary key,
      blog_id integer not null references blogs on delete cascade,
      name text not null check (name <> ''),
      unique (blog_id, id)
    );
    create unique index checklists_name on checklists (blog_id, lower(name));

    create table checklist_items (
      id integer generated always as identity primary key,
      checklist_id integer not null references checklists on delete cascade,
      position smallint not null,
      text text not null check (text <> ''),
      assignee text not null check (assignee in ('writer', 'editor', 'proofreader', 'person')),
      person_id integer references people,
      days_before smallint not null check (days_before between 0 and 365),
      holds boolean not null,
      check ((assignee = 'person') = (person_id is not null))
    );
    create index checklist_items_of on checklist_items (checklist_id, position);

    create table checklist_formats (
      blog_id integer not null,
      checklist_id integer not null,
      format_id integer not null,
      primary key (checklist_id, format_id),
      foreign key (blog_id, checklist_id) references checklists (blog_id, id) on delete cascade,
      foreign key (blog_id, format_id) references formats (blog_id, id) on delete cascade
    );
    create table checklist_categories (
      blog_id integer not null,
      checklist_id integer not null,
      category_id integer not null,
      primary key (checklist_id, category_id),
      foreign key (blog_id, checklist_id) references checklists (blog_id, id) on delete cascade,
      foreign key (blog_id, category_id) references categories (blog_id, id) on delete cascade
    );

    -- A post's chores. When one is due follows from the run time, so no day is kept.
    create table chores (
      id integer generated always as identity primary key,
      blog_id integer not null,
      post_id integer not null,
      checklist_id integer references checklists on delete set null,
      item_id integer references checklist_items on delete set null,
      -- Put here by a person: it stays when category or format change.
      by_hand boolean not null,
      text text not null check (text <> ''),
      assignee text not null check (assignee in ('writer', 'editor', 'proofreader', 'person')),
      person_id integer references people,
      days_before smallint not null check (days_before between 0 and 365),
      holds boolean not null,
      done_at timestamptz(3),
      done_by integer references people,
      unique (post_id, item_id),
      check ((assignee = 'person') = (person_id is not null)),
      check ((done_at is null) = (done_by is null)),
      foreign key (blog_id, post_id) references all_posts (blog_id, id) on delete cascade
    );
    create index chores_open on chores (blog_id, post_id) where done_at is null;
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
