import { Router, type RequestHandler } from 'express';
import { addressOf } from '../http/address-of.js';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { whyClosed } from '@keyroster/core';
import { readable } from '../access/readable.js';
import { databaseNow } from '../db/now.js';
import type { Services } from '../http/services.js';
import { planMentioned } from '../jobs/queue.js';
import { atAddress, contextAt, type Asking } from '../pages/forms.js';
import type { Places } from '../pages/places.js';
import { inTransaction } from '../db/write.js';

/** Mentions that one address may send in ten minutes, and that one blog takes in a minute. */
const PER_ADDRESS = { points: 30, duration: 600 };
const PER_BLOG = { points: 120, duration: 60 };
const MAX_ADDRESS = 2000;

const addressIn = (text: string): URL | null => {
  if (text.length > MAX_ADDRESS || !URL.canParse(text)) return null;
  const url = new URL(text);
  return (url.protocol === 'http:' || url.protocol === 'https:') && url.username === '' ? url : null;
};

/**
 * Takes mentions of posts by other pages (W3C Recommendation Webmention, section 3.2): what is asked is
 * looked at later, and answered with 202. Other sites' servers ask, so that nothing of a browser is looked
 * at, and none of it counts.
 */
export function webmention(services: Services & { places: Places }): Router {
  const { db, places } = services;
  const perAddress = new RateLimiterMemory(PER_ADDRESS);
  const perBlog = new RateLimiterMemory(PER_BLOG);

  const receive = async (asking: Asking): Promise<void> => {
    const { req, res, place, field } = asking;
    const say = (status: number, sentence: string) =>
      void res.status(status).set('Cache-Control', 'no-store').type('text').send(sentence);
    try {
      await Promise.all([perAddress.consume(addressOf(req)), perBlog.consume(place.id)]);
    } catch {
      res.set('Retry-After', '600');
      return say(429, 'Many mentions came just now. Please try again later.');
    }
    const [source, target] = [addressIn(field('source')), addressIn(field('target'))];
    if (!source || !target) return say(400, 'Both source and target must be web addresses.');
    if (source.href === target.href) return say(400, 'A page cannot mention itself.');
    const postId = await postAt(asking, target);
    if (postId === null) return say(400, 'The target is no page here that takes mentions.');
    const mention = { blogId: place.id, postId, source: source.href, target: target.href };
    await inTransaction(db, (trx) => planMentioned(trx, mention));
    say(202, 'Thank you. It is looked at soon.');
  };

  /** The post whose page an address is, where something can be said under it. */
  const postAt = async ({ place }: Asking, target: URL): Promise<number | null> => {
    const { blog } = await contextAt(services, place);
    const home = new URL(`${blog.home}/`);
    if (target.origin !== home.origin || !target.pathname.startsWith(home.pathname)) return null;
    const slug = target.pathname.split('/').at(-1) ?? '';
    const post = await readable(db, { id: place.id })
      .join('posts as d', 'd.id', 'posts.id')
      .where('posts.slug', slug)
      .first<{ id: number; comments: boolean; runAt: string | null } | undefined>(
        'posts.id',
        'd.comments',
        'posts.run_at as runAt',
      );
    if (!post) return null;
    return whyClosed(blog.settings, post, await databaseNow(db)) === null ? post.id : null;
  };

  const onlySends: RequestHandler = async (req, res, next) => {
    const at = req.method === 'POST' ? null : await places.find(req.headers.host, req.path);
    if (at?.path !== '/webmention') return next();
    res.status(405).set('Allow', 'POST').type('text').send('Mentions are sent here with POST.');
  };
  return Router().use(onlySends, ...atAddress(places, 'POST', /^\/webmention$/, receive));
}
