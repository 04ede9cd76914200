import { escapeHtml } from '@keyroster/core';

/** A piece's plain text as HTML: blocks as paragraphs, lines as lines, addresses as links. */
export function textHtml(text: string): string {
  return text
    .split('\n\n')
    .map(
      (block) =>
        `<p>${escapeHtml(block)
          .replace(/https?:\/\/[^\s<]+/g, (url) => `<a href="${url}">${url}</a>`)
          .replace(/\n/g, '<br>')}</p>`,
    )
    .join('\n');
}
