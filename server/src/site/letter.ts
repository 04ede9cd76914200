import express, { Router } from 'express';
import { stringify } from 'csv-stringify/sync';
import Joi from 'joi';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import type { Db, Reader } from '../db/connect.js';
import type { Settings } from '../settings.js';
import { SECURITY } from './cache.js';
import { letterPage } from './pages.js';
import type { Places } from './places.js';
import { siteSettings } from './reader-blog.js';

/** Sign-ups an address may send in a minute; more is a machine. */
const MAX_A_MINUTE = 10;

const email = Joi.string().trim().lowercase().max(254).email({ tlds: false }).required();

/**
 * Takes sign-ups for the letter from the readers' pages. They are kept for the newsletter; nothing is sent
 * from here.
 */
export function letterSignUps(db: Db, settings: Settings, places: Places): Router {
  const limiter = new RateLimiterMemory({ points: MAX_A_MINUTE, duration: 60 });
  const router = Router();
  const parsed = express.urlencoded({ extended: false, limit: '4kb' });
  router.post(/\/letter$/, parsed, async (req, res, next) => {
    const at = await places.find(req.headers.host, req.path);
    if (at?.path !== '/letter') return next();
    const blog = (await db('blogs')
      .where({ id: at.place.id })
      .first<{ id: number; site: object }>('id', 'site'))!;
    if (!siteSettings(blog.site).letter) return next();
    const answer = async (status: number, heading: string, sentence: string) => {
      res
        .status(status)
        .set({ ...SECURITY, 'Content-Type': 'text/html; charset=utf-8', 'Cache-Control': 'no-store' })
        .send(await letterPage(db, settings, at.place, heading, sentence));
    };
    try {
      await limiter.consume(req.ip ?? '');
    } catch {
      return answer(429, 'One moment', 'That was a little fast. Please try again in a minute.');
    }
    const { value, error } = email.validate((req.body as { email?: unknown } | undefined)?.email) as {
      value: string;
      error?: Error;
    };
    if (error)
      return answer(400, 'Not signed up yet', 'That is not an e-mail address. Please go back and try again.');
    const post = /^\d{1,9}$/.test(String(req.query['post'] ?? '')) ? Number(req.query['post']) : 0;
    const from = await db('posts')
      .where({ id: post, blog_id: blog.id })
      .first<{ id: number } | undefined>('id');
    await db('letter_readers')
      .insert({ blog_id: blog.id, email: value, post_id: from?.id ?? null })
      .onConflict(['blog_id', 'email'])
      .ignore();
    // The same answer for an address that is known already: nobody learns who reads the letter.
    return answer(200, 'Thank you', 'You are on the list for the letter.');
  });
  return router;
}

/** Who signed up, as CSV (RFC 4180). */
export async function letterCsv(db: Reader, blogId: number): Promise<string> {
  const rows = await db('letter_readers as l')
    .leftJoin('posts as p', 'p.id', 'l.post_id')
    .where('l.blog_id', blogId)
    .orderBy('l.at')
    .select<{ email: string; at: string; slug: string | null }[]>('l.email', 'l.at', 'p.slug');
  // A cell that begins like a formula is taken as text by spreadsheets when it is quoted so.
  const safe = (text: string) => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);
  return stringify(
    [['email', 'signed up', 'from post'], ...rows.map((r) => [safe(r.email), r.at, r.slug ?? ''])],
    { record_delimiter: 'windows' },
  );
}
