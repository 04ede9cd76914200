import type { Request, Response } from 'express';
import type { StandIn } from './outlets.js';
import type { Store } from './store.js';

/**
 * Micropub (W3C Recommendation, 23 May 2017): creating entries as JSON or as a form, the media endpoint, and
 * `q=config`.
 */
export class Micropub {
  constructor(
    private readonly store: Store,
    private readonly outlet: StandIn,
    private readonly base: () => string,
  ) {}

  private mayNot(req: Request, res: Response): boolean {
    if (req.get('authorization') === `Bearer ${this.outlet.token}`) return false;
    res.status(req.get('authorization') ? 403 : 401).json({
      error: req.get('authorization') ? 'forbidden' : 'unauthorized',
      error_description: 'The token is not one of ours.',
    });
    return true;
  }

  config(req: Request, res: Response): void {
    if (this.mayNot(req, res)) return;
    if (req.query['q'] === 'config')
      res.json({
        'media-endpoint': `${this.base()}/${this.outlet.slug}/media`,
        q: ['config', 'source'],
        'post-types': [
          { type: 'note', name: 'Note' },
          { type: 'photo', name: 'Photo' },
        ],
      });
    else if (req.query['q'] === 'source') {
      const found = this.store.find(
        this.outlet.slug,
        String(req.query['url'] ?? '')
          .split('/')
          .pop() ?? '',
      );
      if (found)
        res.json({
          type: ['h-entry'],
          properties: { content: [found.text], published: [found.at], category: found.tags },
        });
      else
        res
          .status(400)
          .json({ error: 'invalid_request', error_description: 'There is nothing at that address.' });
    } else
      res
        .status(400)
        .json({ error: 'invalid_request', error_description: 'That question is not known here.' });
  }

  /**
   * Answers what was received, and whether it was here already. Null when it was refused; then the answer is
   * given.
   */
  create(req: Request, res: Response): { url: string } | null {
    if (this.mayNot(req, res)) return null;
    const refuse = (status: number, description: string) => {
      res.status(status).json({ error: 'invalid_request', error_description: description });
      return null;
    };
    const key = req.get('idempotency-key') ?? '';
    const known = this.outlet.knowsKeys ? this.store.byKey(this.outlet.slug, key) : undefined;
    const url = (id: string) => `${this.base()}/${this.outlet.slug}/${id}`;
    if (known) return { url: url(known.id) };
    const body = req.body as {
      type?: string[];
      h?: string;
      properties?: Record<string, unknown[]>;
      [field: string]: unknown;
    };
    const json = Array.isArray(body.type);
    if (json ? body.type![0] !== 'h-entry' : body.h !== 'entry')
      return refuse(400, 'Only entries can be made here.');
    const list = (name: string): unknown[] =>
      json ? (body.properties?.[name] ?? []) : [body[name] ?? body[`${name}[]`] ?? []].flat();
    const content = list('content')[0];
    const text =
      typeof content === 'string'
        ? content
        : String((content as { value?: string; html?: string } | undefined)?.value ?? '');
    const photos = list('photo').map((p) =>
      typeof p === 'string'
        ? { url: p, alt: '' }
        : { url: String((p as { value: string }).value), alt: String((p as { alt?: string }).alt ?? '') },
    );
    if (text === '' && photos.length === 0) return refuse(400, 'There is nothing in it.');
    if (
      this.outlet.max !== null &&
      [...new Intl.Segmenter('en', { granularity: 'grapheme' }).segment(text)].length > this.outlet.max
    )
      return refuse(400, `It is longer than ${this.outlet.max} signs.`);
    // An entry may say when it was published (h-entry); one that says a time to come is taken as of now.
    const published = Date.parse(String(list('published')[0] ?? ''));
    const made = this.store.add({
      at: published <= Date.now() ? new Date(published).toISOString() : undefined,
      outlet: this.outlet.slug,
      key,
      title: String(list('name')[0] ?? ''),
      text,
      html: '',
      tags: list('category').map(String),
      photos,
      replyTo: String(list('in-reply-to')[0] ?? ''),
      link: /https?:\/\/\S+/.exec(text)?.[0] ?? '',
    });
    return { url: url(made.id) };
  }

  media(req: Request, res: Response): void {
    if (this.mayNot(req, res)) return;
    if (!req.file)
      return void res
        .status(400)
        .json({ error: 'invalid_request', error_description: 'There is no file in it.' });
    res
      .status(201)
      .location(`${this.base()}/pictures/${this.store.storePicture(req.file.buffer)}`)
      .end();
  }
}
