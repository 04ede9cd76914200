import type { BodyNode } from '../body/schema.js';
import { isAddress } from '../address/address.js';
import { faultOfValue, type FormatField, type FormatValues } from '../formats/formats.js';
import type { Actor } from '../people/people.js';
import { isDesk, judgeMove, type PostFacts, type Stage } from '../stages/stages.js';
import { isLater, meaningOf, type Instant, type WallTime } from '../time/zone.js';
import { finderOf, replaceIn, replaceInBody, type Finder, type Replacing } from './replace.js';

/** Days on which a post is held at the top of the front page; the last one included. */
export interface Spotlight {
  from: string;
  until: string;
}

export interface BatchRun {
  local: WallTime;
  zone: string;
  at: Instant;
}

/** A post's lead picture with its weight in bytes; or one that is made lighter from another when the batch is applied. */
export type LeadPicture = { media: number; bytes: number } | { lighten: number; most: number };

/** The fields of a post that a batch can change. */
export interface BatchFields {
  title: string;
  excerpt: string;
  address: string | null;
  body: BodyNode;
  categoryId: number | null;
  secondCategoryId: number | null;
  bylineId: number | null;
  /** In ascending order. */
  tagIds: readonly number[];
  access: 'everyone' | 'staff';
  comments: boolean;
  spotlight: Spotlight | null;
  campaign: string;
  formatValues: FormatValues;
  lead: LeadPicture | null;
  run: BatchRun | null;
  stage: Stage;
  binned: boolean;
}
export type BatchField = keyof BatchFields;

/** A post as a batch sees it. The text is there only when a change looks at it. */
export interface BatchPost {
  id: number;
  facts: Omit<PostFacts, 'stage' | 'categoryId' | 'bylineId'>;
  words: number;
  formatId: number | null;
  /** Sentences of checks that hold it back, as last measured. */
  blocking: readonly string[];
  fields: Omit<BatchFields, 'body'> & { body?: BodyNode };
}

export const REPLACE_PLACES = ['title', 'excerpt', 'text', 'address'] as const;
export type ReplacePlace = (typeof REPLACE_PLACES)[number];

/** One change of a batch. */
export type BatchChange =
  | { kind: 'byline'; to: number | null }
  | { kind: 'category'; to: number }
  | { kind: 'second category'; to: number | null }
  | { kind: 'tags'; gain: readonly number[]; lose: readonly number[] }
  /** Where one of these is, it becomes the other. */
  | { kind: 'categories merge'; from: readonly number[]; into: number }
  | { kind: 'tags merge'; from: readonly number[]; into: number }
  /** Become exactly these. */
  | { kind: 'tags become'; to: readonly number[] }
  | { kind: 'access'; to: 'everyone' | 'staff' }
  | { kind: 'comments'; to: boolean }
  | { kind: 'spotlight'; to: Spotlight | null }
  | { kind: 'campaign'; to: string }
  | { kind: 'format field'; formatId: number; key: string; to: string | number | boolean | null }
  | ({ kind: 'replace'; places: readonly ReplacePlace[] } & Replacing)
  /** Lead pictures are drawn again with at most so many bytes. */
  | { kind: 'lighten'; most: number }
  | { kind: 'shift'; days: number; minutes: number }
  | { kind: 'spread'; from: string }
  | { kind: 'stage'; to: Stage; note?: string }
  | { kind: 'bin' };

/** What foreseeing a change needs to know beside the post. */
export interface BatchScene {
  actor: Actor;
  now: Instant;
  zone: string;
  formats: ReadonlyMap<number, readonly FormatField[]>;
  /** Is the address another post's, now or formerly? */
  taken: (address: string, postId: number) => boolean;
  /** Where a spread puts each post; see `spreadOver`. */
  spread: ReadonlyMap<number, WallTime>;
}

export type Outcome =
  | { state: 'changes'; before: Partial<BatchFields>; after: Partial<BatchFields> }
  | { state: 'same' }
  | { state: 'refused'; sentence: string };

type Step = Partial<BatchFields> | { refused: string };
type Foresee = (post: BatchPost) => Outcome;

const refuse = (refused: string): Step => ({ refused });

/** Are two values of a field the same, whatever order the keys of an object come in? */
export function sameValue(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return (a ?? null) === (b ?? null);
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>];
  const keys = new Set([...Object.keys(x), ...Object.keys(y)]);
  for (const key of keys) if (!sameValue(x[key], y[key])) return false;
  return true;
}

/**
 * Makes the function that says what a batch does to a post: the fields it changes with their values before and after,
 * or that it is so already, or a sentence why not. The changes are made one after the other, each on what the one before
 * left; when one is refused the post is left as it is. Throws nothing; a pattern that cannot be read gives its sentence at once.
 */
export function foreseer(changes: readonly BatchChange[], scene: BatchScene): { ok: true; foresee: Foresee } | { ok: false; sentence: string } {
  const finders = new Map<BatchChange, Finder>();
  for (const change of changes) {
    if (change.kind !== 'replace') continue;
    const answer = finderOf(change);
    if (!answer.ok) return answer;
    finders.set(change, answer.find);
  }
  return {
    ok: true,
    foresee: (post) => {
      if (post.fields.binned) return { state: 'refused', sentence: 'It lies in the bin.' };
      if (!isDesk(scene.actor, post.fields)) return { state: 'refused', sentence: 'It is in no category that you edit.' };
      let now = post.fields;
      for (const change of changes) {
        const step = stepOf(change, { ...post, fields: now }, scene, finders);
        if ('refused' in step) return { state: 'refused', sentence: step.refused as string };
        now = { ...now, ...step };
      }
      const fault = standing(now);
      if (fault) return { state: 'refused', sentence: fault };
      const [before, after]: [Partial<Record<BatchField, unknown>>, Partial<Record<BatchField, unknown>>] = [{}, {}];
      for (const field of Object.keys(now) as BatchField[]) {
        if (sameValue(now[field], post.fields[field])) continue;
        before[field] = post.fields[field];
        after[field] = now[field];
      }
      return Object.keys(after).length === 0 ? { state: 'same' } : { state: 'changes', before: before as Partial<BatchFields>, after: after as Partial<BatchFields> };
    },
  };
}

/** What no batch may leave behind, in a sentence. */
function standing(fields: BatchPost['fields']): string | null {
  if (fields.secondCategoryId !== null && fields.secondCategoryId === fields.categoryId) return 'Its second category would be the same as its first.';
  if ((fields.stage === 'scheduled' || fields.stage === 'published') && fields.bylineId === null) return `A ${fields.stage} post keeps its byline.`;
  return null;
}

function stepOf(change: BatchChange, post: BatchPost, scene: BatchScene, finders: ReadonlyMap<BatchChange, Finder>): Step {
  const { fields } = post;
  switch (change.kind) {
    case 'byline': return { bylineId: change.to };
    case 'category':
      return categoryStep(change.to, fields.secondCategoryId, scene);
    case 'categories merge': {
      const merged = (id: number | null) => (id !== null && change.from.includes(id) ? change.into : id);
      const [first, second] = [merged(fields.categoryId), merged(fields.secondCategoryId)];
      return first === null || first === fields.categoryId ? { secondCategoryId: second === first ? null : second } : categoryStep(first, second, scene);
    }
    case 'second category': return { secondCategoryId: change.to };
    case 'tags': {
      const lost = new Set(change.lose);
      return { tagIds: [...new Set([...fields.tagIds.filter((t) => !lost.has(t)), ...change.gain])].sort((a, b) => a - b) };
    }
    case 'tags merge': return fields.tagIds.some((t) => change.from.includes(t)) ? { tagIds: [...new Set([...fields.tagIds.filter((t) => !change.from.includes(t)), change.into])].sort((a, b) => a - b) } : {};
    case 'tags become': return { tagIds: [...new Set(change.to)].sort((a, b) => a - b) };
    case 'access': return { access: change.to };
    case 'comments': return { comments: change.to };
    case 'spotlight': return { spotlight: change.to };
    case 'campaign': return { campaign: change.to };
    case 'format field': return formatStep(change, post, scene);
    case 'replace': return replaceStep(change, post, scene, finders.get(change)!);
    case 'lighten': return lightenStep(fields.lead, change.most);
    case 'shift': return fields.run === null ? refuse('It has no run time to shift.') : runStep(shifted(fields.run.local, change), post, scene);
    case 'spread': {
      if (fields.stage === 'published') return refuse('A published post keeps its run time.');
      const local = scene.spread.get(post.id);
      return local === undefined ? refuse('No open slot of its category is left in the next year.') : runStep(local, post, scene);
    }
    case 'stage': return stageStep(change, post, scene);
    case 'bin': return { binned: true };
  }
}

function categoryStep(to: number, second: number | null, scene: BatchScene): Step {
  if (scene.actor.role === 'editor' && !scene.actor.categories.includes(to)) return refuse('You do not edit the category it would go to.');
  return { categoryId: to, secondCategoryId: second === to ? null : second };
}

function lightenStep(lead: LeadPicture | null, most: number): Step {
  // Without a lead picture there is nothing that weighs too much.
  if (lead === null) return {};
  if ('lighten' in lead) return { lead: { lighten: lead.lighten, most: Math.min(lead.most, most) } };
  return lead.bytes <= most ? {} : { lead: { lighten: lead.media, most } };
}

function formatStep(change: Extract<BatchChange, { kind: 'format field' }>, post: BatchPost, scene: BatchScene): Step {
  if (post.formatId !== change.formatId) return refuse('It has another format.');
  const field = scene.formats.get(change.formatId)?.find((f) => f.key === change.key);
  if (!field) return refuse('Its format has no such field.');
  const fault = change.to === null ? null : faultOfValue(field, change.to as never);
  if (fault) return refuse(fault);
  const values = Object.fromEntries(Object.entries(post.fields.formatValues).filter(([key]) => key !== change.key));
  return { formatValues: (change.to === null ? values : { ...values, [change.key]: change.to }) as FormatValues };
}

function replaceStep(change: Extract<BatchChange, { kind: 'replace' }>, post: BatchPost, scene: BatchScene, find: Finder): Step {
  const { fields } = post;
  const step: Partial<BatchFields> = {};
  for (const place of change.places) {
    if (place === 'text') {
      if (fields.body) step.body = replaceInBody(fields.body, find);
    } else if (place === 'address') {
      if (fields.address === null) continue;
      const address = replaceIn(fields.address, find);
      if (address === fields.address) continue;
      if (!isAddress(address)) return refuse(`“${address.slice(0, 100)}” is no web address: small letters, digits and single hyphens.`);
      if (scene.taken(address, post.id)) return refuse(`/${address} is another post’s.`);
      step.address = address;
    } else {
      const text = replaceIn(fields[place], find).trim();
      if (place === 'title' && text === '') return refuse('Its title would be empty.');
      if (text.length > (place === 'title' ? 300 : 2000)) return refuse(`Its ${place} would be too long.`);
      step[place] = text;
    }
  }
  return step;
}

const pad = (n: number, to = 2) => String(n).padStart(to, '0');

/** A wall time so many days and minutes later, by the clock on the wall: 08:00 stays 08:00 over a change of clocks. */
export function shifted(local: WallTime, { days, minutes }: { days: number; minutes: number }): WallTime {
  const at = new Date(Date.UTC(Number(local.slice(0, 4)), Number(local.slice(5, 7)) - 1, Number(local.slice(8, 10)) + days, Number(local.slice(11, 13)), Number(local.slice(14, 16)) + minutes, Number(local.slice(17, 19) || 0)));
  return `${pad(at.getUTCFullYear(), 4)}-${pad(at.getUTCMonth() + 1)}-${pad(at.getUTCDate())}T${pad(at.getUTCHours())}:${pad(at.getUTCMinutes())}:${pad(at.getUTCSeconds())}`;
}

function runStep(local: WallTime, post: BatchPost, scene: BatchScene): Step {
  const meaning = meaningOf(local, scene.zone);
  if (!meaning) return refuse('It would run at a time that does not exist.');
  if (meaning.kind === 'gap') return refuse('It would run at a time that the clocks leave out.');
  // A time that comes twice is meant the first time, as everywhere.
  const at = meaning.kind === 'exact' ? meaning.at : meaning.choices[0].at;
  if (post.fields.stage === 'published' && isLater(at, scene.now)) return refuse('A published post can be dated back, not forward.');
  if (post.fields.stage === 'scheduled' && !isLater(at, scene.now)) return refuse('Its run time would lie in the past, and it would go out at once.');
  if (post.fields.stage === 'pitch') return refuse('A pitch has no date.');
  return { run: { local, zone: scene.zone, at } };
}

function stageStep(change: Extract<BatchChange, { kind: 'stage' }>, post: BatchPost, scene: BatchScene): Step {
  const { fields } = post;
  if (fields.stage === change.to) return {};
  const answer = judgeMove(scene.actor, { ...post.facts, stage: fields.stage, categoryId: fields.categoryId, bylineId: fields.bylineId }, change.to, {
    title: fields.title, words: post.words, bylineId: fields.bylineId, categoryId: fields.categoryId, address: fields.address, runAt: fields.run?.at ?? null, note: change.note ?? null, blocking: post.blocking,
  });
  if (!answer.ok) return refuse(answer.sentence);
  if (change.to === 'scheduled' && fields.run && !isLater(fields.run.at, scene.now)) return refuse('Its run time lies in the past, and it would go out at once.');
  return { stage: change.to, ...(losesRun(fields.stage, change.to) ? { run: null } : {}) };
}

/** Does a move take the run time away? */
export function losesRun(from: Stage, to: Stage): boolean {
  return to === 'pitch' || (to === 'cleared' && from === 'scheduled');
}

/** What a batch did to one post, kept with it. */
export interface BatchItem {
  before: Partial<BatchFields>;
  after: Partial<BatchFields>;
}

/** The item that leads back. */
export function inverse({ before, after }: BatchItem): BatchItem {
  return { before: after, after: before };
}

export interface TakenBack extends BatchItem {
  /** Fields that somebody changed since, and which stay as they are unless `force`. */
  since: BatchField[];
}

/**
 * What taking an item back does to the post as it stands now. A field that still has the batch's value returns to what it
 * was; one that was changed since is kept and named, or taken back all the same with `force`. Tags that others gave or
 * took since stay either way: only the batch's own come and go.
 */
export function takeBack(item: BatchItem, now: Partial<BatchFields>, force = false): TakenBack {
  const [before, after]: [Record<string, unknown>, Record<string, unknown>] = [{}, {}];
  const since: BatchField[] = [];
  for (const field of Object.keys(item.after) as BatchField[]) {
    if (field === 'tagIds') {
      const gained = (item.after.tagIds ?? []).filter((t) => !item.before.tagIds?.includes(t));
      const lost = (item.before.tagIds ?? []).filter((t) => !item.after.tagIds?.includes(t));
      const tags = [...new Set([...(now.tagIds ?? []).filter((t) => !gained.includes(t)), ...lost])].sort((a, b) => a - b);
      if (sameValue(tags, now.tagIds)) continue;
      before['tagIds'] = now.tagIds;
      after['tagIds'] = tags;
      continue;
    }
    const untouched = sameValue(now[field], item.after[field]);
    if (!untouched && sameValue(now[field], item.before[field])) continue;
    if (!untouched) since.push(field);
    if (!untouched && !force) continue;
    before[field] = now[field];
    after[field] = item.before[field];
  }
  return { before: before as Partial<BatchFields>, after: after as Partial<BatchFields>, since };
}

/** Gives posts, in their order, the earliest open slots of their category. */
export function spreadOver(posts: readonly { id: number; categoryId: number | null }[], open: readonly { local: WallTime; categoryId: number }[]): Map<number, WallTime> {
  const byCategory = new Map<number, WallTime[]>();
  for (const slot of [...open].sort((a, b) => (a.local < b.local ? -1 : 1))) byCategory.set(slot.categoryId, [...(byCategory.get(slot.categoryId) ?? []), slot.local]);
  const places = new Map<number, WallTime>();
  for (const post of posts) {
    const local = post.categoryId === null ? undefined : byCategory.get(post.categoryId)?.shift();
    if (local !== undefined) places.set(post.id, local);
  }
  return places;
}
