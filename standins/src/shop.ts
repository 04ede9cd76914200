import { request } from 'node:http';
import { Router, type Request, type Response } from 'express';
import { escape } from './pages.js';

/** The shop's own pages. */
const PAGES: Record<string, { name: string; says: string }> = {
  shop: {
    name: 'Shop',
    says: 'Rope by the fathom, fenders, lamp glasses, and a windlass that fits the palm of your hand.',
  },
  repairs: { name: 'Repairs', says: 'Bring it on Tuesdays. Fenders are plaited while you wait.' },
  visit: { name: 'Where we are', says: 'At the bottom of the Hallow flight, on the side without the mud.' },
};

/** The shop's look, as a theme file that whatever stands in the shop may take over. */
const theme = (url: string) => ({
  name: 'Ropewalk Stores',
  home: `${url}/ropewalk/shop`,
  color: {
    paper: { $type: 'color', $value: '#fffaf0' },
    sheet: { $type: 'color', $value: '#ffffff' },
    ink: { $type: 'color', $value: '#2a1c0b' },
    soft: { $type: 'color', $value: '#5f4f34' },
    line: { $type: 'color', $value: '#e2d5ba' },
    act: { $type: 'color', $value: '#8a3d00' },
  },
  font: {
    titles: { $type: 'fontFamily', $value: ['Hanken', 'sans-serif'] },
    text: { $type: 'fontFamily', $value: ['Hanken', 'sans-serif'] },
  },
  header: [
    ...Object.entries(PAGES).map(([path, { name }]) => ({ label: name, url: `${url}/ropewalk/${path}` })),
    { label: 'Journal', url: `${url}/ropewalk/journal/` },
  ],
  footer: [
    { label: 'Delivery and returns', url: `${url}/ropewalk/repairs` },
    { label: 'Where we are', url: `${url}/ropewalk/visit` },
  ],
});

const page = (url: string, { name, says }: { name: string; says: string }) => {
  const { header, color } = theme(url);
  const links = header.map((l) => `<a href="${escape(l.url)}">${escape(l.label)}</a>`).join(' ');
  return (
    `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">` +
    `<title>${escape(name)} · Ropewalk Stores</title><style>body{margin:0;font:18px/1.5 sans-serif;` +
    `background:${color.paper.$value};color:${color.ink.$value}}header{background:${color.ink.$value};padding:.8rem 2rem}` +
    `header a{color:${color.paper.$value};margin-right:1.3rem;text-decoration:none}main{padding:1rem 2rem;max-width:40rem}</style>` +
    `<header><a href="${url}/ropewalk/shop"><b>Ropewalk Stores</b></a>${links}</header>` +
    `<main><h1>${escape(name)}</h1><p>${escape(says)}</p></main></html>`
  );
};

/**
 * A shop with a menu of its own, and a journal under one of its paths that another server makes: what is asked for
 * there is passed on as it is, under the shop's own host, as any proxy in front of a site does it.
 */
export function shop(base: () => string, journal: string | null): Router {
  const router = Router();
  for (const [path, shown] of Object.entries(PAGES))
    router.get(`/ropewalk/${path}`, (_req, res) => {
      res.send(page(base(), shown));
    });
  router.get('/ropewalk/theme.json', (_req, res) => {
    res.json(theme(base()));
  });
  router.all('/ropewalk/journal{/*rest}', (req, res) => {
    if (journal === null) res.status(503).type('text').send('The journal is not open yet.');
    else passOn(req, res, new URL(journal));
  });
  return router;
}

function passOn(req: Request, res: Response, to: URL): void {
  const { hostname, port } = to;
  const asked = request({ hostname, port, path: req.originalUrl, method: req.method, headers: req.headers });
  asked.on('response', (answer) => {
    res.writeHead(answer.statusCode ?? 502, answer.headers);
    answer.pipe(res);
  });
  asked.on('error', () => {
    if (!res.headersSent) res.status(502).type('text').send('The journal cannot be reached just now.');
  });
  req.pipe(asked);
}
