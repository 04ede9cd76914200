import { connect } from '@keyroster/server';
import { loadLarge } from './large.js';

/** Posts of a large archive. */
const COUNT = 100_000;

const databaseUrl = process.env['DATABASE_URL'];
if (!databaseUrl) throw new Error('DATABASE_URL is not set.');
const db = connect(databaseUrl);
try {
  const { n } = (
    await db('all_posts').where('slug', 'like', 'large-%').count<{ n: string }[]>('id as n')
  )[0]!;
  if (Number(n) > 0) console.log(`The large archive is there already: ${n} posts.`);
  else {
    console.log(`Adding ${COUNT} posts …`);
    await loadLarge(db, COUNT);
  }
} finally {
  await db.destroy();
}
