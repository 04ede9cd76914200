import { addDays, type StandingSlot } from '@keyroster/core';
import { lockPost, adoptPost, planReleases } from '@keyroster/server';
import { TRIALS } from './desk.js';
import { CATEGORIES } from './people.js';
import { planComing, type PlannedText } from './plan.js';
import { readPitches, readTexts } from './texts.js';
import { daysBefore } from './days.js';
import { suggestCorrections } from './history.js';
import { insertPost, loadConversation } from './load-posts.js';
import type { Loading } from './loading.js';

/** The next such day, `MM-DD`, from a date on. */
export function nextDay(today: string, day: string): string {
  const thisYear = `${today.slice(0, 4)}-${day}`;
  return thisYear >= today ? thisYear : `${Number(today.slice(0, 4)) + 1}-${day}`;
}

function dateConstraintOf(
  text: string,
  today: string,
): { not_before?: string; not_after?: string; must_be_on?: string } {
  const day = (label: string) => {
    const found = new RegExp(`${label} (\\d\\d-\\d\\d)`).exec(text)?.[1];
    return found ? nextDay(today, found) : null;
  };
  const [before, after, on] = [day('not before'), day('not after'), day('on')];
  // Within a span that has begun, the first day lies in the past.
  return {
    ...(before
      ? {
          not_before:
            after && before > after ? `${Number(before.slice(0, 4)) - 1}${before.slice(4)}` : before,
        }
      : {}),
    ...(after ? { not_after: after } : {}),
    ...(on ? { must_be_on: on } : {}),
  };
}

export async function loadComing(to: Loading): Promise<void> {
  const texts = new Map(readTexts('unfinished').map((t) => [t.key!, t]));
  const names = new Map([...to.categories].map(([name, id]) => [id, name]));
  const slots = CATEGORIES.map((c, i): StandingSlot => ({
    id: i + 1,
    weekday: c.weekday,
    time: c.time,
    categoryId: to.categories.get(c.name)!,
    format: '',
    from: null,
    until: null,
    everyWeeks: 1,
    exceptions: [],
  }));
  const used = new Set<string>();
  for (const { date, time, categoryId, text: plan } of planComing(slots, names, to.nowLocal)) {
    if (used.has(plan.key!)) continue;
    used.add(plan.key!);
    const id = await insertPost(to, {
      text: texts.get(plan.key!)!,
      stage: plan.stage,
      categoryId,
      runLocal: `${date}T${time}:00`,
      createdAt: daysBefore(to.now, 24),
      stageSince: daysBefore(to.now, 1),
      fields: {
        ...copyDate(plan, date, to.nowLocal),
        brief_angle: plan.angle ?? '',
        brief_length: plan.length ?? null,
        ...(plan.stage === 'scheduled' ? { scheduled_at: daysBefore(to.now, 1) } : {}),
        ...(plan.stage === 'in review' || plan.stage === 'cleared'
          ? { proofreader_id: to.people.get('CF') }
          : {}),
      },
    });
    if (plan.stage === 'scheduled')
      await planReleases(to.trx, [{ postId: id, runAt: (await lockPost(to.trx, to.blogId, id))!.run_at! }]);
    const trials = TRIALS[plan.key!];
    for (const title of trials?.titles ?? [])
      await to.trx('title_trials').insert({
        blog_id: to.blogId,
        post_id: id,
        title,
        person_id: to.people.get(trials!.by),
        at: daysBefore(to.now, 2),
      });
    await loadConversation(to, plan.key!, id);
    await suggestCorrections(to, plan.key, id);
  }
  // A digest on the next weekend, the managing editor's own draft without a date, and one post that was
  // withdrawn.
  const saturday = slotDay(to.nowLocal.slice(0, 10), 6);
  await insertPost(to, {
    text: texts.get('digest')!,
    stage: 'commissioned',
    categoryId: null,
    runLocal: `${saturday}T09:00:00`,
    createdAt: daysBefore(to.now, 3),
    fields: {
      brief_angle: 'From the stoppage notices, one line each.',
      brief_length: 300,
      copy_date: addDays(saturday, -1),
    },
  });
  await insertPost(to, {
    text: texts.get('past-hope')!,
    stage: 'commissioned',
    categoryId: to.categories.get('Towpath walks')!,
    runLocal: `${addDays(to.nowLocal.slice(0, 10), -4)}T10:00:00`,
    createdAt: daysBefore(to.now, 20),
    fields: {
      brief_angle: 'If the ice comes. Otherwise it keeps.',
      copy_date: addDays(to.nowLocal.slice(0, 10), -8),
    },
  });
  await insertPost(to, {
    text: texts.get('own-draft')!,
    stage: 'drafting',
    categoryId: to.categories.get('Lock-keepers')!,
    createdAt: daysBefore(to.now, 9),
  });
  await insertPost(to, {
    text: texts.get('withdrawn')!,
    stage: 'withdrawn',
    categoryId: to.categories.get('Lock-keepers')!,
    runLocal: `${addDays(to.nowLocal.slice(0, 10), -120)}T10:00:00`,
    createdAt: daysBefore(to.now, 130),
  });
}

function copyDate(plan: PlannedText, runDate: string, nowLocal: string): { copy_date?: string } {
  if (plan.copyAgo) return { copy_date: addDays(nowLocal.slice(0, 10), -plan.copyAgo) };
  return plan.copyBefore ? { copy_date: addDays(runDate, -plan.copyBefore) } : {};
}

function slotDay(from: string, weekday: number): string {
  let day = addDays(from, 5);
  while (new Date(`${day}T00:00:00Z`).getUTCDay() !== weekday % 7) day = addDays(day, 1);
  return day;
}

export async function loadPitches(to: Loading): Promise<void> {
  for (const pitch of readPitches()) {
    const byline = to.people.get(pitch.by) ?? null;
    const [row] = await to
      .trx('posts')
      .insert({
        blog_id: to.blogId,
        stage: 'pitch',
        title: pitch.title,
        thought: pitch.thought,
        category_id: to.categories.get(pitch.category) ?? null,
        byline_id: byline,
        body: JSON.stringify({ type: 'doc', content: [{ type: 'paragraph' }] }),
        created_by: byline ?? to.people.get('MW'),
        created_at: daysBefore(to.now, pitch.age),
        updated_at: daysBefore(to.now, pitch.age),
        stage_since: daysBefore(to.now, pitch.age),
        rating: pitch.rating,
        ...dateConstraintOf(pitch.dateConstraint, to.nowLocal.slice(0, 10)),
      })
      .returning<{ id: number }[]>('id');
    await adoptPost(to.trx, to.blogId, row!.id, byline);
  }
}
