import { isSlug } from '../slug/slug.js';
import { errorOfValue, type FormatValues } from '../formats/formats.js';
import { dateConstraintError } from '../planning/date-constraint.js';
import { may } from '../stages/may.js';
import { isDesk } from '../stages/stages.js';
import { isLater } from '../time/zone.js';
import { refuse, type EditContext, type Refusal } from './context.js';
import { idSet, sameValue } from './difference.js';
import { isOneLine, POST_FIELDS, type FieldSpec, type ReferenceKind, type SettableField } from './fields.js';
import type { LeadPicture, Post, PostValues, RunTime, Spotlight } from './values.js';

export type SetValues = Partial<Pick<PostValues, SettableField>>;

/**
 * Sets fields of a post. Gives the values that become so, which may be more than were given: a second category
 * that becomes the first goes, and values of another format go with it. Refuses with a sentence what the actor
 * may not set, what does not fit, and what names things that are not on the blog.
 */
export function setValues(
  post: Post,
  values: SetValues,
  context: EditContext,
): { ok: true; values: Partial<Post> } | Refusal {
  const set: Partial<Post> = { ...values };
  for (const field of Object.keys(values) as SettableField[]) {
    if (values[field] === undefined) {
      delete set[field];
      continue;
    }
    if (isOneLine(field)) Object.assign(set, { [field]: oneLine(values[field] as string) });
    const refusal =
      notAllowed(post, field, context) ??
      badText(field, values[field]) ??
      unknownReference(post, field, values[field], context);
    if (refusal) return refusal;
  }
  const refusal =
    foreignCategory(set, context) ??
    badSlug(post, set.slug, context) ??
    badPicture(post, set.leadPicture, context) ??
    badSpotlight(set.spotlight) ??
    (set.dateConstraint && badDateConstraint(set.dateConstraint)) ??
    badRunTime(post, set.run, context);
  if (refusal) return refusal;
  const second = secondCategory(post, set);
  if (!second.ok) return second;
  Object.assign(set, second.values);
  if (set.tagIds) set.tagIds = idSet(set.tagIds);
  if (set.coauthorIds) set.coauthorIds = idSet(set.coauthorIds);
  if (set.run && post.stage === 'scheduled' && !sameValue(set.run, post.run)) set.scheduledAt = context.now;
  if (set.formatId !== undefined || set.formatValues !== undefined) {
    const answer = formatValues(post, set, context);
    if (!answer.ok) return answer;
    set.formatValues = answer.values;
  }
  return { ok: true, values: set };
}

/** Line breaks and tabs become spaces. */
export const oneLine = (text: string): string => text.replace(/[\t\r\n\v\f\u0085\u2028\u2029]+/g, ' ').trim();

function notAllowed(post: Post, field: SettableField, { actor }: EditContext): Refusal | null {
  // The clock keeps wall times when the rules of a zone change, and sets nothing else.
  const allowed = actor === 'clock' ? field === 'run' : may(actor, POST_FIELDS[field].set, post);
  return allowed
    ? null
    : refuse('not-yours', `Changing the ${POST_FIELDS[field].label} of this post is not yours to do.`, field);
}

function badText(field: SettableField, value: unknown): Refusal | null {
  const spec: FieldSpec = POST_FIELDS[field];
  if (spec.kind !== 'text') return null;
  const text = value as string;
  if (spec.needed && text.trim() === '') return refuse('invalid', `Its ${spec.label} would be empty.`, field);
  if (text.length > spec.max) return refuse('invalid', `Its ${spec.label} would be too long.`, field);
  return null;
}

/** What is said of a thing that is not on the blog. */
export const NOT_HERE: Record<ReferenceKind, string> = {
  person: 'That person is not in this newsroom.',
  category: 'That category is not on this blog.',
  tag: 'One of those tags is not on this blog.',
  format: 'That format is not on this blog.',
  picture: 'That picture is not in this blog’s library.',
};

/** What a post names already may stay, whatever became of it. */
function unknownReference(
  post: Post,
  field: SettableField,
  value: unknown,
  context: EditContext,
): Refusal | null {
  const spec: FieldSpec = POST_FIELDS[field];
  if (spec.kind !== 'reference' && spec.kind !== 'references') return null;
  const ids = spec.kind === 'references' ? (value as number[]) : value === null ? [] : [value as number];
  const before = spec.kind === 'references' ? (post[field] as readonly number[]) : [post[field] as number];
  const unknown = ids.find((id) => !before.includes(id) && !context.has(spec.to, id));
  return unknown === undefined ? null : refuse('invalid', NOT_HERE[spec.to], field);
}

/** An editor moves posts only between categories given to them. */
function foreignCategory({ categoryId }: Partial<Post>, { actor }: EditContext): Refusal | null {
  if (categoryId === undefined || actor === 'clock' || isDesk(actor, { categoryId })) return null;
  return refuse('not-yours', 'You do not edit the category it would go to.', 'categoryId');
}

/** A second category that becomes the first goes; one that is set to it is a mistake. */
function secondCategory(post: Post, set: Partial<Post>): { ok: true; values: Partial<Post> } | Refusal {
  const { categoryId = post.categoryId, secondCategoryId = post.secondCategoryId } = set;
  if (secondCategoryId === null || secondCategoryId !== categoryId) return { ok: true, values: {} };
  return set.secondCategoryId === undefined
    ? { ok: true, values: { secondCategoryId: null } }
    : refuse('invalid', 'The second category is the same as the first.', 'secondCategoryId');
}

/** An address that readers have seen leads to its post permanently, so no other post may have it. */
function badSlug(post: Post, slug: string | null | undefined, context: EditContext): Refusal | null {
  if (slug === undefined || slug === null || slug === post.slug) return null;
  if (!isSlug(slug))
    return refuse(
      'invalid',
      `“${slug.slice(0, 100)}” is no web address: small letters, digits and single hyphens.`,
      'slug',
    );
  const owner = context.ownerOf(slug);
  if (!owner || owner.id === post.id) return null;
  return refuse(
    'taken',
    owner.formerly
      ? `/${slug} leads to “${owner.title}”, which once stood there.`
      : `/${slug} is the address of “${owner.title}”.`,
    'slug',
  );
}

function badPicture(
  post: Post,
  picture: LeadPicture | null | undefined,
  context: EditContext,
): Refusal | null {
  if (!picture || picture.media === post.leadPicture?.media || context.has('picture', picture.media))
    return null;
  return refuse('invalid', NOT_HERE.picture, 'leadPicture');
}

function badSpotlight(spotlight: Spotlight | null | undefined): Refusal | null {
  return spotlight && spotlight.until < spotlight.from
    ? refuse('invalid', 'The spotlight ends before it begins.', 'spotlight')
    : null;
}

function badDateConstraint(dateConstraint: PostValues['dateConstraint']): Refusal | null {
  const error = dateConstraintError(dateConstraint);
  return error ? refuse('invalid', error, 'dateConstraint') : null;
}

/** What is against a run time; a scheduled post without one is a matter of moves, see edit.ts. */
function badRunTime(post: Post, run: RunTime | null | undefined, context: EditContext): Refusal | null {
  if (run === undefined || sameValue(run, post.run)) return null;
  if (run === null)
    return post.stage === 'published'
      ? refuse('demands', 'A published post keeps its run time.', 'run')
      : null;
  if (post.stage === 'pitch')
    return refuse('no-such-move', 'A pitch has no date. Commission it, and it gets one.', 'run');
  if (post.stage === 'published' && isLater(run.at, context.now))
    return refuse('bad-time', 'A published post can be dated back, not forward. Withdraw it first.', 'run');
  if (post.stage === 'scheduled' && context.pastRun === 'refused' && !isLater(run.at, context.now))
    return refuse('bad-time', 'Its run time would lie in the past, and it would go out at once.', 'run');
  return null;
}

/** Values that fit the fields of the post's format; those of another format are let go with it. */
function formatValues(
  post: Post,
  set: Partial<Post>,
  context: EditContext,
): { ok: true; values: FormatValues } | Refusal {
  const formatId = set.formatId === undefined ? post.formatId : set.formatId;
  if (formatId === null) return { ok: true, values: {} };
  const format = context.format(formatId);
  if (!format || (format.retired && formatId !== post.formatId))
    return refuse('invalid', NOT_HERE.format, 'formatId');
  const values = set.formatValues ?? (formatId === post.formatId ? post.formatValues : {});
  for (const key of Object.keys(values)) {
    if (formatId === post.formatId && sameValue(values[key], post.formatValues[key])) continue;
    const field = format.fields.find((f) => f.key === key);
    const error = field ? errorOfValue(field, values[key]) : 'This format has no such field.';
    if (error) return refuse('invalid', error, `formatValues.${key}`);
  }
  return { ok: true, values };
}
