import type { BodyNode } from '../body/schema.js';
import { refuse, type EditContext, type Refusal } from '../posts/context.js';
import type { PostEdit } from '../posts/edit.js';
import { deskText, type Post } from '../posts/values.js';
import type { WallTime } from '../time/zone.js';
import type { BatchChange, ChangeOf } from './changes.js';
import { replaceIn, rewrite, type Finder, type Rewritten } from './replace.js';
import { runTimeAt, shifted } from './run-times.js';

/** What changes need to know beside what every edit needs. */
export interface BatchContext extends EditContext {
  /** Where a spread puts each post; see `spreadOver`. */
  spread: ReadonlyMap<number, WallTime>;
  bytesOf(media: number): number | undefined;
  /** The picture that was drawn from another within so many bytes, once it is there. */
  lighter(media: number, maxBytes: number): number | undefined;
  /** What replacing makes of a text, where it was worked out beforehand. */
  rewritten(change: ChangeOf<'replace'>, body: BodyNode): Rewritten | undefined;
}

/** The edits that a change means for a post as it stands; none when it is so already. */
export type EditsAnswer = { ok: true; edits: PostEdit[] } | Refusal;

const set = (values: Extract<PostEdit, { kind: 'set' }>['values']): EditsAnswer => ({
  ok: true,
  edits: [{ kind: 'set', values }],
});
const NOTHING: EditsAnswer = { ok: true, edits: [] };

export function editsOf(change: BatchChange, post: Post, context: BatchContext, find?: Finder): EditsAnswer {
  switch (change.kind) {
    case 'byline':
      return set({ bylineId: change.to });
    case 'category':
      return set({ categoryId: change.to });
    case 'second category':
      return set({ secondCategoryId: change.to });
    case 'categories merge':
      return mergeCategories(change, post);
    case 'tags':
      return set({ tagIds: [...post.tagIds.filter((t) => !change.lose.includes(t)), ...change.gain] });
    case 'tags merge':
      return post.tagIds.some((t) => change.from.includes(t))
        ? set({ tagIds: [...post.tagIds.filter((t) => !change.from.includes(t)), change.into] })
        : NOTHING;
    case 'tags become':
      return set({ tagIds: change.to });
    case 'access':
      return set({ access: change.to });
    case 'comments':
      return set({ comments: change.to });
    case 'spotlight':
      return set({ spotlight: change.to });
    case 'campaign':
      return set({ campaign: change.to });
    case 'format field':
      return formatField(change, post);
    case 'replace':
      return replace(change, post, context, find!);
    case 'lighten':
      return lighten(change, post, context);
    case 'shift':
      return post.run === null
        ? refuse('invalid', 'It has no run time to shift.')
        : runAt(shifted(post.run.local, change), context);
    case 'spread':
      return spread(post, context);
    case 'stage':
      return post.stage === change.to
        ? NOTHING
        : { ok: true, edits: [{ kind: 'move', to: change.to, note: change.note }] };
    case 'plan':
      return takePlace(change, post, context);
    case 'reassign':
      return reassign(change, post);
    case 'bin':
      return { ok: true, edits: [{ kind: 'bin' }] };
  }
}

function mergeCategories({ from, into }: ChangeOf<'categories merge'>, post: Post): EditsAnswer {
  const merged = (id: number | null) => (id !== null && from.includes(id) ? into : id);
  const [first, second] = [merged(post.categoryId), merged(post.secondCategoryId)];
  const secondCategoryId = second === first ? null : second;
  return set(first === post.categoryId ? { secondCategoryId } : { categoryId: first, secondCategoryId });
}

function formatField({ formatId, key, to }: ChangeOf<'format field'>, post: Post): EditsAnswer {
  if (post.formatId !== formatId) return refuse('invalid', 'It has another format.');
  const { [key]: _, ...others } = post.formatValues;
  return set({ formatValues: to === null ? others : { ...others, [key]: to } });
}

function replace(change: ChangeOf<'replace'>, post: Post, context: BatchContext, find: Finder): EditsAnswer {
  const edits: PostEdit[] = [];
  for (const place of change.places) {
    if (place === 'text') {
      const now = deskText(post);
      if (!now) continue;
      const text = context.rewritten(change, now) ?? rewrite(now, find);
      if (text.state === 'refused') return refuse('bad-text', text.sentence);
      if (text.state === 'changed') edits.push({ kind: 'text', body: text.body, words: text.words });
    } else if (place === 'slug') {
      if (post.slug !== null) edits.push({ kind: 'set', values: { slug: replaceIn(post.slug, find) } });
    } else {
      const text = replaceIn(post[place], find);
      if (text !== post[place]) edits.push({ kind: 'set', values: { [place]: text.trim() } });
    }
  }
  return { ok: true, edits };
}

/** Without a lead picture there is nothing that weighs too much. */
function lighten({ max }: ChangeOf<'lighten'>, post: Post, context: BatchContext): EditsAnswer {
  const picture = post.leadPicture;
  if (picture === null) return NOTHING;
  if (picture.maxBytes !== undefined && picture.maxBytes <= max) return NOTHING;
  if (picture.maxBytes === undefined && (context.bytesOf(picture.media) ?? 0) <= max) return NOTHING;
  const drawn = context.lighter(picture.media, max);
  const { media, alt } = picture;
  return set({ leadPicture: drawn === undefined ? { media, alt, maxBytes: max } : { media: drawn, alt } });
}

function spread(post: Post, context: BatchContext): EditsAnswer {
  if (post.stage === 'published') return refuse('demands', 'A published post keeps its run time.');
  const local = context.spread.get(post.id);
  return local === undefined
    ? refuse('invalid', 'No open slot of its category is left in the next year.')
    : runAt(local, context);
}

function takePlace({ places }: ChangeOf<'plan'>, post: Post, context: BatchContext): EditsAnswer {
  const place = places.find((p) => p.postId === post.id);
  if (!place) return NOTHING;
  const run = runTimeAt(place.local, context);
  if (!run.ok) return run;
  const brief = place.copyDate === null ? {} : { brief: { ...post.brief, copyDate: place.copyDate } };
  const values = { bylineId: place.writerId, ...brief };
  if (post.stage !== 'pitch')
    return { ok: true, edits: [{ kind: 'set', values: { ...values, run: run.run } }] };
  return {
    ok: true,
    edits: [
      { kind: 'set', values },
      { kind: 'move', to: 'commissioned', run: run.run },
    ],
  };
}

function reassign({ from, to }: ChangeOf<'reassign'>, post: Post): EditsAnswer {
  const values: Extract<PostEdit, { kind: 'set' }>['values'] = {};
  const writes = post.bylineId === from || post.coauthorIds.includes(from);
  if (post.bylineId === from) values.bylineId = to;
  // Who becomes the byline is no co-author beside it.
  if (writes)
    values.coauthorIds = [
      ...new Set(post.coauthorIds.map((id) => (id === from && post.bylineId !== to ? to : id))),
    ].filter((id) => id !== from && id !== (values.bylineId ?? post.bylineId));
  if (post.editorId === from) values.editorId = to;
  if (post.proofreaderId === from) values.proofreaderId = to;
  return Object.keys(values).length === 0 ? NOTHING : set(values);
}

function runAt(local: WallTime, context: BatchContext): EditsAnswer {
  const answer = runTimeAt(local, context);
  return answer.ok ? set({ run: answer.run }) : answer;
}
