import { NOT_HERE, type BatchChange, type EditContext, type ReferenceKind } from '@keyroster/core';
import { NOTHING_NAMED, type Named } from '../posts/context.js';

/** Everything that changes name, looked up once for all posts. */
export function namedBy(changes: readonly BatchChange[], lighter: ReadonlyMap<string, number>): Named {
  const named: Named = {
    ...NOTHING_NAMED,
    people: [],
    categories: [],
    tags: [],
    pictures: [...lighter.values()],
  };
  for (const change of changes) {
    if (change.kind === 'byline' && change.to !== null) named.people.push(change.to);
    if ((change.kind === 'category' || change.kind === 'second category') && change.to !== null)
      named.categories.push(change.to);
    if (change.kind === 'reassign') named.people.push(change.to);
    if (change.kind === 'plan') named.people.push(...change.places.map((p) => p.writerId));
    if (change.kind === 'categories merge') named.categories.push(change.into);
    if (change.kind === 'tags') named.tags.push(...change.gain);
    if (change.kind === 'tags merge') named.tags.push(change.into);
    if (change.kind === 'tags become') named.tags.push(...change.to);
    if (change.kind === 'format field') named.formats = true;
  }
  return named;
}

/** Says what of the things that changes name is not on the blog. */
export function notHere(named: Named, context: EditContext): string | null {
  const missing = (kind: ReferenceKind, ids: readonly number[]) =>
    ids.some((id) => !context.has(kind, id)) ? NOT_HERE[kind] : null;
  return (
    missing('person', named.people) ?? missing('category', named.categories) ?? missing('tag', named.tags)
  );
}
