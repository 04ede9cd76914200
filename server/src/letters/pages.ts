import { Router, type RequestHandler } from 'express';
import { addressOf } from '../http/address-of.js';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { emailAddress } from '@keyroster/contract/schemas';
import type { Services } from '../http/services.js';
import { refuseOtherSites } from '../http/origin.js';
import { framed, type Context } from '../pages/context.js';
import { atAddress, contextAt, sendOwn, type Asking } from '../pages/forms.js';
import type { Places } from '../pages/places.js';
import { countClick, countOpened } from './counts.js';
import { requestLetter, confirmLetter, leaveList, listedBy, sendBy } from './sign-up.js';
import { inTransaction } from '../db/write.js';

/** Sign-ups an address may send in a minute; more is a machine. */
const MAX_A_MINUTE = 10;
const KEY = '([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})';

/** A transparent picture of one pixel (GIF 89a). */
const PIXEL = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');

const email = emailAddress().required();

interface Said {
  heading: string;
  sentence: string;
  /** What one button does, and what it says. */
  button?: { action: string; label: string };
  status?: number;
}

/** Where readers ask for the letter, say that they meant it, and leave the list again. */
export function letterPages(parts: Services & { places: Places }): RequestHandler[] {
  const { db, settings, places } = parts;
  const limiter = new RateLimiterMemory({ points: MAX_A_MINUTE, duration: 60 });

  const show = (context: Context, { res }: Asking, { heading, ...said }: Said) =>
    sendOwn(res, framed(context, 'letter', { title: heading, heading, noindex: true, ...said }));
  const answer = async (asking: Asking, said: Said) =>
    show(await contextAt(parts, asking.place), asking, said);
  const NOWHERE: Said = {
    heading: 'This link leads nowhere',
    sentence: 'Perhaps a part of it was lost on the way.',
    status: 404,
  };

  const askFor = async (asking: Asking): Promise<void> => {
    const { req, place } = asking;
    const context = await contextAt(parts, place);
    if (!context.blog.settings.letter)
      return show(context, asking, {
        heading: 'No letter',
        sentence: 'This blog sends no letter at the moment.',
        status: 404,
      });
    try {
      await limiter.consume(addressOf(req));
    } catch {
      return show(context, asking, {
        heading: 'One moment',
        sentence: 'That was a little fast. Please try again in a minute.',
        status: 429,
      });
    }
    const { value, error } = email.validate(asking.field('email')) as { value: string; error?: Error };
    if (error || /\u0000/.test(value))
      return show(context, asking, {
        heading: 'Not signed up yet',
        sentence: 'That is not an e-mail address. Please go back and try again.',
        status: 400,
      });
    const said = /^\d{1,9}$/.test(String(req.query['post'] ?? '')) ? Number(req.query['post']) : 0;
    const post = await db('posts')
      .where({ id: said, blog_id: place.id })
      .first<{ id: number } | undefined>('id');
    await inTransaction(db, (trx) =>
      requestLetter(trx, { blogId: place.id, email: value, postId: post?.id ?? null }),
    );
    show(context, asking, {
      heading: 'Look into your mail',
      sentence:
        'A letter is on its way to this address. Say yes in it, and you are on the list; until then nothing is sent. ' +
        'If you are on the list already, none is sent.',
    });
  };

  const confirmForm = async (asking: Asking): Promise<void> => {
    const listed = await listedBy(db, asking.found[1]!);
    if (!listed || listed.blogId !== asking.place.id) return answer(asking, NOWHERE);
    const context = await contextAt(parts, asking.place);
    show(context, asking, {
      heading: `The letter of ${context.blog.title}`,
      sentence: 'One step more, so that no program that reads your mail says yes for you.',
      button: { action: `/letter/confirm/${asking.found[1]}`, label: 'Yes, send me the letter' },
    });
  };
  const confirm = async (asking: Asking): Promise<void> => {
    const listed = await listedBy(db, asking.found[1]!);
    if (!listed || listed.blogId !== asking.place.id) return answer(asking, NOWHERE);
    await inTransaction(db, (trx) => confirmLetter(trx, listed));
    await answer(asking, {
      heading: 'Thank you',
      sentence: 'You are on the list. The way out stands in every letter.',
    });
  };

  /**
   * A program that only follows links takes nobody off the list: leaving is a button, or one click of a mail
   * program.
   */
  const leaveForm = async (asking: Asking): Promise<void> => {
    if (!(await sendBy(db, asking.found[1]!))) return answer(asking, NOWHERE);
    const context = await contextAt(parts, asking.place);
    show(context, asking, {
      heading: `Leave the list of ${context.blog.title}?`,
      sentence: 'You get no more letters then. You can sign up again whenever you like.',
      button: { action: `/letter/leave/${asking.found[1]}`, label: 'Unsubscribe' },
    });
  };
  const leave = async (asking: Asking): Promise<void> => {
    const sent = await sendBy(db, asking.found[1]!);
    if (!sent) return answer(asking, NOWHERE);
    await inTransaction(db, (trx) => leaveList(trx, sent));
    await answer(asking, {
      heading: 'You are off the list',
      sentence: 'No letter comes any more; one that is on its way just now may still arrive.',
    });
  };

  const seen = async ({ req, res, place, found }: Asking): Promise<void> => {
    // A request for the head alone shows nothing to anybody.
    if (req.method === 'GET') await countOpened(db, place.id, found[1]!);
    res.set({ 'Content-Type': 'image/gif', 'Cache-Control': 'private, no-store' }).send(PIXEL);
  };
  const follow = async (asking: Asking): Promise<void> => {
    const counts = asking.req.method === 'GET';
    const url = await countClick(db, asking.place.id, asking.found[1]!, Number(asking.found[2]), counts);
    if (!url) return answer(asking, NOWHERE);
    asking.res.set('Cache-Control', 'private, no-store').redirect(302, url);
  };

  const at = (
    method: 'GET' | 'POST',
    pattern: RegExp,
    handle: (asking: Asking) => Promise<void>,
    ...guards: RequestHandler[]
  ) => Router().use(...atAddress(places, method, pattern, handle, ...guards));
  const ownPages = refuseOtherSites(settings.publicUrl);
  return [
    at('POST', /^\/letter$/, askFor, ownPages),
    at('GET', new RegExp(`^/letter/confirm/${KEY}$`), confirmForm),
    at('POST', new RegExp(`^/letter/confirm/${KEY}$`), confirm, ownPages),
    at('GET', new RegExp(`^/letter/leave/${KEY}$`), leaveForm),
    // Mail programs post here by themselves (RFC 8058, 3.2): from wherever they are.
    at('POST', new RegExp(`^/letter/leave/${KEY}$`), leave),
    at('GET', new RegExp(`^/letter/seen/${KEY}\\.gif$`), seen),
    at('GET', new RegExp(`^/letter/to/${KEY}/(\\d{1,4})$`), follow),
  ];
}
