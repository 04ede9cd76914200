import { addChecklist, findPerson } from '@keyroster/server';
import type { Loading } from './loading.js';
import { CATEGORIES } from './people.js';

const rule = (text: string, assignee: 'writer' | 'editor', daysBefore: number, holds = false) => ({
  id: null,
  text,
  assignee,
  personId: null,
  daysBefore,
  holds,
});

/** Checklists of the blog; posts under way get those that are for them, and some of it is done. */
export async function loadChecklists(to: Loading): Promise<void> {
  const chief = (await findPerson(to.trx, to.people.get('MW')!, to.blogId))!;
  const categories = (names: readonly string[]) => names.map((name) => to.categories.get(name)!);
  await addChecklist(to.trx, chief, {
    name: 'Pictures',
    formats: [],
    categories: categories(['Towpath walks', 'Galley']),
    items: [
      rule('Every picture has an alternative text', 'writer', 4),
      rule('Credit and licence are written down', 'editor', 3),
    ],
  });
  await addChecklist(to.trx, chief, {
    name: 'Links checked',
    formats: [],
    categories: categories(['Engine room', 'Five to moor']),
    items: [rule('Every link was opened', 'writer', 2)],
  });
  await addChecklist(to.trx, chief, {
    name: 'Proof',
    formats: [],
    categories: categories(CATEGORIES.map((c) => c.name)),
    items: [
      {
        ...rule('Read aloud, once', 'writer', 2),
        assignee: 'person' as const,
        personId: to.people.get('CF')!,
      },
    ],
  });
  await addChecklist(to.trx, chief, {
    name: 'Legal',
    formats: [],
    categories: [],
    items: [rule('Whoever is named has agreed', 'editor', 3, true)],
  });
  // Of what is cleared the writer's part is done.
  await to.trx.raw(
    `
      update chores c
      set
        done_at = now(),
        done_by = p.byline_id
      from
        posts p
      where
        p.id = c.post_id
        and p.stage = 'cleared'
        and c.assignee = 'writer'
    `,
  );
}
