import type { StandIn } from './outlets.js';
import { STAND_INS } from './outlets.js';
import { figuresOf } from './readers.js';
import type { Manners, Received } from './store.js';

export const escape = (text: string) => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
const linked = (text: string) =>
  escape(text).replace(
    /https?:&#47;&#47;|https?:\/\/[^\s<&]+/g,
    (url) => `<a rel="nofollow noopener" href="${url}">${url.replace(/^https?:\/\//, '')}</a>`,
  );

const STYLE = `
*{box-sizing:border-box}
body{margin:0;font:15px/1.5 system-ui,"DejaVu Sans",sans-serif;background:#f5f4f0;color:#1c1c1a}
header{background:var(--hue);color:#fff;padding:14px 20px;display:flex;gap:14px;align-items:baseline;flex-wrap:wrap}
header a{color:#fff}
h1{font-size:20px;margin:0}
h1 a{text-decoration:none}
main{max-width:640px;margin:18px auto;padding:0 14px}
article{background:#fff;border:1px solid #ddd9cf;padding:14px 16px;margin-bottom:12px}
article article{margin:10px 0 0 14px;border-left:3px solid var(--hue)}
article h2{font-size:16px;margin:0 0 6px}
p{white-space:pre-wrap;margin:0 0 8px;overflow-wrap:anywhere}
img{max-width:100%;height:auto;display:block;margin:8px 0}
.soft,time{color:#5f5d55;font-size:13px}
a{color:var(--hue)}
iframe{width:100%;height:320px;border:1px solid #ddd9cf;background:#fff}
label{display:block;margin:10px 0}
input[type=number],select{font:inherit;padding:4px;margin-left:6px}
button{font:inherit;padding:6px 12px;background:var(--hue);color:#fff;border:0;cursor:pointer}
`;

const page = (title: string, hue: string, body: string) =>
  '<!doctype html><html lang="en"><head><meta charset="utf-8">' +
  '<meta name="viewport" content="width=device-width, initial-scale=1">' +
  `<title>${escape(title)}</title><style>:root{--hue:${hue}}${STYLE}</style></head><body>${body}</body></html>`;

const header = (name: string, about: string) => `<header><h1>${name}</h1><span>${about}</span></header>`;
const home = (outlet: StandIn) => `<a href="/${outlet.slug}/">${escape(outlet.name)}</a>`;

/** What was received, as it is before the outlet's readers, with the answers to it below. */
function thing(outlet: StandIn, received: Received, all: readonly Received[], now: Date): string {
  const at = `/${outlet.slug}/${received.id}`;
  const answers = all.filter((r) => r.replyTo !== '' && r.replyTo.endsWith(at));
  const showsTags = received.tags.length > 0 && !/#/.test(received.text);
  return [
    `<article id="${received.id}">`,
    received.title && `<h2>${escape(received.title)}</h2>`,
    ...received.photos.map((p) => `<img src="${escape(p.url)}" alt="${escape(p.alt)}">`),
    received.html
      ? `<iframe sandbox title="The letter as it came" srcdoc="${escape(received.html)}"></iframe>`
      : `<p>${linked(received.text)}</p>`,
    received.leave && `<form method="post" action="${at}/unsubscribe"><button>Unsubscribe</button></form>`,
    showsTags && `<p class="soft">${received.tags.map(escape).join(' · ')}</p>`,
    `<div class="soft"><a href="${at}"><time datetime="${received.at}">`,
    `${received.at.slice(0, 16).replace('T', ' ')} UTC</time></a>${readBy(outlet, received, now)}</div>`,
    ...answers.map((a) => thing(outlet, a, all, now)),
    '</article>',
  ]
    .filter(Boolean)
    .join('');
}

function readBy(outlet: StandIn, received: Received, now: Date): string {
  if (outlet.followers === 0) return '';
  const f = figuresOf(received, outlet.followers, now);
  const clicks = received.link ? ` · ${f.clicks} clicks` : '';
  return ` · ${f.views.toLocaleString('en')} views · ${f.passedOn} passed on · ${f.replies} replies${clicks}`;
}

/** More would be too much to look at. */
const MAX_FOUND = 200;

/** What an outlet shows to its readers, newest first, threads together. */
export function outletPage(
  outlet: StandIn,
  all: readonly Received[],
  only: Received | null,
  now: Date,
): string {
  const shown = only
    ? [only]
    : all
        .filter((r) => r.replyTo === '')
        .sort((a, b) => (a.at < b.at ? 1 : -1))
        .slice(0, MAX_FOUND);
  return page(
    outlet.name,
    outlet.hue,
    `<header><h1>${home(outlet)}</h1><span>${escape(outlet.what)} ` +
      `${outlet.followers === 0 ? '' : `· ${outlet.followers.toLocaleString('en')} readers`}</span>` +
      `<a href="/${outlet.slug}/manners">How it behaves</a></header><main>` +
      (shown.map((r) => thing(outlet, r, all, now)).join('') || '<p>Nothing has come here yet.</p>') +
      '</main>',
  );
}

const ANSWERS: Record<Manners['answer'], string> = {
  usual: 'as it should',
  unauthorised: '“you are not signed in”',
  refused: '“that is not allowed here”',
  broken: '“something broke” (503)',
  nonsense: 'something nobody understands',
  elsewhere: '“go to a private address”',
};

export function mannersPage(outlet: StandIn, manners: Manners): string {
  const answers = Object.entries(ANSWERS).map(
    ([value, name]) =>
      `<option value="${value}"${value === manners.answer ? ' selected' : ''}>${name}</option>`,
  );
  const count = (name: keyof Manners, max: number) =>
    `<input type="number" name="${name}" min="0" max="${max}" value="${manners[name]}">`;
  return page(
    `How ${outlet.name} behaves`,
    outlet.hue,
    header(home(outlet), 'how it behaves') +
      '<main><form method="post">' +
      `<label>It waits before it answers, in milliseconds ${count('slowMs', 60_000)}</label>` +
      `<label>It answers <select name="answer">${answers.join('')}</select></label>` +
      `<label>It takes in a minute (0: as many as come) ${count('perMinute', 1000)}</label>` +
      `<label><input type="checkbox" name="losesAnswers"${manners.losesAnswers ? ' checked' : ''}>` +
      ' It takes what comes and hangs up before it has said so</label>' +
      '<button>Behave so</button></form></main>',
  );
}

export function indexPage(counts: ReadonlyMap<string, number>): string {
  const outlets = STAND_INS.map(
    (s) =>
      `<article><h2><a href="/${s.slug}/">${escape(s.name)}</a></h2><div class="soft">` +
      `${escape(s.what)} · speaks ${s.speaks} · ${counts.get(s.slug) ?? 0} received</div></article>`,
  );
  return page(
    'Stand-ins',
    '#17211e',
    `${header('Stand-ins', 'invented outlets to try sending on')}<main>${outlets.join('')}</main>`,
  );
}
