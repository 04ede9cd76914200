import { type BodyNode } from '../body/schema.js';
import { collapse, tidyInline } from './inline.js';

/** Plain text as a body: blank lines part paragraphs, single line breaks stay as breaks. */
export function plainToBody(text: string): BodyNode {
  const paragraphs = text
    .replace(/\r\n?/g, '\n')
    .split(/\n[ \t]*\n+/)
    .map((p) => p.replace(/^\n+|\n+$/g, ''))
    .filter((p) => p.trim() !== '');
  return {
    type: 'doc',
    content:
      paragraphs.length === 0
        ? [{ type: 'paragraph' }]
        : paragraphs
            .map((p) => ({
              type: 'paragraph',
              content: tidyInline(
                p
                  .split('\n')
                  .flatMap((line, i) => [
                    ...(i > 0 ? [{ type: 'hardBreak' }] : []),
                    ...(collapse(line) ? [{ type: 'text', text: collapse(line) }] : []),
                  ]),
              ),
            }))
            .filter((p) => p.content.length > 0),
  };
}
