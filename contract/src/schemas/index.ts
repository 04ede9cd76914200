import Joi from 'joi';
import { CHECKS, CHECK_WEIGHTS, FIELD_KINDS, ROLES, STAGES, safeHref, type CheckSettings, type DateWish, type Focus, type FormatField, type SlotException } from '@keyroster/core';
import type { NewPerson, PersonChanges, SetUp, SignIn } from '../accounts.js';
import {
  MEDIA_USES, OUT_KINDS, type Crop, type FormatChanges, type LighterQuery, type MediaChanges, type MediaQuery, type NewBody, type NewFormat, type NewNote, type NewTemplate, type NewTitleTrial, type NoteChanges, type OutQuery,
  type Replacement, type TagChanges, type TemplateChanges,
} from '../desk.js';
import { CALENDARS, type AbsenceChanges, type CardsQuery, type FindQuery, type NewAbsence, type NewCalendar, type NewSlot, type PitchList, type PlannerQuery, type RunListQuery, type SlotQuestion, type Sweep } from '../planner.js';
import { ACCESS, POST_SORTS, type Brief, type LeadPicture, type NewCopy, type NewMove, type NewPost, type PostChanges, type PostQuery } from '../posts.js';
import { ROUTES, type RouteName } from '../routes.js';
import type { BlogChanges, CategoryChanges, NewCategory } from '../site.js';
import { archiveBodies, archiveQueries, spotlight } from './archive.js';
import { outletBodies, outletQueries } from './outlets.js';
import { address, clock, date, email, id, newPassword, text, wallTime, zone } from './parts.js';

export interface RouteSchemas {
  params: Joi.ObjectSchema;
  query: Joi.ObjectSchema;
  body: Joi.ObjectSchema | null;
}

const hue = () => Joi.number().integer().min(1).max(10);
const weekday = () => Joi.number().integer().min(1).max(7);
const ids = () => Joi.array().items(id()).max(20).unique();

const brief = Joi.object<Brief, true>({
  angle: text(4000).required(),
  length: Joi.number().integer().min(1).max(100_000).allow(null).required(),
  copyDate: date().allow(null).required(),
});

const leadPicture = Joi.object<LeadPicture, true>({ media: id().required(), alt: text(1000).required() });

const wish = () => Joi.object<DateWish, true>({ notBefore: date().allow(null).required(), notAfter: date().allow(null).required(), mustBeOn: date().allow(null).required() });

const slot = () => Joi.object<NewSlot, true>({
  weekday: weekday().required(), time: clock().required(), categoryId: id().required(), format: text(60).default(''),
  from: date().allow(null).default(null), until: date().allow(null).default(null), everyWeeks: Joi.number().integer().min(1).max(26).default(1),
  exceptions: Joi.array().items(Joi.object<SlotException, true>({ date: date().required(), movedTo: date().allow(null).required(), movedTime: clock().allow(null).required() })).max(200).default([]),
});

const field = Joi.object<FormatField, true>({
  key: Joi.string().pattern(/^[a-z][a-z0-9-]{0,39}$/).required(), label: text(80, 1).required(), kind: Joi.string().valid(...FIELD_KINDS).required(), required: Joi.boolean().required(),
  hint: text(200).required(), choices: Joi.array<readonly string[]>().items(text(80, 1)).max(40).required() as unknown as Joi.ObjectSchema<readonly string[]>,
});
const formatFields = () => Joi.array().items(field).max(30);
const formatValues = () => Joi.object().pattern(Joi.string().max(40), Joi.alternatives(text(4000), Joi.number().min(-1e12).max(1e12), Joi.array().items(text(400)).max(100))).max(40);
const checkSettings = () => Joi.object<CheckSettings>(Object.fromEntries(CHECKS.map((key) => [key, Joi.string().valid(...CHECK_WEIGHTS)])));
const tagNames = () => Joi.array().items(text(60, 1)).max(20);
const link = () => Joi.string().trim().max(2000).allow('').custom((value: string, helpers) => (value === '' || (/^https?:/i.test(value) && safeHref(value) === value) ? value : helpers.error('link.form')))
  .messages({ 'link.form': '{{#label}} must be a web address that begins with https://' });
const focus = () => Joi.object<Focus, true>({ x: Joi.number().min(0).max(1).required(), y: Joi.number().min(0).max(1).required() });
const weight = () => Joi.number().integer().min(20_000).max(20_000_000).required();
const pixels = (least: number) => Joi.number().integer().min(least).max(20_000).required();
const starter = () => Joi.string().max(100_000).allow('');

const capacity = () => Joi.number().integer().min(0).max(50).allow(null);

const bodies: Partial<Record<RouteName, Joi.ObjectSchema>> = {
  ...archiveBodies,
  ...outletBodies,
  'session.open': Joi.object<SignIn, true>({ email: Joi.string().trim().lowercase().max(254).required(), password: Joi.string().max(200).required() }),
  'setup.make': Joi.object<SetUp, true>({
    blogTitle: text(120, 1).required(), zone: zone().required(), name: text(120, 1).required(), email: email().required(), password: newPassword().required(),
  }),
  'people.add': Joi.object<NewPerson, true>({
    name: text(120, 1).required(), email: email().required(), password: newPassword().required(),
    role: Joi.string().valid(...ROLES).required(), categories: Joi.array().items(id()).max(100).unique().required(),
  }),
  'people.change': Joi.object<PersonChanges, true>({
    name: text(120, 1), role: Joi.string().valid(...ROLES), categories: Joi.array().items(id()).max(100).unique(), active: Joi.boolean(), password: newPassword(), capacity: capacity(),
  }).min(1),
  'posts.pitch': Joi.object<NewPost, true>({ title: text(300, 1).required(), thought: text(4000), categoryId: id().allow(null), bylineId: id().allow(null), wish: wish(), runAt: wallTime() }),
  'posts.change': Joi.object<PostChanges, true>({
    title: text(300, 1), thought: text(4000), excerpt: text(1000), leadPicture: leadPicture.allow(null),
    address: address().allow(null), categoryId: id().allow(null), secondCategoryId: id().allow(null),
    bylineId: id().allow(null), coauthorIds: ids(), editorId: id().allow(null), proofreaderId: id().allow(null),
    access: Joi.string().valid(...ACCESS), subtitle: text(300), tags: tagNames(), formatId: id().allow(null), formatValues: formatValues(), sharePicture: id().allow(null),
    searchTitle: text(120), searchDescription: text(400), sourceUrl: link(), titleLinks: Joi.boolean(), place: text(200), comments: Joi.boolean(), commentCall: text(300), campaign: text(120), spotlight: spotlight().allow(null), brief, wish: wish(), rating: Joi.number().integer().min(1).max(5).allow(null), runAt: wallTime().allow(null),
  }).min(1),
  'posts.copy': Joi.object<NewCopy, true>({ title: text(300, 1) }),
  'posts.move': Joi.object<NewMove, true>({ to: Joi.string().valid(...STAGES).required(), runAt: wallTime(), note: text(4000) }),
  'body.store': Joi.object<NewBody, true>({ body: Joi.object().unknown(true).required() }),
  'notes.add': Joi.object<NewNote, true>({
    text: text(4000, 1).required(),
    passage: Joi.object({ exact: Joi.string().min(1).max(4000).required(), prefix: Joi.string().max(64).allow('').required(), suffix: Joi.string().max(64).allow('').required() })
      .custom((value, helpers) => (/\u0000|[\ud800-\udfff]/u.test(Object.values(value).join('')) ? helpers.error('any.invalid') : value)).allow(null), // eslint-disable-line no-control-regex
    parentId: id().allow(null),
  }),
  'tags.change': Joi.object<TagChanges, true>({ name: text(60, 1), mergeInto: id() }).xor('name', 'mergeInto'),
  'formats.add': Joi.object<NewFormat, true>({ name: text(60, 1).required(), hint: text(300).default(''), fields: formatFields().default([]), starterText: starter().default('') }),
  'formats.change': Joi.object<FormatChanges, true>({ name: text(60, 1), hint: text(300), fields: formatFields(), starterText: starter(), retired: Joi.boolean() }).min(1),
  'templates.add': Joi.object<NewTemplate, true>({ name: text(80, 1).required(), text: starter(), postId: id() }).xor('text', 'postId'),
  'templates.change': Joi.object<TemplateChanges, true>({ name: text(80, 1), text: starter() }).min(1),
  'trials.keep': Joi.object<NewTitleTrial, true>({ title: text(300, 1).required() }),
  'media.change': Joi.object<MediaChanges, true>({
    name: text(200), alt: text(1000), caption: text(1000), credit: text(300), licence: text(200), source: text(2000), tags: tagNames(), focus: focus(), binned: Joi.boolean(),
  }).min(1),
  'media.lighten': Joi.object<LighterQuery, true>({ bytes: weight() }),
  'media.crop': Joi.object<Crop, true>({ left: pixels(0), top: pixels(0), width: pixels(1), height: pixels(1) }),
  'media.replace': Joi.object<Replacement, true>({ with: id().required() }),
  'notes.change': Joi.object<NoteChanges, true>({ settled: Joi.boolean().required() }),
  'planner.sweep': Joi.object<Sweep, true>({ postIds: Joi.array().items(id()).min(1).max(200).unique().required() }),
  'pitches.keep': Joi.object<PitchList, true>({ titles: Joi.array().items(text(300, 1)).min(1).max(500).required(), categoryId: id().allow(null).required() }),
  'absences.add': Joi.object<NewAbsence, true>({ personId: id().required(), from: date().required(), to: date().required(), note: text(300).default('') }),
  'absences.change': Joi.object<AbsenceChanges, true>({ from: date(), to: date(), note: text(300) }).min(1),
  'calendars.make': Joi.object<NewCalendar, true>({ kind: Joi.string().valid(...CALENDARS).required() }),
  'slots.add': slot(),
  'slots.change': slot(),
  'slots.weigh': Joi.object<SlotQuestion, true>({ id: id().allow(null).required(), slot: slot().allow(null).required() }),
  'blog.change': Joi.object<BlogChanges, true>({ title: text(120, 1), tagline: text(300), firstWeekday: weekday(), checks: checkSettings(), titleAim: Joi.number().integer().min(1).max(99), binDays: Joi.number().integer().min(1).max(3650).allow(null) }).min(1),
  'categories.add': Joi.object<NewCategory, true>({ name: text(60, 1).required(), hue: hue().required() }),
  'categories.change': Joi.object<CategoryChanges, true>({ name: text(60, 1), hue: hue(), mergeInto: id() }).min(1),
};

/** `stage=drafting,cleared` or `stage=drafting&stage=cleared`. */
const stages = () => Joi.array().items(Joi.string().valid(...STAGES)).single().max(STAGES.length);
const splitStages = (query: Record<string, unknown>) => ({
  ...query,
  ...(typeof query['stage'] === 'string' ? { stage: query['stage'].split(',') } : {}),
});

const queries: Partial<Record<RouteName, Joi.ObjectSchema>> = {
  ...archiveQueries,
  ...outletQueries,
  'posts.list': Joi.object<PostQuery, true>({
    stage: stages(), category: id(), byline: id(), words: text(200), sort: Joi.string().valid(...POST_SORTS), cursor: Joi.string().max(400), limit: Joi.number().integer().min(1).max(200),
  }),
  'planner.see': Joi.object<PlannerQuery, true>({ from: date(), weeks: Joi.number().integer().min(1).max(12) }),
  'planner.cards': Joi.object<CardsQuery, true>({ ids: Joi.array().items(id()).single().min(1).max(50).required() }),
  'planner.runList': Joi.object<RunListQuery, true>({ from: date(), weeks: Joi.number().integer().min(1).max(12), category: id(), person: id(), stage: Joi.string().valid(...STAGES) }),
  'posts.out': Joi.object<OutQuery, true>({ as: Joi.string().valid(...OUT_KINDS).required() }),
  'media.list': Joi.object<MediaQuery, true>({ words: text(200), tag: text(60), use: Joi.string().valid(...MEDIA_USES), before: id() }),
  'media.weigh': Joi.object<LighterQuery, true>({ bytes: weight() }),
  'find.all': Joi.object<FindQuery, true>({ words: text(200, 1).required() }),
};

/** The Joi schemas of a route. Unknown fields are refused everywhere. */
export function schemasOf(name: RouteName): RouteSchemas {
  return {
    params: ROUTES[name].path.includes(':id') ? Joi.object({ id: id().required() }) : Joi.object({}),
    query: queries[name] ?? Joi.object({}),
    body: bodies[name] ?? null,
  };
}

export function prepareQuery(name: RouteName, query: Record<string, unknown>): Record<string, unknown> {
  if (name === 'posts.list') return splitStages(query);
  return typeof query['ids'] === 'string' ? { ...query, ids: query['ids'].split(',') } : query;
}
