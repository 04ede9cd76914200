import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { Request, Response } from 'express';
import type { StandIn } from './outlets.js';
import type { Store } from './store.js';

/** A hub and one subscriber, as in WebSub (W3C Recommendation, 23 January 2018). */
export class Hub {
  private readonly subscriptions = new Map<
    string,
    { callback: string; topic: string; secret: string; until: number }
  >();
  readonly log: string[] = [];

  /** Sections 5.1 and 7: what subscribers and publishers ask of a hub. */
  request(req: Request, res: Response): void {
    const {
      'hub.mode': mode,
      'hub.topic': topic,
      'hub.url': url,
      'hub.callback': callback,
      'hub.secret': secret = '',
      'hub.lease_seconds': lease,
    } = req.body as Record<string, string | undefined>;
    if (mode === 'publish') {
      const about = topic ?? url;
      if (!about) return void res.status(400).send('hub.url is missing');
      res.status(202).end();
      void this.distribute(about);
      return;
    }
    if (
      (mode !== 'subscribe' && mode !== 'unsubscribe') ||
      !topic ||
      !callback ||
      Buffer.byteLength(secret) > 200
    )
      return void res.status(400).send('hub.mode, hub.topic or hub.callback is missing or not known');
    res.status(202).end();
    void this.verify(mode, topic, callback, secret, Number(lease ?? 864_000));
  }

  /** Section 5.3: a subscriber must repeat the challenge. */
  private async verify(
    mode: string,
    topic: string,
    callback: string,
    secret: string,
    lease: number,
  ): Promise<void> {
    const challenge = randomBytes(16).toString('hex');
    const asked = new URL(callback);
    for (const [k, v] of Object.entries({
      'hub.mode': mode,
      'hub.topic': topic,
      'hub.challenge': challenge,
      'hub.lease_seconds': String(lease),
    }))
      asked.searchParams.set(k, v);
    const answer = await fetch(asked)
      .then(async (r) => (r.ok ? r.text() : ''))
      .catch(() => '');
    if (answer !== challenge) return void this.log.push(`${mode} of ${topic}: not confirmed`);
    const key = `${callback} ${topic}`;
    if (mode === 'subscribe')
      this.subscriptions.set(key, { callback, topic, secret, until: Date.now() + lease * 1000 });
    else this.subscriptions.delete(key);
    this.log.push(`${mode} of ${topic}: confirmed`);
  }

  /**
   * Section 7: the hub fetches the topic and hands it to all who subscribed, signed when they gave a secret.
   */
  private async distribute(topic: string): Promise<void> {
    const feed = await fetch(topic).catch(() => null);
    if (!feed?.ok) return void this.log.push(`${topic}: could not be fetched`);
    const body = Buffer.from(await feed.arrayBuffer());
    for (const s of this.subscriptions.values()) {
      if (s.topic !== topic || s.until < Date.now()) continue;
      const headers: Record<string, string> = {
        'content-type': feed.headers.get('content-type') ?? 'application/octet-stream',
        link: `<${topic}>; rel="self"`,
      };
      if (s.secret)
        headers['x-hub-signature'] = `sha256=${createHmac('sha256', s.secret).update(body).digest('hex')}`;
      await fetch(s.callback, { method: 'POST', headers, body }).catch(() => undefined);
    }
  }
}

interface FeedItem {
  id: string;
  title?: string;
  content_text?: string;
  url?: string;
  tags?: string[];
  image?: string;
  _image_alt?: string;
}

/** A partner's site that subscribes to a JSON Feed and shows what is in it. */
export class Subscriber {
  private topics = new Set<string>();
  constructor(
    private readonly store: Store,
    private readonly outlet: StandIn,
    private readonly base: () => string,
  ) {}

  /** Section 4: the topic names its hub in its Link headers. */
  async subscribe(topic: string): Promise<string> {
    const feed = await fetch(topic);
    const links = (feed.headers.get('link') ?? '').split(/,\s*(?=<)/);
    const named = (rel: string) =>
      links.map((l) => /<([^>]+)>\s*;.*rel="?([^";]+)"?/.exec(l)).find((m) => m?.[2] === rel)?.[1];
    const [hub, self] = [named('hub'), named('self') ?? topic];
    if (!hub) return 'The feed names no hub.';
    this.topics.add(self);
    await this.storeItems(JSON.parse(await feed.text()) as { items: FeedItem[] });
    await fetch(hub, {
      method: 'POST',
      body: new URLSearchParams({
        'hub.mode': 'subscribe',
        'hub.topic': self,
        'hub.callback': `${this.base()}/${this.outlet.slug}/callback`,
        'hub.secret': this.outlet.token,
      }),
    });
    return `Subscribed to ${self}.`;
  }

  confirm(req: Request, res: Response): void {
    if (this.topics.has(String(req.query['hub.topic'])))
      res.type('text').send(String(req.query['hub.challenge']));
    else res.status(404).end();
  }

  async receive(req: Request, res: Response): Promise<void> {
    const body = req.body as Buffer;
    const said = Buffer.from(req.get('x-hub-signature') ?? '');
    const wanted = Buffer.from(
      `sha256=${createHmac('sha256', this.outlet.token).update(body).digest('hex')}`,
    );
    // Section 8: what is not signed as agreed is answered as received and not used.
    if (said.length === wanted.length && timingSafeEqual(said, wanted))
      await this.storeItems(JSON.parse(body.toString('utf8')) as { items: FeedItem[] });
    res.status(202).end();
  }

  private async storeItems(feed: { items: FeedItem[] }): Promise<void> {
    for (const item of [...feed.items].reverse()) {
      if (this.store.byKey(this.outlet.slug, item.id)) continue;
      this.store.add({
        outlet: this.outlet.slug,
        key: item.id,
        title: item.title ?? '',
        text: item.content_text ?? '',
        html: '',
        tags: item.tags ?? [],
        photos: item.image ? [{ url: item.image, alt: item._image_alt ?? '' }] : [],
        replyTo: '',
        link: item.url ?? '',
      });
    }
  }
}
