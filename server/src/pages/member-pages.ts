import { Router, type RequestHandler, type Response } from 'express';
import { addressOf } from '../http/address-of.js';
import { parse as parseCookie, stringifySetCookie } from 'cookie';
import Joi from 'joi';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { memberCookie, openedCookie, type Identities } from '../access/identity.js';
import { SESSION_DAYS, requestLink, endMemberSession, linkIsGood, useLink } from '../access/members.js';
import { PREVIEW_COOKIE, followPreviewLink } from '../access/preview-links.js';
import type { PasswordTries } from '../access/password-tries.js';
import type { Services } from '../http/services.js';
import { refuseOtherSites } from '../http/origin.js';
import { findPost } from '../posts/store.js';
import { framed, type Context } from './context.js';
import { atAddress, backPath, contextAt, sendOwn, type Asking } from './forms.js';
import { gatePage } from './gate-page.js';
import { previewOf } from './pages.js';
import { HTML } from './templates.js';
import { cookiePath, homeOf, type Place, type Places } from './places.js';
import { inTransaction } from '../db/write.js';

/** Links that one address may ask for in ten minutes; more is a machine. */
const MAX_ASKED = 20;
const DAY_SECONDS = 24 * 3600;
/** How long a browser keeps that a password was given. */
const OPENED_DAYS = 30;

const email = Joi.string().trim().lowercase().max(254).email({ tlds: false }).required();

const SENT =
  'If this address can sign in, a letter is on its way to it, with a link that works for half an hour. ' +
  'Nothing there? Look among what your mail takes for spam.';

type Parts = Services & { places: Places; identities: Identities; tries: PasswordTries };

/**
 * Where readers show what opens more to them: members by a link in an e-mail, posts by a password, a preview
 * by a link.
 */
export function memberPages(parts: Parts): RequestHandler[] {
  const { db, settings, places, identities, tries } = parts;
  const limiter = new RateLimiterMemory({ points: MAX_ASKED, duration: 600 });
  const secure = settings.publicUrl.startsWith('https:');

  const keep = (res: Response, place: Place, name: string, value: string, days: number) =>
    res.append(
      'Set-Cookie',
      stringifySetCookie(name, value, {
        httpOnly: true,
        sameSite: 'lax',
        secure,
        path: cookiePath(place, settings.publicUrl),
        maxAge: Math.round(days * DAY_SECONDS),
      }),
    );
  const leadTo = async (res: Response, place: Place, path: string): Promise<void> => {
    const { blog } = await contextAt(parts, place);
    res.set('Cache-Control', 'no-store').redirect(303, `${blog.prefix}${path}`);
  };
  const show = (res: Response, context: Context, frame: Record<string, unknown>, status = 200) =>
    sendOwn(res, framed(context, 'sign-in', { title: 'Members', noindex: true, status, ...frame }));

  const signInForm = async ({ req, res, place }: Asking): Promise<void> => {
    const { reader } = await identities.of(req.headers.cookie, place.id);
    const context = await contextAt(parts, place, reader.rights);
    if (reader.memberId !== null)
      return show(res, context, {
        heading: 'You are signed in',
        sentence: `You read ${context.blog.title} as a member, here and wherever else you sign in.`,
        form: 'out',
      });
    const back = backPath(new URL(req.url, 'http://here').searchParams.get('back') ?? '');
    show(res, context, { ...asksFor(context), back });
  };
  const asksFor = ({ blog }: Context) => ({
    heading: 'Members',
    sentence: blog.settings.members
      ? 'Say your e-mail address, and a link comes to it that signs you in. Who is new is a member with that; there is no password.'
      : `New members are not taken just now. Who is one signs in with their e-mail address.`,
    form: 'address',
  });

  const askLink = async ({ req, res, place, field }: Asking): Promise<void> => {
    const context = await contextAt(parts, place);
    const back = backPath(field('back'));
    const refuse = (status: number, refused: string) =>
      show(res, context, { ...asksFor(context), back, email: field('email').slice(0, 254), refused }, status);
    try {
      await limiter.consume(addressOf(req));
    } catch {
      return refuse(429, 'That was a little often. Please try again in ten minutes.');
    }
    const { value, error } = email.validate(field('email')) as { value: string; error?: Error };
    if (error || /\u0000/.test(value)) return refuse(400, 'That is not an e-mail address.');
    // Nobody sees this field; what fills it in is a program, which gets the same answer and no letter.
    if (field('website') === '')
      await inTransaction(db, (trx) =>
        requestLink(
          trx,
          { blogId: place.id, email: value, back, newMembers: context.blog.settings.members },
          (secret) => `${homeOf(place, settings.publicUrl)}/sign-in/${secret}`,
        ),
      );
    show(res, context, { heading: 'Look into your mail', sentence: SENT, form: 'none' });
  };

  const USED = {
    heading: 'This link leads nowhere any more',
    sentence: 'It was used already, or it is older than half an hour. Ask for another one.',
    form: 'address',
    back: '/',
  };
  const linkForm = async ({ res, place, found }: Asking): Promise<void> => {
    const context = await contextAt(parts, place);
    if (!(await linkIsGood(db, place.id, found[1]!))) return show(res, context, USED, 410);
    const sentence = `One step more, so that no program that reads your mail signs in for you.`;
    show(res, context, { heading: `Sign in to ${context.blog.title}`, sentence, form: 'link' });
  };
  const followLink = async ({ req, res, place, found }: Asking): Promise<void> => {
    const { reader } = await identities.of(req.headers.cookie, place.id);
    const used = await inTransaction(db, (trx) => useLink(trx, place.id, found[1]!, reader.firstVisit));
    if (!used) return show(res, await contextAt(parts, place), USED, 410);
    keep(res, place, memberCookie(place.id), used.session, SESSION_DAYS);
    await leadTo(res, place, used.back);
  };
  const signOut = async ({ req, res, place }: Asking): Promise<void> => {
    const session = parseCookie(req.headers.cookie ?? '')[memberCookie(place.id)];
    if (session) await endMemberSession(db, session);
    keep(res, place, memberCookie(place.id), '', 0);
    await leadTo(res, place, '/');
  };

  const open = async ({ req, res, place, field }: Asking): Promise<void> => {
    const postId = /^\d{1,9}$/.test(field('post')) ? Number(field('post')) : 0;
    const post = await db('posts')
      .where({ id: postId, blog_id: place.id, stage: 'published', access: 'password' })
      .first<{ slug: string; password: string } | undefined>('slug', 'reading_password as password');
    const back = backPath(field('back'));
    // A post that asks for no password any more is looked at as it is now.
    if (!post) return leadTo(res, place, back);
    const came = await tries.try(postId, addressOf(req), field('password').slice(0, 200), post.password);
    if (came === 'right') {
      const marks = identities.withOpened(req.headers.cookie, place.id, postId, post.password);
      keep(res, place, openedCookie(place.id), marks, OPENED_DAYS);
      return leadTo(res, place, back);
    }
    const { reader } = await identities.of(req.headers.cookie, place.id);
    const page = await gatePage(await contextAt(parts, place, reader.rights), post.slug, back, came);
    if (page) sendOwn(res, { ...page, status: came === 'wrong' ? 403 : 429 });
    else await leadTo(res, place, back);
  };

  const preview = async ({ res, place, found }: Asking): Promise<void> => {
    const link = await followPreviewLink(db, found[1]!);
    const row = link && (await findPost(db, link.blogId, link.postId));
    if (!row) {
      const context = await contextAt(parts, place);
      const sentence =
        'The link was revoked or has expired. Ask the person who gave it to you for a new one.';
      return show(res, context, { heading: 'This preview is over', sentence, form: 'none' }, 410);
    }
    const days = (Date.parse(link.expiresAt) - Date.now()) / 1000 / DAY_SECONDS;
    keep(res, place, PREVIEW_COOKIE, found[1]!, days);
    const body = await previewOf(db, settings, row);
    // The address is the secret: it is told to no other site.
    sendOwn(res, { status: 200, type: HTML, body, tags: [] }, { 'Referrer-Policy': 'no-referrer' });
  };

  const SECRET = '[\\w-]{43}';
  const at = (method: 'GET' | 'POST', pattern: RegExp, answer: (asking: Asking) => Promise<void>) => {
    const guards = method === 'POST' ? [refuseOtherSites(settings.publicUrl)] : [];
    return Router().use(...atAddress(places, method, pattern, answer, ...guards));
  };
  return [
    at('GET', /^\/sign-in$/, signInForm),
    at('POST', /^\/sign-in$/, askLink),
    at('GET', new RegExp(`^/sign-in/(${SECRET})$`), linkForm),
    at('POST', new RegExp(`^/sign-in/(${SECRET})$`), followLink),
    at('POST', /^\/sign-out$/, signOut),
    at('POST', /^\/open$/, open),
    at('GET', new RegExp(`^/preview/(${SECRET})$`), preview),
  ];
}
