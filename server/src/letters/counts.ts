import type { Db, Queryable } from '../db/connect.js';
import { siteSettings } from '../pages/reader-blog.js';
import type { BuiltLetter } from './build.js';

interface Counted {
  sendId: string;
  letterId: number;
  content: BuiltLetter | null;
  site: object;
}

const sentBy = (db: Queryable, blogId: number, key: string) =>
  db('letter_sends as s')
    .join('letters as l', 'l.id', 's.letter_id')
    .join('blogs as b', 'b.id', 'l.blog_id')
    .where({ 's.key': key, 'l.blog_id': blogId })
    .first<Counted | undefined>('s.id as sendId', 'l.id as letterId', 'l.content', 'b.site');

/** A letter was opened: kept once for each that went out, and only while the blog counts it. */
export async function countOpened(db: Db, blogId: number, key: string): Promise<void> {
  const sent = await sentBy(db, blogId, key);
  if (!sent || !siteSettings(sent.site).letterOpens) return;
  await db('letter_sends').where({ id: sent.sendId, opened_at: null }).update({ opened_at: db.fn.now() });
}

/** Where a counted link leads; counts the click, and of nobody in particular. Null where it is no link of a letter. */
export async function countClick(
  db: Db,
  blogId: number,
  key: string,
  link: number,
  counts = true,
): Promise<string | null> {
  const sent = await sentBy(db, blogId, key);
  const url = sent?.content?.urls[link];
  if (!sent || !url) return null;
  if (counts && siteSettings(sent.site).letterClicks)
    await db.raw(
      `
        insert into
          letter_clicks (letter_id, link, clicks)
        values
          (?, ?, 1)
        on conflict (letter_id, link) do update
        set
          clicks = letter_clicks.clicks + 1
      `,
      [sent.letterId, link],
    );
  return url;
}
