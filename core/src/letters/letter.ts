import { escapeHtml } from '../body/html.js';

/** A letter may carry so many posts, and its subject so many characters. */
export const MAX_LETTER_POSTS = 20;
export const MAX_SUBJECT = 150;
export const MAX_LETTER_INTRO = 5000;

/** A post as it stands in a letter. */
export interface LetterPost {
  title: string;
  url: string;
  /** By whom, and of which category. */
  facts: string;
  excerpt: string;
  /** Its whole text, where the letter carries that: as HTML with full addresses, and in plain words. */
  whole: { html: string; text: string } | null;
  picture: { url: string; alt: string } | null;
}

/** What a letter to subscribers is built of. */
export interface LetterContent {
  blog: { title: string; home: string };
  subject: string;
  /** Paragraphs, an empty line between them. */
  intro: string;
  posts: readonly LetterPost[];
  /** Where one recipient leaves the list. */
  leaveUrl: string;
}

const WHY = (blog: string) => `You get this because you signed up for the letter of ${blog}.`;
const LEAVE = 'Unsubscribe';
const READ_ON = 'Read it on the blog';

const paragraphs = (text: string): string[] =>
  text
    .split(/\n{2,}/)
    .map((p) => p.trim())
    .filter(Boolean);

/** The letter as plain text, for programs that show no HTML (RFC 2046, 5.1.4: the same, as plain as can be). */
export function letterText({ blog, intro, posts, leaveUrl }: LetterContent): string {
  const parts = posts.map((p) =>
    [p.title.toLocaleUpperCase('en'), p.facts, p.whole ? p.whole.text : p.excerpt, `${READ_ON}: ${p.url}`]
      .filter(Boolean)
      .join('\n\n'),
  );
  const foot = `-- \n${blog.title}, ${blog.home}\n${WHY(blog.title)}\n${LEAVE}: ${leaveUrl}`;
  return [...paragraphs(intro), ...parts, foot].join('\n\n');
}

const SERIF = "font-family:Georgia,'Times New Roman',serif";
const SANS = 'font-family:Arial,Helvetica,sans-serif';
const INK = '#17211e';
const SOFT = '#55625c';

/** For mail programs that keep a style sheet and are asked for dark; each pair meets 4.5:1 (WCAG 2.2, 1.4.3). */
const DARK =
  ':root{color-scheme:light dark}@media(prefers-color-scheme:dark){' +
  '.paper{background:#141a18!important;color:#e6ebe4!important}.ink{color:#e6ebe4!important}' +
  '.soft{color:#a9b5ae!important}.act{color:#7cc7b2!important}.line{border-color:#3a4642!important}}';

function postHtml(p: LetterPost): string {
  const href = escapeHtml(p.url);
  const picture = p.picture
    ? `<p style="margin:0 0 12px"><a href="${href}"><img src="${escapeHtml(p.picture.url)}" ` +
      `alt="${escapeHtml(p.picture.alt)}" width="560" style="width:100%;max-width:560px;height:auto;border:0"></a></p>\n`
    : '';
  const text = p.whole
    ? p.whole.html
    : p.excerpt && `<p style="margin:0 0 12px">${escapeHtml(p.excerpt)}</p>`;
  return (
    `<div class="line" style="margin:0 0 28px;padding:20px 0 0;border-top:1px solid #cfd6cd">\n${picture}` +
    `<h2 style="margin:0 0 6px;font-size:23px;line-height:1.2;font-weight:bold">` +
    `<a class="ink" href="${href}" style="color:${INK};text-decoration:none">${escapeHtml(p.title)}</a></h2>\n` +
    (p.facts
      ? `<p class="soft" style="margin:0 0 12px;${SANS};font-size:13px;color:${SOFT}">${escapeHtml(p.facts)}</p>\n`
      : '') +
    `${text}\n` +
    `<p style="margin:0;${SANS};font-size:14px"><a class="act" href="${href}" style="color:#17604f">${READ_ON}</a></p>\n</div>`
  );
}

/**
 * The letter as a page of its own, with its styles beside each part: mail programs keep no style sheet. `pixel` is a
 * picture whose being asked for says that the letter was opened; null where that is not counted.
 */
export function letterHtml(
  { blog, subject, intro, posts, leaveUrl }: LetterContent,
  pixel: string | null = null,
): string {
  const said = paragraphs(intro)
    .map((p) => `<p style="margin:0 0 14px">${escapeHtml(p).replace(/\n/g, '<br>')}</p>`)
    .join('\n');
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<meta name="color-scheme" content="light dark">
<style>${DARK}</style>
<title>${escapeHtml(subject)}</title>
</head>
<body class="paper" style="margin:0;padding:24px 16px;background:#fbfcf9;color:${INK};${SERIF};font-size:17px;line-height:1.5">
<div style="max-width:560px;margin:0 auto">
<p style="margin:0 0 20px;font-size:15px"><a class="ink" href="${escapeHtml(blog.home)}" style="color:${INK}">${escapeHtml(blog.title)}</a></p>
<h1 style="margin:0 0 20px;font-size:28px;line-height:1.2;font-weight:bold">${escapeHtml(subject)}</h1>
${said}
${posts.map(postHtml).join('\n')}
<div class="soft line" style="padding:16px 0 0;border-top:1px solid #cfd6cd;${SANS};font-size:12px;color:${SOFT}">
<p style="margin:0 0 6px">${escapeHtml(WHY(blog.title))}</p>
<p style="margin:0"><a class="soft" href="${escapeHtml(leaveUrl)}" style="color:${SOFT}">${LEAVE}</a></p>
</div>
${pixel ? `<img src="${escapeHtml(pixel)}" alt="" width="1" height="1">\n` : ''}</div>
</body>
</html>
`;
}

/**
 * Stands in a letter where what is each recipient's own comes: the nil UUID (RFC 9562, 5.9), which is nobody's key.
 */
export const NIL_KEY = '00000000-0000-0000-0000-000000000000';

/** A letter that is built once, for one of its recipients. */
export const forRecipient = (text: string, key: string): string => text.replaceAll(NIL_KEY, key);

/**
 * Puts addresses under `through` in place of links to the web, so that clicks can be counted; the way out of the list
 * stays as it is. Answers the addresses by their numbers.
 */
export function countedLinks(
  html: string,
  leaveUrl: string,
  through: (n: number) => string,
): { html: string; urls: string[] } {
  const urls: string[] = [];
  const counted = html.replace(
    /(<a\s[^>]*?href=")(https?:\/\/[^"]+)(")/g,
    (all, before: string, href: string, after: string) => {
      const url = href.replace(/&amp;/g, '&');
      if (url === leaveUrl) return all;
      if (!urls.includes(url)) urls.push(url);
      return `${before}${escapeHtml(through(urls.indexOf(url)))}${after}`;
    },
  );
  return { html: counted, urls };
}
