import { expect, type Page } from '@playwright/test';
import { londonIn } from './people.js';

export const day = (page: Page, name: RegExp) => page.getByRole('region', { name });
export const longDate = (iso: string) =>
  new Intl.DateTimeFormat('en-GB', { weekday: 'long', day: 'numeric', month: 'long', timeZone: 'UTC' })
    .format(new Date(`${iso}T00:00:00Z`))
    .replace(',', '');
export const shortDate = (iso: string) =>
  new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' })
    .format(new Date(`${iso}T00:00:00Z`))
    .replace(',', '');
export const later = (iso: string, days: number) =>
  new Date(Date.parse(`${iso}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);
/** The Monday so many weeks after this week's. */
export const monday = (weeks: number) => {
  const today = londonIn(0).date;
  return later(today, 7 * weeks - ((new Date(`${today}T00:00:00Z`).getUTCDay() + 6) % 7));
};
export const planner = (weeks: number, more = '') =>
  `/desk/planner?view=weeks&from=${monday(weeks)}&weeks=2${more}`;

/** A dated post of its own for a test, through the stable interface for programs. */
export async function dated(
  page: Page,
  title: string,
  runAt: string,
  byline = 'Petra Kesh',
): Promise<number> {
  const people = (await (await page.request.get('/api/people')).json()) as { id: number; name: string }[];
  const { blog } = (await (await page.request.get('/api/session')).json()) as {
    blog: { categories: { id: number; name: string }[] };
  };
  const answer = await page.request.post('/api/posts', {
    data: {
      title,
      categoryId: blog.categories.find((c) => c.name === 'Engine room')!.id,
      bylineId: people.find((p) => p.name === byline)!.id,
      runAt,
    },
  });
  expect(answer.status()).toBe(201);
  return ((await answer.json()) as { id: number }).id;
}
