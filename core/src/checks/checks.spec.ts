import type { BodyNode } from '../body/schema.js';
import { leftoversOf } from '../alike/leftovers.js';
import { EMPTY_TEXTS } from '../posts/testing.js';
import { POST_FIELDS, POST_FIELD_NAMES } from '../posts/fields.js';
import { checkPost, countChecks } from './checks.js';
import { CHECKS, type CheckFacts, type CheckKey } from './check.js';
import { innerPaths, pathOf } from './inner-paths.js';

const p = (text: string, ...marks: BodyNode['marks'] & object): BodyNode => ({
  type: 'paragraph',
  content: [{ type: 'text', text, ...(marks.length ? { marks } : {}) }],
});
const h = (level: number, text: string): BodyNode => ({
  type: 'heading',
  attrs: { level },
  content: [{ type: 'text', text }],
});
const link = (href: string) => ({ type: 'link', attrs: { href } });
const long = Array.from({ length: 40 }, () => 'Turn the pump by hand and look for drips.').join(' ');

const good: CheckFacts = {
  ...EMPTY_TEXTS,
  title: 'Six turns that save your pump this winter',
  slug: 'six-turns-save-pump',
  excerpt: 'Six turns by hand clear the housing.',
  searchDescription:
    'A pump that freezes once leaks all spring. Six turns by hand, and where the last cup of water hides.',
  categoryId: 1,
  tagIds: [1, 2],
  leadPicture: { media: 4, alt: 'a pump' },
  leadBytes: 412_000,
  sharePicture: null,
  brief: { angle: '', length: 380, copyDate: null },
  formatId: null,
  formatValues: {},
  format: null,
  leftovers: null,
  alike: null,
  pages: { '/draining-calorifier': 'published' },
  body: {
    type: 'doc',
    content: [
      p('The impeller goes first.'),
      { type: 'foldLine' },
      h(2, 'Drain it'),
      p(long),
      h(3, 'Lowest drain'),
      p('As we did then.', link('/draining-calorifier')),
    ],
  },
};
const state = (key: CheckKey, change: Partial<CheckFacts>) =>
  checkPost({ ...good, ...change }).find((c) => c.key === key)!;

describe('checks', () => {
  it('read every field that says they do, and no other', () => {
    const read = new Set<string>();
    const facts = new Proxy(
      { ...good, formatId: 1, leadPicture: null, slug: null },
      {
        get(of, key) {
          read.add(String(key));
          return of[key as keyof CheckFacts];
        },
      },
    );
    checkPost(facts);
    leftoversOf(facts, good);
    const fields = POST_FIELD_NAMES.filter((f) => read.has(f));
    expect(fields).toEqual(POST_FIELD_NAMES.filter((f) => POST_FIELDS[f].checks));
  });

  it('find nothing in a post as it should be, and say so for each', () => {
    const checks = checkPost(good);
    expect(checks.filter((c) => c.state !== 'fine').map((c) => c.measure)).toEqual([]);
    expect(checks.map((c) => c.key).sort()).toEqual([...CHECKS].sort());
    expect(checks.every((c) => c.measure && c.wanted && c.offer)).toBe(true);
  });
  // Limits: common practice, no published source (6 words, 55 to 60 characters, 4 to 6 words of address, 300
  // to 500 kB).
  it.each<[CheckKey, Partial<CheckFacts>, 'blocks' | 'warns']>([
    ['title', { title: 'x'.repeat(61) }, 'warns'],
    ['address', { slug: 'how-to-save-the-pump' }, 'warns'],
    ['address', { slug: 'save-pump-winter-2' }, 'warns'],
    ['address', { slug: 'a1-b1-c1-d1-e1-f1-g1' }, 'warns'],
    ['category', { categoryId: null }, 'blocks'],
    ['tags', { tagIds: [] }, 'warns'],
    ['excerpt', { excerpt: '' }, 'warns'],
    ['excerpt', { excerpt: 'One. Two.' }, 'warns'],
    ['search description', { searchDescription: 'Short.' }, 'warns'],
    ['search description', { searchDescription: '', excerpt: '' }, 'warns'],
    ['lead picture', { leadPicture: null, leadBytes: null }, 'warns'],
    ['lead picture', { leadBytes: 4_800_000 }, 'warns'],
    ['lead picture', { leadBytes: 50_000 }, 'warns'],
    ['alternative texts', { leadPicture: { media: 4, alt: ' ' } }, 'blocks'],
    [
      'alternative texts',
      {
        body: {
          type: 'doc',
          content: [{ type: 'gallery', content: [{ type: 'picture', attrs: { media: 1, alt: '' } }] }],
        },
      },
      'blocks',
    ],
    ['headings', { body: { type: 'doc', content: [h(2, 'A'), h(4, 'B')] } }, 'warns'],
    ['headings', { body: { type: 'doc', content: [h(2, '')] } }, 'warns'],
    ['links', { pages: { '/draining-calorifier': 'missing' } }, 'blocks'],
    ['links', { pages: { '/draining-calorifier': 'unpublished' } }, 'blocks'],
    [
      'links',
      { body: { type: 'doc', content: [{ type: 'button', attrs: { label: 'Go', href: '' } }] } },
      'blocks',
    ],
    ['leftovers', { leftovers: { fields: ['title'], blocks: [3] } }, 'warns'],
    ['likeness', { alike: { id: 3, title: 'Old', share: 0.5 } }, 'warns'],
    [
      'reading',
      {
        body: {
          type: 'doc',
          content: [
            p(
              'Incomprehensible institutional prioritisation necessitates organisational reconsideration. '.repeat(
                20,
              ),
            ),
          ],
        },
      },
      'warns',
    ],
    ['fold line', { body: { type: 'doc', content: [p(long)] } }, 'warns'],
    ['fold line', { body: { type: 'doc', content: [{ type: 'foldLine' }, p(long)] } }, 'warns'],
    ['length', { brief: { angle: '', length: 2000, copyDate: null } }, 'warns'],
    ['length', { brief: { angle: '', length: 100, copyDate: null } }, 'warns'],
    [
      'format',
      {
        formatId: 1,
        format: {
          name: 'How-to',
          fields: [{ key: 't', label: 'Tools', kind: 'lines', required: true, hint: '', choices: [] }],
        },
      },
      'warns',
    ],
  ])('%s %j %s', (key, change, expected) => {
    expect(state(key, change).state).toBe(expected);
  });
  it('lead to the place', () => {
    expect(state('headings', { body: { type: 'doc', content: [p('x'), h(2, 'A'), h(4, 'B')] } }).block).toBe(
      2,
    );
    expect(state('links', { pages: { '/draining-calorifier': 'missing' } }).block).toBe(5);
    expect(state('lead picture', { leadBytes: 4_800_000 })).toMatchObject({
      fix: 'lighten',
      measure: 'Lead picture weighs 4.8 MB',
    });
  });
  it('block as the blog says, and those that are off are silent', () => {
    const checks = checkPost({ ...good, tagIds: [], categoryId: null }, { tags: 'blocks', category: 'off' });
    expect(checks[0]).toMatchObject({ key: 'tags', state: 'blocks' });
    expect(checks.find((c) => c.key === 'category')).toBeUndefined();
    expect(countChecks(checks)).toEqual({ blocks: 1, warns: 0 });
  });
  it('knows the blog’s own addresses', () => {
    expect([
      pathOf('/a?b#c'),
      pathOf('/a/'),
      pathOf('/'),
      pathOf('https://x.example/a'),
      pathOf('#top'),
      pathOf('https://halfwaylock.example/a', 'https://halfwaylock.example'),
    ]).toEqual(['/a', '/a', '/', null, null, '/a']);
    expect(innerPaths({ type: 'doc', content: [p('x', link('/a#b')), p('y', link('/a'))] })).toEqual(['/a']);
  });
});
