import express, { Router } from 'express';
import { escape } from './pages.js';

interface Note {
  id: number;
  about: string;
  text: string;
  /** What became of telling the page that it is about. */
  answer: string;
}

const page = (title: string, body: string) =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">` +
  `<title>${escape(title)}</title></head><body><main><h1>${escape(title)}</h1>${body}</main></body></html>`;

/** Where a page takes mentions: the first link that says so, in its head lines or its text. Enough for a stand-in. */
async function endpointOf(address: string): Promise<string | null> {
  const answer = await fetch(address);
  const header = /<([^>]*)>\s*;[^,]*rel="?[^",]*\bwebmention\b/i.exec(answer.headers.get('link') ?? '');
  const element = /<(?:link|a)\b[^>]*\brel="?webmention"?[^>]*>/i.exec(await answer.text());
  const href = header?.[1] ?? /\bhref="([^"]*)"/i.exec(element?.[0] ?? '')?.[1];
  return href === undefined ? null : new URL(href, answer.url).href;
}

/**
 * A notebook on the open web, kept in memory: notes about pages elsewhere, which are notified, and what other pages
 * say about its own (W3C Recommendation Webmention, 2017).
 */
export function notebook(base: () => string): Router {
  const notes: Note[] = [];
  const mentions: { source: string; target: string }[] = [];
  const router = Router();
  router.use(express.urlencoded({ extended: false, limit: '20kb' }));

  router.get('/', (_req, res) => {
    const list = notes.map(
      (n) => `<li><a href="/notebook/${n.id}">${escape(n.text.slice(0, 60))}</a> (${escape(n.answer)})</li>`,
    );
    const said = mentions.map((m) => `<li>${escape(m.source)} mentions ${escape(m.target)}</li>`);
    const form =
      '<form method="post" action="/notebook/"><p><label>About <input name="about" type="url" required size="50"></label></p>' +
      '<p><label>Note <input name="text" required size="50"></label></p><button type="submit">Write it</button></form>';
    res.send(
      page(
        'A notebook',
        `${form}<h2>Notes</h2><ul>${list.join('')}</ul><h2>Said of them</h2><ul>${said.join('')}</ul>`,
      ),
    );
  });

  router.post('/', async (req, res) => {
    const { about = '', text = '' } = req.body as Partial<Record<string, string>>;
    if (!/^https?:\/\//.test(about) || !URL.canParse(about) || text.trim() === '')
      return void res.status(400).send(page('Not written', '<p>It needs an address and some words.</p>'));
    const note: Note = { id: notes.length + 1, about, text: text.trim(), answer: 'nobody told yet' };
    notes.push(note);
    try {
      const endpoint = await endpointOf(about);
      if (endpoint === null) note.answer = 'takes no mentions';
      else {
        const source = `${base()}/notebook/${note.id}`;
        const told = await fetch(endpoint, {
          method: 'POST',
          body: new URLSearchParams({ source, target: about }),
        });
        note.answer = told.ok ? 'told' : `refused: ${(await told.text()).slice(0, 80)}`;
      }
    } catch {
      note.answer = 'could not be reached';
    }
    res.redirect(303, '/notebook/');
  });

  router.post('/webmention', (req, res) => {
    const { source = '', target = '' } = req.body as Partial<Record<string, string>>;
    if (!URL.canParse(source) || !target.startsWith(`${base()}/notebook/`))
      return void res.status(400).send('No.');
    mentions.push({ source, target });
    res.status(202).send('Taken.');
  });

  router.get('/:id', (req, res) => {
    const note = notes[Number(req.params.id) - 1];
    if (!note) return void res.status(404).send(page('Nothing here', ''));
    const link = `<link rel="webmention" href="/notebook/webmention">`;
    res.send(
      page(
        note.text.slice(0, 60),
        `<p>${escape(note.text)}</p><p>About <a href="${escape(note.about)}">this page</a></p>`,
      ).replace('</head>', `${link}</head>`),
    );
  });
  return router;
}
