import sharp from 'sharp';
import { addDays, bodyText, checkBody, countWords, weekday, type StandingSlot } from '@keyroster/core';
import { readMarkdown } from '@keyroster/server';
import { CATEGORIES, PEOPLE } from './people.js';
import { PICTURES, pictureAlt, pictureSvg } from './pictures.js';
import { pastDates, planComing } from './plan.js';
import { readPitches, readTexts } from './texts.js';

const published = CATEGORIES.flatMap((c) => readTexts(c.texts));
const wordsOf = (markdown: string) => countWords(bodyText(readMarkdown(markdown).body));

describe('the demo blog', () => {
  it('has a year of posts in five categories, twenty of them full articles', () => {
    expect(published.length).toBeGreaterThanOrEqual(120);
    const full = published.filter((t) => t.picture);
    expect(full).toHaveLength(20);
    for (const text of full) {
      expect([text.title, wordsOf(text.markdown) >= 400 && wordsOf(text.markdown) <= 1200]).toEqual([
        text.title,
        true,
      ]);
    }
    expect(new Set(published.map((t) => t.title)).size).toBe(published.length);
  });

  it('has no text that does not fit a post, lacks an excerpt, or is credited to nobody', () => {
    for (const text of published) {
      expect(checkBody(readMarkdown(text.markdown).body)).toMatchObject({ ok: true });
      expect(text.excerpt).toMatch(/[.?!]$/);
      expect(PEOPLE.map((p) => p.name)).toContain(text.by);
      expect(text.markdown).not.toMatch(/lorem|["']/i);
    }
  });

  it('has about thirty pitches, by people and in categories that exist', () => {
    const pitches = readPitches();
    expect(pitches.length).toBeGreaterThanOrEqual(28);
    for (const pitch of pitches) {
      expect(['', ...CATEGORIES.map((c) => c.name)]).toContain(pitch.category);
      expect(['', ...PEOPLE.map((p) => p.key)]).toContain(pitch.by);
    }
  });

  it('draws the same picture every time, with a text for those who cannot see it', async () => {
    expect(new Set(PICTURES.map(pictureSvg)).size).toBe(PICTURES.length);
    for (const name of PICTURES) {
      expect(pictureSvg(name)).toBe(pictureSvg(name));
      expect(pictureAlt(name)).toMatch(/^[A-Z].{15,}\.$/);
    }
    expect(await sharp(Buffer.from(pictureSvg('steps'))).metadata()).toMatchObject({
      width: 1280,
      height: 720,
    });
  });

  const slots = CATEGORIES.map((c, i): StandingSlot => ({
    id: i + 1,
    weekday: c.weekday,
    time: c.time,
    categoryId: i + 1,
    format: '',
    from: null,
    until: null,
    everyWeeks: 1,
    exceptions: [],
  }));
  const names = new Map<number, string>(CATEGORIES.map((c, i) => [i + 1, c.name]));

  const hours = ['00:02:00', '07:00:00', '09:30:00', '17:30:00', '23:58:00'];
  it.each([0, 1, 2, 3, 4, 5, 6].flatMap((n) => hours.map((hour) => [n, hour] as const)))(
    'loaded %i days into a week at %s, has the next two slots ready, a late post and open slots',
    (n, hour) => {
      const today = addDays('2026-11-23', n);
      const coming = planComing(slots, names, `${today}T${hour}`);
      // What people look for in the four weeks that the planner shows is there at any hour.
      const shown = coming.filter((c) => c.date < '2026-12-21').map((c) => c.text.key);
      expect(shown).toEqual(
        expect.arrayContaining(['long-pound', 'short-day', 'keepers-2', 'galley-2', 'engine-1', 'five-3']),
      );
      expect(coming.slice(0, 2).map((c) => c.text.stage)).toEqual(['scheduled', 'scheduled']);
      expect(coming.some((c) => c.text.stage === 'drafting' && (c.text.copyAgo ?? 0) > 0)).toBe(true);
      expect(coming.length).toBeLessThan(20);
      expect(planComing(slots, names, `${addDays(today, 7)}T${hour}`).map((c) => c.text)).toEqual(
        coming.map((c) => c.text),
      );
    },
  );

  it('spreads the published posts over a year, newest week first, all on their weekday', () => {
    const dates = pastDates(2, '08:00', '2026-11-25T09:00:00', 25);
    expect(dates[0]).toBe('2026-11-24');
    expect(new Set(dates).size).toBe(25);
    expect(dates.every((d) => weekday(d) === 2 && d >= '2025-11-26')).toBe(true);
  });
});
