import type { BodyNode } from './schema.js';
import { makerOf } from './suggestion-key.js';
import { inlineText, nodesOf } from './text.js';
import { contentWords } from '../slug/slug.js';

export interface PictureSource {
  src: string;
  width: number;
  height: number;
  /** Smaller and lighter copies, best format first, as `<source>` takes them. */
  sources?: readonly { type: string; srcset: string }[];
}

/** What HTML of a body needs beside the body. */
export interface HtmlOptions {
  headingIds?: boolean;
  /** Draw the fold line as `<hr class="fold">`, for texts that leave the house and may come back. */
  foldMark?: boolean;
  /** Uploaded videos and captions by id. */
  files?: (id: number) => { src: string; type: string } | undefined;
  /** Where a sign-up for the letter is sent; without it the form is not drawn. */
  signUpAction?: string;
  /** The name of the person who suggests; with it, what is suggested is drawn as `<ins>` and `<del>`. */
  suggestedBy?: (personId: number) => string;
}

export function escapeHtml(text: string): string {
  return text.replace(
    /[&<>"']/g,
    (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c] ?? c,
  );
}

type Render = (node: BodyNode, inner: () => string) => string;

const levelOf = (heading: BodyNode) => Number(heading.attrs?.['level'] ?? 2);
/** What stands under a picture or a video; words are HTML already. */
const caption = (words: string) => (words ? `<figcaption>${words}</figcaption>` : '');

/**
 * HTML of a body. HTML is always made from the body and never stored. Pictures that are not known are left
 * out.
 */
export function bodyHtml(
  body: BodyNode,
  pictures: (id: number) => PictureSource | undefined,
  options: HtmlOptions = {},
): string {
  const ids = options.headingIds ? headingIds(body) : new Map<BodyNode, string>();
  const headingId = (node: BodyNode): string => (ids.has(node) ? ` id="${ids.get(node)}"` : '');
  const text = (node: BodyNode, name: string) => escapeHtml(String(node.attrs?.[name] ?? ''));
  const span = (node: BodyNode, name: string) =>
    Number(node.attrs?.[name] ?? 1) > 1 ? ` ${name}="${Number(node.attrs?.[name])}"` : '';

  const table: Record<string, Render> = {
    doc: (_, inner) => inner(),
    paragraph: (_, inner) => `<p>${inner()}</p>`,
    heading: (n, inner) => `<h${levelOf(n)}${headingId(n)}>${inner()}</h${levelOf(n)}>`,
    blockquote: (_, inner) => `<blockquote>${inner()}</blockquote>`,
    bulletList: (_, inner) => `<ul>${inner()}</ul>`,
    orderedList: (n, inner) =>
      `<ol${Number(n.attrs?.['start'] ?? 1) === 1 ? '' : ` start="${Number(n.attrs?.['start'])}"`}>${inner()}</ol>`,
    listItem: (_, inner) => `<li>${inner()}</li>`,
    // HTML's readers, ours among them, take a line's end before the closing tag as none of the text's.
    codeBlock: (n, inner) => {
      const language = String(n.attrs?.['language'] ?? '');
      const named = language ? ` class="language-${escapeHtml(language)}"` : '';
      return `<pre><code${named}>${inner().replace(/\n$/, '\n\n')}</code></pre>`;
    },
    horizontalRule: () => '<hr>',
    foldLine: () => (options.foldMark ? '<hr class="fold">' : ''),
    hardBreak: () => '<br>',
    table: (_, inner) => `<table><tbody>${inner()}</tbody></table>`,
    tableRow: (_, inner) => `<tr>${inner()}</tr>`,
    tableCell: (n, inner) => `<td${span(n, 'colspan')}${span(n, 'rowspan')}>${inner()}</td>`,
    tableHeader: (n, inner) => `<th${span(n, 'colspan')}${span(n, 'rowspan')}>${inner()}</th>`,
    checkList: (_, inner) => `<ul class="checks">${inner()}</ul>`,
    // Drawn as letters rather than as a form control: a reader cannot tick it.
    checkItem: (n, inner) =>
      (n.attrs?.['checked']
        ? '<li class="done"><span role="img" aria-label="done">☑</span>'
        : '<li class="open"><span role="img" aria-label="to do">☐</span>') + `<div>${inner()}</div></li>`,
    pullQuote: (_, inner) => `<aside class="pull-quote"><p>${inner()}</p></aside>`,
    noteBox: (_, inner) => `<aside class="note-box">${inner()}</aside>`,
    gallery: (_, inner) => `<div class="gallery">${inner()}</div>`,
    picture: (n) => {
      const source = pictures(Number(n.attrs?.['media']));
      if (!source) return '';
      const classes = [n.attrs?.['size'] ?? 'column', n.attrs?.['side'] ?? 'none']
        .filter((c) => c !== 'column' && c !== 'none')
        .join(' ');
      const words = [text(n, 'caption'), n.attrs?.['credit'] ? `<small>${text(n, 'credit')}</small>` : '']
        .filter(Boolean)
        .join(' ');
      const picture = pictureHtml(source, String(n.attrs?.['alt'] ?? ''));
      return `<figure${classes ? ` class="${classes}"` : ''}>${picture}${caption(words)}</figure>`;
    },
    video: (n) => {
      const file = options.files?.(Number(n.attrs?.['file'] ?? 0));
      const poster = pictures(Number(n.attrs?.['poster'] ?? 0));
      const words = [n.attrs?.['title'] ? `<b>${text(n, 'title')}</b>` : '', text(n, 'description')]
        .filter(Boolean)
        .join(' ');
      if (file) {
        const captions = options.files?.(Number(n.attrs?.['captions'] ?? 0));
        const still = poster ? ` poster="${escapeHtml(poster.src)}"` : '';
        const track = captions
          ? `<track kind="captions" srclang="en" label="English" src="${escapeHtml(captions.src)}" default>`
          : '';
        return (
          `<figure class="video"><video controls preload="metadata"${still}>` +
          `<source src="${escapeHtml(file.src)}" type="${escapeHtml(file.type)}">${track}</video>` +
          `${caption(words)}</figure>`
        );
      }
      const href = String(n.attrs?.['href'] ?? '');
      if (href === '') return '';
      const still = poster
        ? `<img src="${escapeHtml(poster.src)}" alt="" width="${poster.width}" height="${poster.height}" loading="lazy">`
        : '';
      return (
        `<a class="link-card" href="${escapeHtml(href)}">${still}<span>${words || escapeHtml(href)}</span>` +
        `<small>Video at ${escapeHtml(hostOf(href))}</small></a>`
      );
    },
    button: (n) =>
      n.attrs?.['href'] && n.attrs['label']
        ? `<p class="go"><a class="button" href="${text(n, 'href')}">${text(n, 'label')}</a></p>`
        : '',
    signUp: (n) =>
      options.signUpAction
        ? '<form class="sign-up" method="post" ' +
          `action="${escapeHtml(options.signUpAction)}"><p>${text(n, 'invitation') || 'Get the letter by e-mail.'}</p><label>E-mail ` +
          'address <input type="email" name="email" required maxlength="254" ' +
          'autocomplete="email"></label><button type="submit">Sign up</button></form>'
        : '',
    contents: () => contentsOf(ids),
  };
  const suggestion = (tag: 'ins' | 'del', inner: string, key: unknown): string => {
    const maker = makerOf(key);
    if (!maker || !options.suggestedBy) return tag === 'ins' ? '' : inner;
    return (
      `<${tag} datetime="${maker.at}" data-by="${escapeHtml(options.suggestedBy(maker.personId))}" ` +
      `data-suggestion="${maker.id}">${inner}</${tag}>`
    );
  };
  const wraps: Record<string, (inner: string, attrs: Record<string, unknown>) => string> = {
    bold: (inner) => `<strong>${inner}</strong>`,
    italic: (inner) => `<em>${inner}</em>`,
    code: (inner) => `<code>${inner}</code>`,
    inserted: (inner, attrs) => suggestion('ins', inner, attrs['key']),
    deleted: (inner, attrs) => suggestion('del', inner, attrs['key']),
    link: (inner, attrs) => `<a href="${escapeHtml(String(attrs['href']))}">${inner}</a>`,
  };

  /**
   * Inline content. Of the marks that begin at a place the one that runs furthest is opened first, so that
   * each is opened once, as an author would write it.
   */
  const inline = (nodes: BodyNode[], opened: readonly string[] = []): string => {
    const pending = (node: BodyNode | undefined) =>
      (node?.marks ?? []).filter((m) => !opened.includes(JSON.stringify(m)));
    let html = '';
    for (let i = 0; i < nodes.length;) {
      let best: { mark: NonNullable<BodyNode['marks']>[number]; end: number } | null = null;
      for (const mark of pending(nodes[i])) {
        const key = JSON.stringify(mark);
        let end = i + 1;
        while (end < nodes.length && nodes[end]!.marks?.some((m) => JSON.stringify(m) === key)) end++;
        if (!best || end > best.end) best = { mark, end };
      }
      if (best) {
        html +=
          wraps[best.mark.type]?.(
            inline(nodes.slice(i, best.end), [...opened, JSON.stringify(best.mark)]),
            best.mark.attrs ?? {},
          ) ?? '';
        i = best.end;
      } else {
        const node = nodes[i++]!;
        html += node.type === 'text' ? escapeHtml(node.text ?? '') : render(node);
      }
    }
    return html;
  };
  const render = (node: BodyNode): string =>
    table[node.type]?.(node, () => {
      const content = node.content ?? [];
      return content.some((c) => c.type === 'text' || c.type === 'hardBreak')
        ? inline(content)
        : content.map(render).join('');
    }) ?? '';
  return render(body);
}

function contentsOf(ids: ReadonlyMap<BodyNode, string>): string {
  if (ids.size === 0) return '';
  const lines = [...ids].map(
    ([n, id]) =>
      `<li class="level-${Number(n.attrs?.['level'] ?? 2)}"><a href="#${id}">${escapeHtml(inlineText(n))}</a></li>`,
  );
  return `<nav class="contents" aria-label="In this post"><ul>${lines.join('')}</ul></nav>`;
}

/** From so many headings on a post has a table of contents, whether its writer put one in or not. */
const CONTENTS_FROM = 3;

/** A table of contents for a text that is long enough for one and has none of its own; else nothing. */
export function contentsHtml(body: BodyNode): string {
  const ids = headingIds(body);
  const own = [...nodesOf(body)].some((n) => n.type === 'contents');
  return own || ids.size < CONTENTS_FROM ? '' : contentsOf(ids);
}

/** An image with its lighter copies, for those browsers that take them. */
export function pictureHtml(source: PictureSource, alt: string, attributes = ' loading="lazy"'): string {
  const img =
    `<img src="${escapeHtml(source.src)}" alt="${escapeHtml(alt)}" ` +
    `width="${source.width}" height="${source.height}"${attributes}>`;
  if (!source.sources?.length) return img;
  const sizes = '(max-width: 46rem) 100vw, 44rem';
  const lighter = source.sources.map(
    (s) => `<source type="${s.type}" srcset="${escapeHtml(s.srcset)}" sizes="${sizes}">`,
  );
  return `<picture>${lighter.join('')}${img}</picture>`;
}

/** Each heading's fragment: its telling words, counted when they come again. */
export function headingIds(body: BodyNode): Map<BodyNode, string> {
  const used = new Map<string, number>();
  const ids = new Map<BodyNode, string>();
  for (const node of nodesOf(body)) {
    if (node.type !== 'heading') continue;
    const base = contentWords(inlineText(node), 6).join('-') || 'section';
    const n = (used.get(base) ?? 0) + 1;
    used.set(base, n);
    ids.set(node, n === 1 ? base : `${base}-${n}`);
  }
  return ids;
}

function hostOf(href: string): string {
  return /^https?:\/\/([^/?#]+)/i.exec(href)?.[1] ?? href;
}
