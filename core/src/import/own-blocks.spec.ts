import type { BodyNode } from '../body/schema.js';
import { checkBody } from '../body/schema.js';
import { importHtml } from './to-body.js';
import { element as el, type HtmlNode } from './tree.js';

const read = (...nodes: HtmlNode[]): BodyNode[] => {
  const { body } = importHtml(el('body', nodes));
  expect(checkBody(body)).toMatchObject({ ok: true });
  return body.content!;
};
const img = (src: string, alt = '') => el('img', [], { src, alt });

describe('figures and lists as others write them', () => {
  it('takes a figure’s caption and credit to its picture', () => {
    expect(
      read(
        el(
          'figure',
          [img('/media/7', 'a gate'), el('figcaption', ['Below the lock ', el('small', ['Odette Rigg'])])],
          { class: 'small left' },
        ),
      ),
    ).toEqual([
      {
        type: 'picture',
        attrs: {
          media: 7,
          alt: 'a gate',
          caption: 'Below the lock',
          credit: 'Odette Rigg',
          size: 'small',
          side: 'left',
        },
      },
    ]);
  });
  it('keeps a figure’s picture from elsewhere as a link, and the parts of a figure of a table', () => {
    expect(read(el('figure', [img('https://x.example/a.png', 'far')]))[0]).toMatchObject({
      type: 'paragraph',
      content: [{ text: 'far', marks: [{ type: 'link' }] }],
    });
    expect(
      read(
        el('figure', [
          el('table', [el('tr', [el('td', ['a']), el('td', ['b'])])]),
          el('figcaption', ['Sizes']),
        ]),
      ).map((b) => b.type),
    ).toEqual(['table', 'paragraph']);
  });
  it('makes a list to tick off of check boxes, and lets no other form part through', () => {
    const box = (checked: boolean) =>
      el('input', [], { type: 'checkbox', ...(checked ? { checked: '' } : {}) });
    const [list] = read(
      el('ul', [
        el('li', [box(true), ' kettle']),
        el('li', [el('label', [box(false), 'windlass'])]),
        el('li', ['rope']),
      ]),
    );
    expect(list).toMatchObject({
      type: 'checkList',
      content: [
        { type: 'checkItem', attrs: { checked: true } },
        { attrs: { checked: false } },
        { attrs: { checked: false } },
      ],
    });
    expect(
      JSON.stringify(read(el('ul', [el('li', [el('input', [], { type: 'text', value: 'x' }), 'plain'])]))),
    ).not.toMatch(/checkList|value/);
  });
  it.each<[string, HtmlNode]>([
    [
      'a button that leads to a script',
      el('p', [el('a', ['Go'], { class: 'button', href: 'javascript:alert(1)' })], { class: 'go' }),
    ],
    [
      'a card that leads to data',
      el('a', [el('span', ['x'])], { class: 'link-card', href: 'data:text/html,x' }),
    ],
    [
      'a film from elsewhere',
      el('figure', [el('video', [el('source', [], { src: 'https://x.example/a.mp4' })])]),
    ],
    ['an empty note box', el('aside', [], { class: 'note-box' })],
    ['a gallery without pictures', el('div', [el('p', [''])], { class: 'gallery' })],
  ])('does not take %s for one of ours', (_, node) => {
    expect(JSON.stringify(read(el('p', ['Before']), node))).not.toMatch(
      /"button"|"video"|"noteBox"|"gallery"|javascript|data:/,
    );
  });
});
