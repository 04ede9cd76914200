import { makeWordPairs, type Db } from '@keyroster/server';

const [FIRST, SECOND, LAST] = [
  [
    'Winter',
    'Slow',
    'Morning',
    'Quiet',
    'Seven',
    'Frozen',
    'Letters',
    'Better',
    'Working',
    'Nine',
    'Long',
    'Painted',
    'Borrowed',
    'Deep',
    'Late',
    'Honest',
  ],
  [
    'pumps',
    'locks',
    'boats',
    'stoves',
    'gates',
    'letters',
    'moorings',
    'kettles',
    'windlasses',
    'tunnels',
    'hatches',
    'bridges',
    'engines',
    'basins',
    'ropes',
    'keepers',
  ],
  [
    'in the fog',
    'at first light',
    'for beginners',
    'without a wind',
    'above Tolver',
    'by the summit',
    'before the frost',
    'after the stoppage',
    'on the long pound',
    'at Gannet',
    'under the aqueduct',
    'when nobody looks',
    'by hand',
    'twice a year',
    'on a Tuesday',
    'for two',
  ],
];
const WORDS = (
  'lock gate paddle boat water canal winter pump engine keeper morning path bridge ' +
  'stove letter rope hatch weed diesel frost ladder basin crane mooring kettle ' +
  'windlass pound tunnel horse brick steam kindling bilge tiller fender cleat beam ' +
  'sill culvert feeder reservoir lengthsman stoppage'
).split(' ');

/**
 * Puts so many more posts into the demo blog, the same every time: published over thirty years, some of them
 * drafts, with bylines, categories, tags and some text. Written by PostgreSQL alone; nothing is measured,
 * released or told of them.
 */
export async function loadLarge(db: Db, count: number): Promise<void> {
  const array = (list: readonly string[]) => `array[${list.map((w) => `'${w}'`).join(',')}]`;
  // A number that looks thrown, from the post's own: the same on every machine.
  const thrown = (salt: number, max: number | string) =>
    `(abs(hashint4(n * 31 + ${salt})::bigint) % ${max})::int`;
  const pick = (list: readonly string[], salt: number) =>
    `(${array(list)})[1 + ${thrown(salt, list.length)}]`;
  await db.raw(
    `
      with
        seeds as materialized (
          select
            n,
            (
              select
                array_agg(
                  id
                  order by
                    id
                )
              from
                categories
              where
                blog_id = 1
            ) as categories,
            (
              select
                array_agg(
                  p.id
                  order by
                    p.id
                )
              from
                people p
                join memberships m on m.person_id = p.id
              where
                m.blog_id = 1
                and m.role in ('contributor', 'editor')
            ) as people
          from
            generate_series(1, ?::int) n
        ),
        made as (
          insert into
            all_posts (
              blog_id,
              stage,
              title,
              excerpt,
              slug,
              category_id,
              byline_id,
              body,
              body_text,
              words,
              run_local,
              run_zone,
              run_at,
              released_at,
              created_by,
              created_at,
              updated_at,
              measured_version
            )
          select
            1,
            stage,
            title,
            excerpt,
            'large-' || n,
            category,
            byline,
            jsonb_build_object(
              'type',
              'doc',
              'content',
              jsonb_build_array(
                jsonb_build_object(
                  'type',
                  'paragraph',
                  'content',
                  jsonb_build_array(jsonb_build_object('type', 'text', 'text', words))
                )
              )
            ),
            words,
            60,
            run,
            'Europe/London',
            run at time zone 'Europe/London',
            case
              when stage = 'published' then run at time zone 'Europe/London'
            end,
            byline,
            run at time zone 'Europe/London' - interval '20 days',
            run at time zone 'Europe/London',
            1
          from
            (
              select
                n,
                case
                  when ${thrown(1, 50)} = 0 then 'drafting'
                  when ${thrown(1, 50)} = 1 then 'withdrawn'
                  else 'published'
                end as stage,
                ${pick(FIRST!, 2)} || ' ' || ${pick(SECOND!, 3)} || ' ' || ${pick(LAST!, 4)} || ', ' || n as title,
                case
                  when ${thrown(5, 3)} = 0 then ''
                  else 'About ' || ${pick(WORDS, 6)} || ' and ' || ${pick(WORDS, 7)} || '.'
                end as excerpt,
                categories[1 + ${thrown(8, 'array_length(categories, 1)')}] as category,
                people[1 + ${thrown(9, 'array_length(people, 1)')}] as byline,
                timestamp '1996-01-01 08:00' + n * (interval '10800 days' / ?::int) as run,
                (
                  select
                    string_agg(
                      (${array(WORDS)}) [1 + (abs(hashint4 (n * 61 + w)::bigint) % ${WORDS.length})::int],
                      ' '
                      order by
                        w
                    )
                  from
                    generate_series(1, 60) w
                ) as words
              from
                seeds
            ) s
          returning
            id
        )
      insert into
        post_tags (blog_id, post_id, tag_id)
      select
        1,
        m.id,
        t.id
      from
        made m
        join lateral (
          select
            id
          from
            tags
          where
            blog_id = 1
          order by
            hashint4 (m.id * 7 + tags.id)
          limit
            2
        ) t on true
    `,
    [count, count],
  );
  await db.raw(
    `
      insert into
        post_versions (blog_id, post_id, version, person_id, changed, fields)
      select
        1,
        p.id,
        1,
        p.byline_id,
        array['title'],
        '{}'
      from
        all_posts p
      where
        p.slug like 'large-%'
      on conflict do nothing
    `,
  );
  await makeWordPairs(db);
  for (const table of ['all_posts', 'post_tags', 'word_pairs']) await db.raw(`analyze ${table}`);
}
