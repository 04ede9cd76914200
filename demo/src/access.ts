import { addDays, type Access } from '@keyroster/core';
import { insertPost } from './load-posts.js';
import type { Loading } from './loading.js';
import { readTexts } from './texts.js';

/** Days after the first visit on which each part of the serial comes. */
const DELAYS = [0, 1, 3, 5, 8, 12];
const SERIAL = 'The hull in the reeds';
/** Who asks for the password is told it on the walk. */
const PASSWORD = 'seven quiet rings';
const EMAILS = ['ada', 'bargee', 'cuttlefish', 'dredger', 'elsie', 'foxglove', 'gongoozler', 'hatch'];
/** First visits a day over the last weeks; more on the day after a letter. */
const VISIT_DAYS = 40;

/** A serial of six parts, a post for members and one with a password; the readers who came and who signed up. */
export async function loadAccess(to: Loading): Promise<void> {
  const { trx, blogId, now } = to;
  const texts = readTexts('serial');
  const first = addDays(to.nowLocal.slice(0, 10), -230);
  const publish = (title: string, daysLater: number, category: string, fields: Record<string, unknown>) => {
    const text = texts.find((t) => t.title === title)!;
    const runLocal = `${addDays(first, daysLater)}T07:30:00`;
    return insertPost(to, {
      text,
      stage: 'published',
      categoryId: to.categories.get(category)!,
      runLocal,
      createdAt: `${addDays(first, daysLater - 9)}T10:00:00Z`,
      stageSince: `${addDays(first, daysLater)}T07:30:00Z`,
      fields,
    });
  };
  const [serial] = await trx('serials')
    .insert({
      blog_id: blogId,
      title: SERIAL,
      intro: 'How forty feet of iron became a boat again, a part every few days.',
    })
    .returning<{ id: number }[]>('id');
  for (const [position, days] of DELAYS.entries()) {
    const post_id = await publish(texts[position]!.title, position, 'Engine room', {});
    await trx('serial_parts').insert({
      ...{ serial_id: serial!.id, post_id, position },
      ...{ days, hours: 0, minutes: 0 },
    });
  }
  const only = (access: Access, more: object = {}) => ({ access, ...more });
  await publish(texts[6]!.title, 14, 'Lock-keepers', only('members'));
  await publish(texts[7]!.title, 15, 'Towpath walks', only('password', { reading_password: PASSWORD }));
  const at = (daysAgo: number, minute: number) =>
    new Date(
      Math.floor(Date.parse(now) / 60_000) * 60_000 - daysAgo * 86_400_000 - minute * 60_000,
    ).toISOString();
  for (let day = 0; day < VISIT_DAYS; day++)
    for (const minute of [35, 190, 410])
      await trx('first_visits').insert({
        blog_id: blogId,
        minute: at(day, minute),
        readers: 3 + ((day * 7 + minute) % 11) + (day % 7 === 4 ? 14 : 0),
      });
  for (const [i, name] of EMAILS.entries())
    await trx('members').insert({
      blog_id: blogId,
      email: `${name}@readers.example`,
      first_visit: at(3 + i * 4, 35),
      joined_at: at(2 + i * 4, 10),
    });
}
