import { newPanel, type Look, type MenuEntry, type Panel } from '@keyroster/core';
import type { Loading } from './loading.js';

/** What writers say of themselves on their own pages; the picture is one of the drawn ones. */
const WRITERS: Record<
  string,
  { biography: string; picture: string; links: { label: string; url: string }[] }
> = {
  RA: {
    biography:
      'Walks towpaths before breakfast and writes down where the mud is. Lives aboard Second Kettle, somewhere ' +
      'between Hallow and Tolver.',
    picture: 'steps',
    links: [{ label: 'Her map of stiles', url: 'https://stiles.halfwaylock.example/' }],
  },
  TO: {
    biography:
      'Was a fitter at the Marl yard for twenty years. Believes that most engine trouble begins with a hose ' +
      'clip, and most hose clips with somebody in a hurry.',
    picture: 'engine',
    links: [],
  },
  IN: {
    biography: 'Asks lock-keepers the questions that they have been waiting for. Keeps a list of melons.',
    picture: 'letters',
    links: [],
  },
  JM: {
    biography: 'Cooks on one ring and a solid-fuel stove. Has never yet run out of lentils.',
    picture: 'pot',
    links: [],
  },
  PK: {
    biography:
      'Counts to five. Has slept at more moorings than she has read books, and remembers fewer of them.',
    picture: 'morning',
    links: [],
  },
};

const START = [
  'Five knots you will actually use',
  'Winter-proofing a raw water pump',
  'Frost on the Hallow Steps',
  'Lentils, leeks and a slow stove',
];

const PANELS: Panel[] = [
  {
    ...newPanel('about'),
    text:
      'Halfway Lock is written by people who live on boats, walk beside them or mend them. Five mornings a week, ' +
      'one post.',
  },
  newPanel('search'),
  { ...newPanel('spotlight'), title: 'Held up to the light' },
  { ...newPanel('recent comments'), count: 3 },
  { ...newPanel('months'), count: 6 },
  newPanel('letter'),
  {
    ...newPanel('links'),
    shown: false,
    title: 'Along the cut',
    links: [{ label: 'Stoppages this week', url: 'https://stoppages.halfwaylock.example/' }],
  },
];

const EARLIER: Look = {
  look: 'column',
  palette: 'straw',
  measure: 'medium',
  size: 'small',
  facts: ['byline', 'date', 'category'],
};

/** The menu, the panels, a page for newcomers, and what writers say of themselves. */
export async function loadSite({
  trx,
  blogId,
  nowLocal,
  people,
  pictures,
  categories,
}: Loading): Promise<void> {
  for (const [key, { biography, picture, links }] of Object.entries(WRITERS))
    await trx('memberships')
      .where({ blog_id: blogId, person_id: people.get(key)! })
      .update({
        biography,
        picture_id: pictures.get(picture) ?? null,
        links: JSON.stringify(links),
      });
  const posts = await trx('posts')
    .where({ blog_id: blogId, stage: 'published' })
    .whereIn('title', START)
    .select<{ id: number; title: string }[]>('id', 'title');
  const menu: MenuEntry[] = [
    { kind: 'page', page: 'front', label: '' },
    { kind: 'page', page: 'start', label: '' },
    ...[...categories.values()].map((id): MenuEntry => ({ kind: 'category', id, label: '' })),
    { kind: 'page', page: 'writers', label: '' },
  ];
  const intro =
    'New here? These four say what we are about: what to know, what to mend, where to walk and what to eat.';
  const order = START.flatMap((title) => posts.find((p) => p.title === title)?.id ?? []);
  await trx('blogs')
    .where({ id: blogId })
    .update({
      menu: JSON.stringify(menu),
      panels: JSON.stringify(PANELS),
      site: JSON.stringify({
        comments: true,
        members: true,
        letterOpens: true,
        letterClicks: true,
        start: { intro, posts: order },
        rotation: { posts: order.slice(0, 3), since: nowLocal.slice(0, 10) },
      }),
    });
  await trx('looks').insert([
    { blog_id: blogId, look: JSON.stringify(EARLIER), at: trx.raw(`now() - interval '210 days'`) },
    { blog_id: blogId, look: '{}', person_id: people.get('MW'), at: trx.raw(`now() - interval '90 days'`) },
  ]);
}
