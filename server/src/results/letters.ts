import type { LetterResult } from '@keyroster/contract';
import { shareInterval, type Span } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';

interface Row {
  id: number;
  subject: string;
  day: string;
  sent: number;
  opened: number;
  clicks: number;
  unsubscribed: number;
  /** Did the letter hold what counts? */
  counted: boolean;
  links: number;
}

/** Letters that went out in a span, or that carried one post. */
export async function lettersSent(
  db: Queryable,
  blogId: number,
  { span, zone, postId = null }: { span: Span; zone: string; postId?: number | null },
): Promise<LetterResult[]> {
  const { rows } = await db.raw<{ rows: Row[] }>(
    `
      select
        l.id,
        l.subject,
        (l.begun_at at time zone ?)::date::text as day,
        count(s.id) filter (where s.state = 'sent')::int as sent,
        count(s.opened_at)::int as opened,
        (select coalesce(sum(c.clicks), 0) from letter_clicks c where c.letter_id = l.id)::int as clicks,
        count(*) filter (where s.unsubscribed)::int as unsubscribed,
        l.content ->> 'html' like '%/letter/seen/%' as counted,
        jsonb_array_length(coalesce(l.content -> 'urls', '[]')) as links
      from
        letters l
        left join letter_sends s on s.letter_id = l.id
      where
        l.blog_id = ?
        and l.begun_at is not null
        and (
          exists (select 1 from letter_posts q where q.letter_id = l.id and q.post_id = ?::int)
          or (?::int is null and (l.begun_at at time zone ?)::date between ? and ?)
        )
      group by
        l.id
      order by
        l.begun_at desc
    `,
    [zone, blogId, postId, postId, zone, span.from, span.to],
  );
  return rows.map(({ counted, links, opened, clicks, ...row }) => ({
    ...row,
    opened: counted ? shareOf(opened, row.sent) : null,
    clicks: links > 0 ? clicks : null,
  }));
}

function shareOf(count: number, of: number): LetterResult['opened'] {
  const interval = shareInterval(count, of);
  return interval && { count, share: count / of, low: interval[0], high: interval[1] };
}
