import { spamChance, type CommentState } from '@keyroster/core';
import type { Loading } from './loading.js';

interface Said {
  /** The post, by its title; null: the newest that is out. */
  on: string | null;
  name: string;
  text: string;
  state: CommentState;
  hoursAgo: number;
  /** Answers the comment said before it. */
  answers?: boolean;
  /** Of somebody of the newsroom. */
  staff?: string;
}

const FROST = 'Frost on the Hallow Steps';
const SAID: Said[] = [
  {
    on: FROST,
    name: 'Wilf Tarrant',
    text: 'The fourth step from the bottom has been loose since the spring before last. In frost it tips.',
    state: 'approved',
    hoursAgo: 70,
  },
  {
    on: FROST,
    name: 'Rosalind Achter',
    text: 'Thank you, Wilf. I have told the yard, and they have a cone on it now.',
    state: 'approved',
    hoursAgo: 66,
    answers: true,
    staff: 'RA',
  },
  {
    on: FROST,
    name: 'Marnie',
    text: 'We came down backwards, holding on to the dog. The dog was very good about it.',
    state: 'approved',
    hoursAgo: 41,
  },
  {
    on: null,
    name: 'Osbert Lyle',
    text: 'Is this also true of the old wooden gates, or only of the steel ones?\n\nOurs are oak.',
    state: 'held',
    hoursAgo: 5,
  },
  {
    on: FROST,
    name: 'Pip',
    text: 'Lovely picture. Which morning was that?',
    state: 'held',
    hoursAgo: 3,
  },
  {
    on: 'Five knots you will actually use',
    name: 'Captain Sedge',
    text: 'Six. You have forgotten the one for the cat.',
    state: 'held',
    hoursAgo: 2,
  },
  {
    on: 'Winter-proofing a raw water pump',
    name: 'BestDeals',
    text: 'Great post! Cheap pumps and free spins, click now http://pumps-casino.win',
    state: 'spam',
    hoursAgo: 9,
  },
  {
    on: 'Lentils, leeks and a slow stove',
    name: 'Anon',
    text: 'My stove is bigger than yours.',
    state: 'refused',
    hoursAgo: 90,
  },
];

/** What readers said: shown, waiting, refused, and taken for spam; and a mention on another site. */
export async function loadComments({ trx, blogId, now, people }: Loading): Promise<void> {
  const posts = await trx('posts')
    .where({ blog_id: blogId, stage: 'published', access: 'everyone' })
    .orderBy('run_at', 'desc')
    .select<{ id: number; title: string }[]>('id', 'title');
  const at = (hoursAgo: number) => new Date(Date.parse(now) - hoursAgo * 3_600_000).toISOString();
  let last: number | null = null;
  for (const said of SAID) {
    const post = said.on === null ? posts[0]! : posts.find((p) => p.title === said.on);
    if (!post) continue;
    const [row]: { id: number }[] = await trx('comments')
      .insert({
        blog_id: blogId,
        post_id: post.id,
        parent_id: said.answers ? last : null,
        state: said.state,
        name: said.name,
        text: said.text,
        person_id: said.staff ? people.get(said.staff) : null,
        spam: spamChance(`${said.name}\n${said.text}`),
        at: at(said.hoursAgo),
        told_at: at(said.hoursAgo),
      })
      .returning<{ id: number }[]>('id');
    if (!said.answers) last = row!.id;
  }
}
