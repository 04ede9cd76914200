import type { FoundPlace } from '@keyroster/contract';
import type { Queryable } from '../db/connect.js';

const [OPEN, CLOSE] = ['\u0002', '\u0003'];

/**
 * The stretch of text around the words that were found, for a few posts: making it costs more than finding
 * them.
 */
export async function placesOf(db: Queryable, ids: readonly number[], words: string): Promise<FoundPlace[]> {
  const { rows } = await db.raw<{ rows: { id: number; text: string }[] }>(
    `
      select
        p.id,
        ts_headline('english', left(p.excerpt || E'\\n' || p.body_text, 20000), q, ?) as text
      from
        all_posts p,
        websearch_to_tsquery('english', ?) q
      where
        p.id = any (?)
    `,
    [`StartSel=${OPEN}, StopSel=${CLOSE}, MaxFragments=1, MaxWords=24, MinWords=10`, words, [...ids]],
  );
  return rows.flatMap(({ id, text }) => {
    const marks: [number, number][] = [];
    let plain = '';
    for (const piece of text.replace(/\s+/g, ' ').split(/(?=[\u0002\u0003])/)) {
      if (piece.startsWith(OPEN!)) marks.push([plain.length, plain.length + piece.length - 1]);
      plain += piece.replace(/^[\u0002\u0003]/, '');
    }
    return marks.length > 0 ? [{ postId: id, text: plain, marks }] : [];
  });
}
