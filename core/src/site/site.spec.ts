import * as fc from 'fast-check';
import { hex } from 'wcag-contrast';
import {
  FIRST_LOOK,
  aroundCss,
  readTheme,
  LOOKS,
  LOOK_KEYS,
  PALETTE_KEYS,
  READER_PALETTES,
  idOfShortCode,
  linkOf,
  lookCss,
  lookOf,
  menuWarnings,
  newPanel,
  panelTitle,
  paragraphsOf,
  postPath,
  shortCode,
  unreadable,
  usualMenu,
  type Look,
  type MenuBlog,
  type MenuEntry,
} from '../index.js';

describe('palettes of the readers’ pages', () => {
  const grounds = PALETTE_KEYS.flatMap((key) =>
    (['light', 'dark'] as const).map((mode) => [key, mode] as const),
  );

  // WCAG 2.2, success criterion 1.4.3; reckoned by wcag-contrast, an implementation of its own.
  it.each(grounds)('%s in %s can be read, by another implementation', (key, mode) => {
    const { ink, soft, act, paper, sheet } = READER_PALETTES[key][mode];
    for (const text of [ink, soft, act])
      for (const ground of [paper, sheet]) expect(hex(text, ground)).toBeGreaterThanOrEqual(4.5);
    // The word on a button has the colour of the paper.
    expect(hex(paper, act)).toBeGreaterThanOrEqual(4.5);
  });

  it('name what could not be read', () => {
    expect(unreadable(READER_PALETTES.moss.light)).toEqual([]);
    const faint = unreadable({ ...READER_PALETTES.moss.light, soft: '#9aa5a0' });
    expect(faint.map((f) => `${f.text} on ${f.ground}`)).toEqual(['soft on paper', 'soft on sheet']);
    expect(faint[0]!.contrast).toBeCloseTo(hex('#9aa5a0', '#f4f5f0'), 2);
  });
});

describe('a look', () => {
  const looks = fc.record<Look>({
    look: fc.constantFrom(...LOOK_KEYS),
    palette: fc.constantFrom(...PALETTE_KEYS),
    measure: fc.constantFrom('narrow', 'medium', 'wide'),
    size: fc.constantFrom('small', 'medium', 'large'),
    facts: fc.constantFrom([], ['byline'], ['byline', 'date', 'place']) as fc.Arbitrary<Look['facts']>,
  });

  it('is nothing but values of tokens, light and dark', () => {
    fc.assert(
      fc.property(looks, (look) => {
        const css = lookCss(look);
        const { light, dark } = READER_PALETTES[look.palette];
        expect(css).toContain(`--paper:${light.paper}`);
        expect(css.split('prefers-color-scheme:dark')[1]).toContain(`--paper:${dark.paper}`);
        // Every rule is one of the root, so a look can hide or move nothing.
        expect(css.replace(/@media \([^)]*\)\{(:root\{[^}]*\})\}/g, '$1')).toMatch(/^(?::root\{[^{}]*\})+$/);
      }),
    );
  });

  it('is read back as it was kept, and from nonsense the first', () => {
    fc.assert(fc.property(looks, (look) => expect(lookOf(JSON.parse(JSON.stringify(look)))).toEqual(look)));
    for (const nonsense of [null, 7, 'x', {}, { look: '__proto__', palette: 'constructor', facts: 'all' }])
      expect(lookOf(nonsense)).toEqual(FIRST_LOOK);
    expect(lookOf({ facts: ['place', 'nothing', 'byline'] }).facts).toEqual(['byline', 'place']);
  });

  it('differs from every other in more than its name', () => {
    const built = LOOK_KEYS.map((key) => JSON.stringify({ ...LOOKS[key], label: '', about: '' }));
    expect(new Set(built).size).toBe(4);
  });
});

describe('short addresses', () => {
  it('stand for one number each, and lead back to it', () => {
    fc.assert(
      fc.property(fc.nat(2 ** 25 - 1), (id) => {
        const code = shortCode(id);
        expect(code).toMatch(/^[0-9a-hjkmnp-tv-z]{5}$/);
        expect(idOfShortCode(code)).toBe(id);
        expect(idOfShortCode(code.toUpperCase().replaceAll('0', 'O').replaceAll('1', 'L'))).toBe(id);
      }),
    );
    expect(new Set(Array.from({ length: 5000 }, (_, i) => shortCode(i))).size).toBe(5000);
  });

  it('do not count posts, and refuse what is no code or no number', () => {
    expect(shortCode(2).slice(0, 3)).not.toBe(shortCode(1).slice(0, 3));
    for (const no of ['', 'abc', 'abcdu', 'abcdef', '../..']) expect(idOfShortCode(no)).toBeNull();
    for (const no of [-1, 1.5, 2 ** 25]) expect(() => shortCode(no)).toThrow(RangeError);
  });
});

describe('the menu', () => {
  const blog: MenuBlog = {
    home: 'https://halfway.example',
    categories: [
      { id: 1, name: 'Engine room', slug: 'engine-room' },
      { id: 2, name: 'Towpath', slug: 'towpath' },
    ],
    posts: new Map([[7, { title: 'A stern gland that weeps', path: '/2026/11/stern-gland' }]]),
    hasStart: false,
  };
  const page = (of: 'front' | 'start', label = ''): MenuEntry => ({ kind: 'page', page: of, label });

  it('leads to categories where nobody made one', () => {
    expect(usualMenu(blog.categories).map((e) => linkOf(e, blog)?.href)).toEqual([
      '/category/engine-room',
      '/category/towpath',
    ]);
  });

  it('calls an entry as it is called, or as what it leads to', () => {
    expect(linkOf({ kind: 'post', id: 7, label: '' }, blog)).toEqual({
      label: 'A stern gland that weeps',
      href: '/2026/11/stern-gland',
      category: null,
    });
    expect(linkOf({ kind: 'category', id: 1, label: 'Engines' }, blog)?.label).toBe('Engines');
    expect(linkOf({ kind: 'address', url: 'https://boats.example/', label: '' }, blog)?.label).toBe(
      'https://boats.example/',
    );
  });

  it('says when the blog is in no menu, and what leads nowhere', () => {
    expect(menuWarnings([page('front')], blog)).toEqual([]);
    expect(menuWarnings([{ kind: 'address', url: 'https://halfway.example/', label: 'Blog' }], blog)).toEqual(
      [],
    );
    expect(menuWarnings([], blog)).toEqual([expect.stringContaining('in no menu')]);
    const gone: MenuEntry[] = [page('front'), { kind: 'post', id: 8, label: '' }, page('start')];
    expect(menuWarnings(gone, blog)).toEqual([expect.stringContaining('2 entries lead')]);
    expect(linkOf(page('start'), { ...blog, hasStart: true })).toMatchObject({ href: '/start' });
  });
});

describe('panels and addresses', () => {
  it('are called as their kind unless they have a title', () => {
    expect(panelTitle(newPanel('months'))).toBe('By month');
    expect(panelTitle({ ...newPanel('months'), title: 'The years' })).toBe('The years');
    expect(paragraphsOf(' One.\n\n\n Two\nlines. \n \n')).toEqual(['One.', 'Two\nlines.']);
  });

  it('build a post’s address', () => {
    const post = { slug: 'stern-gland', runLocal: '2026-11-02T08:00:00' };
    expect(postPath('slug', post)).toBe('/stern-gland');
    expect(postPath('year and month', post)).toBe('/2026/11/stern-gland');
  });
});

describe('a theme file of a site around the blog', () => {
  const theme = {
    name: 'Ropewalk',
    home: 'https://ropewalk.example/',
    color: {
      paper: { $type: 'color', $value: '#ffffff' },
      ink: { $type: 'color', $value: '#1a1a1a' },
      act: { $type: 'color', $value: { colorSpace: 'srgb', components: [0.1, 0.2, 0.5] } },
    },
    font: { text: { $type: 'fontFamily', $value: ['Gill Sans', 'sans-serif'] } },
    header: [{ label: 'Shop', url: 'https://ropewalk.example/shop' }],
  };
  const read = (more: object = {}) => readTheme(JSON.stringify({ ...theme, ...more }));

  it('gives colours, faces and links, and what is left out as something that can be read', () => {
    expect(read()).toEqual({
      ok: true,
      theme: {
        name: 'Ropewalk',
        home: 'https://ropewalk.example',
        colours: {
          paper: '#ffffff',
          sheet: '#ffffff',
          ink: '#1a1a1a',
          soft: '#1a1a1a',
          line: '#1a1a1a',
          act: '#1a3380',
        },
        faces: { titles: '"Gill Sans", sans-serif', text: '"Gill Sans", sans-serif' },
        header: theme.header,
        footer: [],
      },
    });
  });

  it.each<[string, object, RegExp]>([
    ['a colour that is none', { color: { ...theme.color, ink: { $value: 'red;}' } } }, /“ink” is none/],
    ['a colour that is missing', { color: {} }, /“paper” is missing/],
    [
      'ink that cannot be read',
      { color: { ...theme.color, ink: { $value: '#aaaaaa' } } },
      /could not be read: ink/,
    ],
    ['a face that is a rule', { font: { text: { $value: 'x;} body{display:none' } } }, /no list of families/],
    ['a link that runs', { header: [{ label: 'x', url: 'javascript:alert(1)' }] }, /leads to no address/],
    ['too many links', { footer: Array(21).fill(theme.header[0]) }, /at most 20/],
    ['no name', { name: ' ' }, /name of the site/],
    ['no address', { home: 'ropewalk' }, /where the site is/],
  ])('is refused for %s', (_, more, sentence) => {
    expect(read(more)).toEqual({ ok: false, sentence: expect.stringMatching(sentence) as string });
  });

  it('is refused when it is no theme at all', () => {
    for (const text of ['', '[]', 'null', '{', '"x"', `{"name":"${'x'.repeat(50_000)}"}`])
      expect(readTheme(text).ok).toBe(false);
    expect(read({ __proto__: null, constructor: 1 }).ok).toBe(true);
  });

  it('puts its colours over those of the look, without a dark of their own', () => {
    const answer = read();
    if (!answer.ok) throw new Error(answer.sentence);
    const css = aroundCss(FIRST_LOOK, answer.theme);
    expect(css).toContain('--paper:#ffffff');
    expect(css).toContain('--measure:42rem');
    expect(css).not.toContain('prefers-color-scheme');
    expect(css.replace(/:root\{[^{}]*\}/g, '')).toBe('');
  });
});
