import Joi from 'joi';
import {
  ADDRESS_PATTERNS,
  CHECKS,
  COMMENT_HOLDS,
  MAX_CLOSE_DAYS,
  CHECK_WEIGHTS,
  MAX_MENU,
  MAX_PANELS,
  MAX_PANEL_LINKS,
  MAX_ROTATION,
  MAX_START_POSTS,
  MAX_THEME_CHARS,
  MENU_PAGES,
  PANEL_COUNT,
  PANEL_KINDS,
  POSTS_PER_PAGE,
  type CheckSettings,
  type MenuEntry,
  type Mount,
  type Panel,
  type Rotation,
  type SiteSettings,
} from '@keyroster/core';
import type {
  AroundChosen,
  BlogChanges,
  BlogPlace,
  CategoryChanges,
  LookChosen,
  LookTried,
  NewBlog,
  NewCategory,
  SiteChanges,
} from './types.js';
import type { Bodies } from '../parts/of.js';
import { date, host, id, ids, link, look, text, weekday, zone } from '../parts/parts.js';

const hue = () => Joi.number().integer().min(1).max(10);
const checkSettings = () =>
  Joi.object<CheckSettings>(
    Object.fromEntries(CHECKS.map((key) => [key, Joi.string().valid(...CHECK_WEIGHTS)])),
  );

/** A whole address, or a path of the blog. */
const address = () => Joi.alternatives(link().min(1), Joi.string().pattern(/^\/(?!\/)\S{0,500}$/));
const label = () => text(60).required();
const menuEntry = () =>
  Joi.alternatives<MenuEntry>(
    Joi.object({ kind: 'page', page: Joi.valid(...MENU_PAGES).required(), label: label() }),
    Joi.object({ kind: 'category', id: id().required(), label: label() }),
    Joi.object({ kind: 'post', id: id().required(), label: label() }),
    Joi.object({ kind: 'address', url: address().required(), label: text(60, 1).required() }),
  );
const panel = () =>
  Joi.object<Panel, true>({
    kind: Joi.string()
      .valid(...PANEL_KINDS)
      .required(),
    shown: Joi.boolean().required(),
    title: label(),
    text: text(4000).required(),
    links: Joi.array()
      .items(Joi.object({ label: label(), url: address().required() }))
      .max(MAX_PANEL_LINKS)
      .required() as unknown as Joi.ObjectSchema<Panel['links']>,
    count: Joi.number().integer().min(PANEL_COUNT.min).max(PANEL_COUNT.max).required(),
  });
const siteChanges = () =>
  Joi.object<SiteChanges, true>({
    postsPerPage: Joi.number().integer().min(POSTS_PER_PAGE.min).max(POSTS_PER_PAGE.max),
    addressPattern: Joi.string().valid(...ADDRESS_PATTERNS),
    comments: Joi.boolean(),
    commentsHold: Joi.string().valid(...COMMENT_HOLDS),
    commentsCloseDays: Joi.number().integer().min(1).max(MAX_CLOSE_DAYS).allow(null),
    members: Joi.boolean(),
    letter: Joi.boolean(),
    letterOpens: Joi.boolean(),
    letterClicks: Joi.boolean(),
    categoriesInSearch: Joi.boolean(),
    tagsInSearch: Joi.boolean(),
    editorsSchedule: Joi.boolean(),
    wantedPerWeek: Joi.number().integer().min(0).max(100).allow(null),
    start: Joi.object<SiteSettings['start']>({
      intro: text(2000).required(),
      posts: ids().max(MAX_START_POSTS).required(),
    }) as never,
    spotlightOrder: Joi.array().items(id()).max(200).unique() as never,
    rotation: Joi.object<Rotation>({
      posts: Joi.array().items(id()).max(MAX_ROTATION).unique().required(),
      since: date().required(),
    }).allow(null) as never,
    menu: Joi.array().items(menuEntry()).max(MAX_MENU).allow(null),
    panels: Joi.array().items(panel()).max(MAX_PANELS),
  }).min(1);

const place = {
  host: host().required(),
  path: Joi.string()
    .trim()
    .lowercase()
    .max(60)
    .pattern(/^(?:\/[a-z0-9]+(?:-[a-z0-9]+)*)?$/)
    .allow('')
    .required()
    .messages({
      'string.pattern.base': '{{#label}} must be a slash and small letters, digits and single hyphens',
    }),
};

export const siteBodies = {
  'blogs.add': Joi.object<NewBlog, true>({
    title: text(120, 1).required(),
    tagline: text(300).required(),
    zone: zone().required(),
    ...place,
  }),
  'blogs.place': Joi.object<BlogPlace, true>(place),
  'site.change': siteChanges(),
  'site.look': Joi.object<LookChosen, true>({ look: look() }),
  'site.around': Joi.object<AroundChosen, true>({
    theme: text(MAX_THEME_CHARS, 1).allow(null).required(),
    mount: Joi.object<Mount, true>({
      host: Joi.string()
        .trim()
        .lowercase()
        .pattern(/^[a-z0-9.-]{1,253}(?::\d{1,5})?$/)
        .required(),
      path: Joi.string()
        .trim()
        .pattern(/^(?:\/[a-z0-9]+(?:-[a-z0-9]+)*){0,4}$/)
        .allow('')
        .required(),
    })
      .allow(null)
      .required() as never,
  }),
  'site.try': Joi.object<LookTried, true>({
    page: Joi.string().valid('front', 'post').required(),
    look: look(),
  }),
  'blog.change': Joi.object<BlogChanges, true>({
    title: text(120, 1),
    tagline: text(300),
    zone: zone(),
    firstWeekday: weekday(),
    checks: checkSettings(),
    binDays: Joi.number().integer().min(1).max(3650).allow(null),
    accepting: Joi.boolean(),
  })
    .min(1)
    .with('accepting', 'zone'),
  'categories.add': Joi.object<NewCategory, true>({ name: text(60, 1).required(), hue: hue().required() }),
  'categories.change': Joi.object<CategoryChanges, true>({
    name: text(60, 1),
    hue: hue(),
    mergeInto: id(),
  }).min(1),
} satisfies Bodies;
