import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- A blog that has a managing editor keeps one, whoever changes what at the same moment: the blog's row is
    -- locked, so that of two who take each other's role away the second finds that it would be the last.
    create function keep_a_managing_editor() returns trigger language plpgsql as $$
    declare
      blog integer;
    begin
      for blog in
        select m.blog_id from memberships m where m.person_id = old.person_id
        union
        select old.blog_id
      loop
        perform 1 from blogs where id = blog for no key update;
        if found and not exists (
          select 1 from memberships m join people p on p.id = m.person_id
          where m.blog_id = blog and m.role = 'managing editor' and p.active
        ) then
          raise exception 'the last managing editor' using errcode = 'check_violation', constraint = 'last_managing_editor';
        end if;
      end loop;
      return null;
    end $$;
    create constraint trigger keep_a_managing_editor after update of role or delete on memberships
      deferrable initially immediate for each row
      when (old.role = 'managing editor') execute function keep_a_managing_editor();

    create function keep_an_active_managing_editor() returns trigger language plpgsql as $$
    declare
      blog integer;
    begin
      for blog in
        select m.blog_id from memberships m where m.person_id = old.id and m.role = 'managing editor' order by 1
      loop
        perform 1 from blogs where id = blog for no key update;
        if not exists (
          select 1 from memberships m join people p on p.id = m.person_id
          where m.blog_id = blog and m.role = 'managing editor' and p.active
        ) then
          raise exception 'the last managing editor' using errcode = 'check_violation', constraint = 'last_managing_editor';
        end if;
      end loop;
      return null;
    end $$;
    create constraint trigger keep_an_active_managing_editor after update of active on people
      deferrable initially immediate for each row
      when (old.active and not new.active) execute function keep_an_active_managing_editor();

    -- A session that ends, however it ends, is told to the processes that hold streams of it.
    create function tell_ended_session() returns trigger language plpgsql as $$
    begin
      perform pg_notify('key_roster_ended', old.sid);
      return null;
    end $$;
    create trigger tell_ended_session after delete on session
      for each row execute function tell_ended_session();
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
