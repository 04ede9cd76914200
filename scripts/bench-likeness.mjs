// The text most like a new one, and what likeness costs the database.
import { said } from './bench-figures.mjs';

const { likenessOf, mostAlikeText } = await import('@keyroster/server');
const { jaccard, shingles } = await import('@keyroster/core');

const paragraphs = (text) => ({
  type: 'doc',
  content: [{ type: 'paragraph', content: [{ type: 'text', text }] }],
});

export async function likeness(db, row) {
  await db.raw(
    `
      insert into
        posts (blog_id, stage, title, body, body_text, measured_version)
      select
        1,
        'pitch',
        'Alike ' || n,
        '{"type":"doc","content":[{"type":"paragraph"}]}',
        '',
        1
      from
        generate_series(1, 100000) n
    `,
  );
  await db.raw(
    `
      insert into
        post_signatures (post_id, blog_id, signature)
      select
        p.id,
        1,
        s.list
      from
        posts p,
        lateral (
          select
            array_agg((random() * 4294967295 - 2147483648)::bigint::int) as list
          from
            generate_series(1, 128)
          where
            p.id > 0
        ) s
      where
        p.title like 'Alike %'
      on conflict do nothing
    `,
  );
  await db.raw('analyze post_signatures');
  const posts = await db('posts')
    .where({ stage: 'published' })
    .where('words', '>', 300)
    // One of each text: of two that are the same either may be found.
    .distinctOn('body_text')
    .orderBy('body_text')
    .limit(20)
    .select('id', 'body_text');
  const times = [];
  let found = 0;
  for (const post of posts) {
    // A copy with a sentence of its own, as a new post: its source is what should be found.
    const began = performance.now();
    const alike = await mostAlikeText(
      db,
      1,
      0,
      await likenessOf(paragraphs(`${post.body_text} And one sentence more.`)),
    );
    times.push(performance.now() - began);
    if (alike?.id === post.id) found++;
  }
  // What comes after measures an archive of its own.
  await db.raw(`delete from posts where title like 'Alike %'`);
  await db.raw('vacuum analyze all_posts');
  const sets = posts.map((p) => shingles(p.body_text));
  const began = performance.now();
  for (let i = 0; i < 1000; i++) jaccard(sets[0], sets[i % sets.length]);
  const exact = (performance.now() - began) * 100;
  row(
    `the text most like a new one among 100,000 posts (${found} of ${posts.length} copies found)`,
    said(times),
    `exact Jaccard with 100,000 made sets: ${exact.toFixed(0)} ms`,
    'within 50 ms',
  );
}
