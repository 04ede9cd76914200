import { Router, type RequestHandler } from 'express';
import { addressOf } from '../http/address-of.js';
import { parse as parseCookie, stringifySetCookie } from 'cookie';
import Joi from 'joi';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import {
  MAX_COMMENT,
  MAX_COMMENT_NAME,
  anybody,
  plainComment,
  whyClosed,
  type CommentState,
} from '@keyroster/core';
import { commenterCookie, type Identities } from '../access/identity.js';
import { readable } from '../access/readable.js';
import { digestOf, newSecret } from '../http/secrets.js';
import { mayAnswer, receiveComment } from '../comments/arrive.js';
import { databaseNow } from '../db/now.js';
import type { Services } from '../http/services.js';
import { refuseOtherSites } from '../http/origin.js';
import type { RequesterOf } from './requester.js';
import { framed, type Context } from './context.js';
import { atAddress, contextAt, sendOwn, type Asking } from './forms.js';
import { cookiePath, type Place, type Places } from './places.js';
import { pathIn } from './reader-blog.js';
import { inTransaction } from '../db/write.js';

/** Comments that one address may send in a minute and in an hour, and that one post takes in a minute. */
const LIMITS = [
  { points: 4, duration: 60 },
  { points: 30, duration: 3600 },
] as const;
const PER_POST = { points: 60, duration: 60 };
const KNOWN_SECONDS = 2 * 365 * 24 * 3600;

const email = Joi.string().trim().lowercase().max(254).email({ tlds: false }).allow('').required();

/** A post under which something is said. */
interface Target {
  id: number;
  title: string;
  path: string;
}

/** Where readers say something under a post: a form that works without script, and what it answers. */
export function commentPages(
  parts: Services & { places: Places; identities: Identities },
  requesterOf: RequesterOf,
): RequestHandler[] {
  const { db, settings, places, identities } = parts;
  const perAddress = LIMITS.map((limit) => new RateLimiterMemory(limit));
  const perPost = new RateLimiterMemory(PER_POST);

  /** The post, if this reader may read it and say something under it. */
  const targetOf = async (context: Context, postId: number): Promise<Target | null> => {
    const { blog } = context;
    const post = await readable(db, blog)
      .join('posts as d', 'd.id', 'posts.id')
      .where('posts.id', postId)
      .first<
        { title: string; slug: string; runLocal: string; runAt: string | null; comments: boolean } | undefined
      >('posts.title', 'posts.slug', 'posts.run_local as runLocal', 'posts.run_at as runAt', 'd.comments');
    if (!post || whyClosed(blog.settings, post, await databaseNow(db)) !== null) return null;
    return { id: postId, title: post.title, path: pathIn(blog, post) };
  };
  const noPlace = (context: Context, asking: Asking) =>
    sendOwn(
      asking.res,
      framed(context, 'letter', {
        title: 'Comments',
        heading: 'Nothing can be said here',
        sentence: 'There is no such post, or its comments are closed.',
        noindex: true,
        status: 404,
      }),
    );
  const form = (context: Context, asking: Asking, frame: Record<string, unknown>, status = 200) =>
    sendOwn(
      asking.res,
      framed(context, 'comment', {
        title: 'Comment',
        noindex: true,
        status,
        name: '',
        email: '',
        text: '',
        refused: {},
        ...frame,
      }),
    );
  /** Who works for the blog says things in their own name, and may say them under what only staff read. */
  const contextOf = async ({ req, res, place }: Asking): Promise<Context> => {
    const person = await requesterOf(req, res, place.id);
    const { reader } = await identities.of(req.headers.cookie, place.id);
    const rights = person ? { ...anybody(), staff: true } : reader.rights;
    return { ...(await contextAt(parts, place, rights)), person };
  };

  /** The form for an answer to a comment. */
  const answerForm = async (asking: Asking): Promise<void> => {
    const context = await contextOf(asking);
    const parent = await db('comments')
      .where({ id: Number(asking.found[1]), blog_id: asking.place.id, state: 'approved', parent_id: null })
      .first<{ id: number; postId: number; name: string; text: string } | undefined>(
        'id',
        'post_id as postId',
        'name',
        'text',
      );
    const target = parent && (await targetOf(context, parent.postId));
    if (!target) return noPlace(context, asking);
    form(context, asking, { target, parent, heading: `Answer ${parent.name}` });
  };

  const receive = async (asking: Asking): Promise<void> => {
    const { req, place, field } = asking;
    const context = await contextOf(asking);
    const idOf = (name: string) => (/^\d{1,9}$/.test(field(name)) ? Number(field(name)) : 0);
    const target = await targetOf(context, idOf('post'));
    const parentId = idOf('parent') || null;
    if (!target || (parentId !== null && !(await mayAnswer(db, target.id, parentId))))
      return noPlace(context, asking);
    const parent = parentId === null ? null : { id: parentId, name: '', text: '' };
    const person = context.person ?? null;
    const name = person ? person.name : plainComment(field('name')).replace(/\n/g, ' ');
    const text = plainComment(field('text'));
    const address = email.validate(person ? '' : field('email')) as { value: string; error?: Error };
    const refused = {
      ...(name === '' ? { name: 'Say by which name you are called.' } : {}),
      ...(name.length > MAX_COMMENT_NAME ? { name: `At most ${MAX_COMMENT_NAME} characters.` } : {}),
      ...(address.error ? { email: 'That is not an e-mail address; it may stay empty.' } : {}),
      ...(text === '' ? { text: 'There are no words in it yet.' } : {}),
      ...(text.length > MAX_COMMENT
        ? { text: `It has ${text.length} characters; ${MAX_COMMENT} are the most.` }
        : {}),
    };
    const typed = {
      target,
      parent,
      name,
      email: field('email').slice(0, 254),
      text,
      heading: 'One thing is missing',
    };
    if (Object.keys(refused).length > 0) return form(context, asking, { ...typed, refused }, 400);
    try {
      await Promise.all([
        ...perAddress.map((limiter) => limiter.consume(addressOf(req))),
        perPost.consume(target.id),
      ]);
    } catch {
      const sentence = 'Many comments came just now. Nothing is lost: please send it again in a minute.';
      return form(context, asking, { ...typed, heading: 'One moment', refused: { form: sentence } }, 429);
    }
    const { reader } = await identities.of(req.headers.cookie, place.id);
    const brought = parseCookie(req.headers.cookie ?? '')[commenterCookie(place.id)];
    const key = brought && /^[\w-]{43}$/.test(brought) ? brought : newSecret();
    const { id, state } = await inTransaction(db, (trx) =>
      receiveComment(
        trx,
        {
          blogId: place.id,
          postId: target.id,
          parentId,
          name,
          email: address.value,
          text,
          memberId: person ? null : reader.memberId,
          authorKey: person ? null : digestOf(key),
          personId: person ? person.id : null,
          // Nobody sees this field; what fills it in is a program.
          trapped: field('website') !== '',
        },
        context.blog.settings.commentsHold,
      ),
    );
    if (!person) knowAgain(asking, place, key);
    answer(context, asking, target, id, state);
  };

  const knowAgain = ({ res }: Asking, place: Place, key: string) =>
    res.append(
      'Set-Cookie',
      stringifySetCookie(commenterCookie(place.id), key, {
        httpOnly: true,
        sameSite: 'lax',
        secure: settings.publicUrl.startsWith('https:'),
        path: cookiePath(place, settings.publicUrl),
        maxAge: KNOWN_SECONDS,
      }),
    );

  /** Spam is told what all others are told that wait: nothing is learned from the answer. */
  const answer = (context: Context, { res }: Asking, target: Target, id: number, state: CommentState) => {
    if (state === 'approved') {
      res.set('Cache-Control', 'no-store').redirect(303, `${target.path}#comment-${id}`);
      return;
    }
    sendOwn(
      res,
      framed(context, 'letter', {
        title: 'Thank you',
        heading: 'Thank you',
        sentence: 'Your comment is here. Others see it once somebody of the blog has read it.',
        back: { href: target.path, label: target.title },
        noindex: true,
      }),
    );
  };

  const at = (method: 'GET' | 'POST', pattern: RegExp, handle: (asking: Asking) => Promise<void>) => {
    const guards = method === 'POST' ? [refuseOtherSites(settings.publicUrl)] : [];
    return Router().use(...atAddress(places, method, pattern, handle, ...guards));
  };
  return [at('GET', /^\/comment\/(\d{1,9})$/, answerForm), at('POST', /^\/comment$/, receive)];
}
