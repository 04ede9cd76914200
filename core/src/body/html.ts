import type { BodyNode } from './schema.js';
import { inlineText } from './text.js';
import { telling } from '../address/address.js';

export interface PictureSource {
  src: string;
  width: number;
  height: number;
}

export function escapeHtml(text: string): string {
  return text.replace(/[&<>"']/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c] ?? c);
}

type Render = (node: BodyNode, inner: () => string) => string;

/** HTML of a body. HTML is always made from the body and never stored. Pictures that are not known are left out. */
export function bodyHtml(body: BodyNode, pictures: (id: number) => PictureSource | undefined, options: { headingIds?: boolean } = {}): string {
  const used = new Map<string, number>();
  const headingId = (node: BodyNode): string => {
    if (!options.headingIds) return '';
    const base = telling(inlineText(node), 6).join('-') || 'section';
    const n = (used.get(base) ?? 0) + 1;
    used.set(base, n);
    return ` id="${n === 1 ? base : `${base}-${n}`}"`;
  };
  const span = (node: BodyNode, name: string) => (Number(node.attrs?.[name] ?? 1) > 1 ? ` ${name}="${Number(node.attrs?.[name])}"` : '');

  const table: Record<string, Render> = {
    doc: (_, inner) => inner(),
    paragraph: (_, inner) => `<p>${inner()}</p>`,
    heading: (n, inner) => `<h${Number(n.attrs?.['level'] ?? 2)}${headingId(n)}>${inner()}</h${Number(n.attrs?.['level'] ?? 2)}>`,
    blockquote: (_, inner) => `<blockquote>${inner()}</blockquote>`,
    bulletList: (_, inner) => `<ul>${inner()}</ul>`,
    orderedList: (n, inner) => `<ol${Number(n.attrs?.['start'] ?? 1) === 1 ? '' : ` start="${Number(n.attrs?.['start'])}"`}>${inner()}</ol>`,
    listItem: (_, inner) => `<li>${inner()}</li>`,
    codeBlock: (n, inner) => `<pre><code${n.attrs?.['language'] ? ` class="language-${escapeHtml(String(n.attrs['language']))}"` : ''}>${inner()}</code></pre>`,
    horizontalRule: () => '<hr>',
    foldLine: () => '',
    hardBreak: () => '<br>',
    table: (_, inner) => `<table><tbody>${inner()}</tbody></table>`,
    tableRow: (_, inner) => `<tr>${inner()}</tr>`,
    tableCell: (n, inner) => `<td${span(n, 'colspan')}${span(n, 'rowspan')}>${inner()}</td>`,
    tableHeader: (n, inner) => `<th${span(n, 'colspan')}${span(n, 'rowspan')}>${inner()}</th>`,
    picture: (n) => {
      const source = pictures(Number(n.attrs?.['media']));
      if (!source) return '';
      const caption = String(n.attrs?.['caption'] ?? '');
      return `<figure><img src="${escapeHtml(source.src)}" alt="${escapeHtml(String(n.attrs?.['alt'] ?? ''))}" width="${source.width}" height="${source.height}" loading="lazy">${caption ? `<figcaption>${escapeHtml(caption)}</figcaption>` : ''}</figure>`;
    },
  };
  const wraps: Record<string, (inner: string, attrs: Record<string, unknown>) => string> = {
    bold: (inner) => `<strong>${inner}</strong>`,
    italic: (inner) => `<em>${inner}</em>`,
    code: (inner) => `<code>${inner}</code>`,
    link: (inner, attrs) => `<a href="${escapeHtml(String(attrs['href']))}">${inner}</a>`,
  };

  /** Inline content. Of the marks that begin at a place the one that runs furthest is opened first, so that each is opened once, as an author would write it. */
  const inline = (nodes: BodyNode[], opened: readonly string[] = []): string => {
    const pending = (node: BodyNode | undefined) => (node?.marks ?? []).filter((m) => !opened.includes(JSON.stringify(m)));
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
        html += wraps[best.mark.type]?.(inline(nodes.slice(i, best.end), [...opened, JSON.stringify(best.mark)]), best.mark.attrs ?? {}) ?? '';
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
      return content.some((c) => c.type === 'text' || c.type === 'hardBreak') ? inline(content) : content.map(render).join('');
    }) ?? '';
  return render(body);
}
