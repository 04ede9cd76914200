import { createHmac, timingSafeEqual } from 'node:crypto';
import type { Request, Response } from 'express';
import type { StandIn } from './outlets.js';
import type { Store } from './store.js';

const LATE_SECONDS = 300;

/**
 * Takes signed webhooks as the open specification Standard Webhooks has them: `webhook-id`,
 * `webhook-timestamp` and `webhook-signature`.
 */
export function receiveHook(
  store: Store,
  outlet: StandIn,
  base: () => string,
  req: Request,
  res: Response,
): void {
  const [id, at, signatures] = [
    req.get('webhook-id') ?? '',
    req.get('webhook-timestamp') ?? '',
    req.get('webhook-signature') ?? '',
  ];
  const body = (req.body as Buffer).toString('utf8');
  const wanted = Buffer.from(
    createHmac('sha256', Buffer.from(outlet.token.slice('whsec_'.length), 'base64'))
      .update(`${id}.${at}.${body}`)
      .digest('base64'),
  );
  const signed = signatures.split(' ').some((s) => {
    const said = Buffer.from(s.replace(/^v1,/, ''));
    return s.startsWith('v1,') && said.length === wanted.length && timingSafeEqual(said, wanted);
  });
  if (!signed || Math.abs(Date.now() / 1000 - Number(at)) > LATE_SECONDS)
    return void res.status(401).json({ error: 'The signature is not right.' });
  const known = store.byKey(outlet.slug, id);
  const { data } = JSON.parse(body) as {
    data: {
      title?: string;
      text?: string;
      tags?: string[];
      pictures?: { url: string; alt: string }[];
      url?: string;
    };
  };
  const made =
    known ??
    store.add({
      outlet: outlet.slug,
      key: id,
      title: data.title ?? '',
      text: data.text ?? '',
      html: '',
      tags: data.tags ?? [],
      photos: data.pictures ?? [],
      replyTo: '',
      link: data.url ?? '',
    });
  res.status(known ? 200 : 201).json({ url: `${base()}/${outlet.slug}/${made.id}` });
}
