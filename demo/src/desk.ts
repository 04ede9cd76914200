import type { FormatField } from '@keyroster/core';
import { readMarkdown, tagIdsOf, type Trx } from '@keyroster/server';

const field = (label: string, kind: FormatField['kind'], more: Partial<FormatField> = {}): FormatField => ({
  key: label.toLowerCase().replace(/[^a-z]+/g, '-'),
  label,
  kind,
  required: false,
  hint: '',
  choices: [],
  ...more,
});

export const FORMATS: { name: string; hint: string; fields: FormatField[]; starter: string }[] = [
  {
    name: 'How-to',
    hint: 'One job, done once, by somebody who has not done it before.',
    fields: [
      field('Time it takes', 'minutes', { required: true }),
      field('Tools', 'lines', { required: true, hint: 'One on a line.' }),
      field('Difficulty', 'choice', { choices: ['a first winter', 'some practice', 'a long evening'] }),
    ],
    starter:
      'Say what goes wrong when nobody does this.\n\n<hr class="fold">\n\n## What you ' +
      'need\n\n- [ ] the first thing\n\n## How it goes\n\n1. The first step.\n\n## When to ' +
      'stop\n\nHow one knows that it is done.',
  },
  {
    name: 'Round-up',
    hint: 'Five of a kind, ranked or not.',
    fields: [field('How many', 'number', { required: true }), field('Looked at on', 'date')],
    starter:
      'Why these five.\n\n<nav class="contents"></nav>\n\n## The first\n\nOne paragraph each, and where to moor.',
  },
  {
    name: 'Interview',
    hint: 'One voice, in their own words.',
    fields: [
      field('Who', 'line', { required: true }),
      field('Where', 'line'),
      field('Their own page', 'link'),
    ],
    starter:
      'Who they are and where you met, in two sentences.\n\n<aside ' +
      'class="pull-quote"><p>The sentence that made you write it down</p></aside>\n\n## ' +
      'How it began\n\nQuestion and answer.',
  },
  {
    name: 'Video',
    hint: 'A film of a few minutes, with words for those who cannot hear it.',
    fields: [field('Length', 'minutes', { required: true }), field('Filmed at', 'line')],
    starter: 'What happens in it, and why it is worth five minutes.\n\n## What you see',
  },
  {
    name: 'Recipe',
    hint: 'One pot, one burner.',
    fields: [
      field('Serves', 'number', { required: true }),
      field('Time on the stove', 'minutes', { required: true }),
      field('Ingredients', 'lines', { required: true }),
    ],
    starter:
      'Where you first ate it.\n\n## Steps\n\n1. Light the stove.\n\n<aside ' +
      'class="note-box"><p>What to use when the shop was shut.</p></aside>',
  },
];

const TEMPLATES = [
  {
    name: 'Walk of the week',
    text:
      'Where it begins, and how one gets there.\n\n<hr class="fold">\n\n## The ' +
      'path\n\nWhat is underfoot.\n\n## What to look for\n\n## Tea\n\n<p class="go"><a ' +
      'class="button" href="/category/towpath-walks">More walks</a></p>',
  },
  { name: 'Letter answered', text: 'The letter, shortened.\n\n> Dear Lock,\n\n## What we think' },
];

/** Words in a text that earn a tag. */
const TAGS: [name: string, words: RegExp][] = [
  ['winter', /\b(frost|winter|ice|snow)/i],
  ['stern gear', /\b(stern gland|propeller|shaft)/i],
  ['pumps', /\bpumps?\b/i],
  ['stoves', /\bstoves?\b/i],
  ['lock flights', /\bflights?\b/i],
  ['bridges', /\bbridges?\b/i],
  ['birds', /\b(heron|kingfisher|swan|duck|rail)\b/i],
  ['bread', /\b(bread|loaf|dough)\b/i],
  ['one pot', /\bpot\b/i],
  ['letters', /\bletters?\b/i],
  ['first boat', /\bfirst (boat|winter|year)\b/i],
  ['moorings', /\bmoor(ing|ings|ed)?\b/i],
  ['night', /\bnight|lantern/i],
  ['diesel', /\b(diesel|engine)\b/i],
  ['history', /\b(18|19)\d\d\b/],
];

export function tagsFor(text: string): string[] {
  return TAGS.filter(([, words]) => words.test(text))
    .map(([name]) => name)
    .slice(0, 4);
}

export async function loadFormats(trx: Trx, blogId: number, by: number): Promise<Map<string, number>> {
  const ids = new Map<string, number>();
  for (const f of FORMATS) {
    const [row] = await trx('formats')
      .insert({
        blog_id: blogId,
        name: f.name,
        hint: f.hint,
        fields: JSON.stringify(f.fields),
        starter: JSON.stringify(readMarkdown(f.starter).body),
      })
      .returning<{ id: number }[]>('id');
    ids.set(f.name, row!.id);
  }
  for (const t of TEMPLATES)
    await trx('templates').insert({
      blog_id: blogId,
      name: t.name,
      body: JSON.stringify(readMarkdown(t.text).body),
      made_by: by,
    });
  // Two spellings of one thing, as they creep in: the desk is offered to merge them.
  await tagIdsOf(trx, blogId, ['stove', 'mooring']);
  return ids;
}

/** Values for published posts of a format, made from what the text says of itself. */
export function valuesFor(
  format: string,
  text: { title: string; excerpt: string; markdown: string; by: string },
): Record<string, unknown> {
  const words = text.markdown.split(/\s+/).length;
  const items = [...text.markdown.matchAll(/^- (?:\*\*)?([^.:*\n]{3,60})/gm)]
    .map((m) => m[1]!.trim())
    .slice(0, 6);
  const values: Record<string, Record<string, unknown>> = {
    'How-to': {
      'time-it-takes': Math.max(10, Math.round(words / 100) * 10),
      tools: items.length > 0 ? items : ['a spanner', 'a tray', 'a torch'],
      difficulty: 'a first winter',
    },
    'Round-up': { 'how-many': 5 },
    Interview: {
      who: /\b[A-Z][a-z]+ [A-Z][a-z]+\b/.exec(text.excerpt)?.[0] ?? 'A keeper who would rather not be named',
    },
    Recipe: {
      serves: 2,
      'time-on-the-stove': 40,
      ingredients: items.length > 0 ? items : ['what there is', 'an onion', 'salt'],
    },
  };
  return values[format] ?? {};
}

/** Titles that were tried, by post. */
export const TRIALS: Record<string, { by: string; titles: string[] }> = {
  'long-pound': {
    by: 'RA',
    titles: [
      'Walking the long pound when you cannot see it',
      'Fog on the long pound',
      'Three miles of fog and one heron',
      'What the fog hid on the long pound',
    ],
  },
  'keepers-2': {
    by: 'IN',
    titles: ['Four clocks at Gannet, and none of them right', 'Who mended the clock?'],
  },
  'engine-1': {
    by: 'TO',
    titles: ['Drain the water heater before the frost does', 'Water heater maintenance notes'],
  },
};
