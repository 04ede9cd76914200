import Joi from 'joi';
import {
  LOOK_KEYS,
  MEASURES,
  PALETTE_KEYS,
  POST_FACTS,
  READING_SIZES,
  safeHref,
  type Look,
  type Spotlight,
  isSlug,
  isDate,
  isZone,
  maxOf,
  POST_FIELDS,
  type TextFieldName,
} from '@keyroster/core';

/** Text that PostgreSQL and JSON can hold: no NUL, no lone surrogates; Unicode-normalised and trimmed. */
export const text = (max: number, min = 0) =>
  Joi.string()
    .trim()
    .normalize('NFC')
    .min(min)
    .max(max)
    .allow(...(min === 0 ? [''] : []))
    .custom((value: string, helpers) =>
      /\u0000|[\ud800-\udfff]/u.test(value) ? helpers.error('text.letters') : value,
    )
    .messages({ 'text.letters': '{{#label}} holds a character that cannot be stored' });

/** Text of one line: what would break a line of a header is refused. */
export const line = (max: number, min = 0) =>
  text(max, min)
    .custom((value: string, helpers) =>
      /[\u0000-\u001f\u007f\u2028\u2029]/u.test(value) ? helpers.error('text.line') : value,
    )
    .messages({ 'text.line': '{{#label}} must be a single line' });

/** A text field of a post, within the limits of the registry. */
export const fieldText = (field: TextFieldName) => text(maxOf(field), 'needed' in POST_FIELDS[field] ? 1 : 0);

/** A value of a format's field: what it fits is decided with the format. */
export const formatValue = () =>
  Joi.alternatives(text(4000), Joi.number().min(-1e12).max(1e12), Joi.array().items(text(400)).max(100));

export const id = () => Joi.number().integer().min(1).max(2_147_483_647);

/** The version of something that was seen when a change of it was made. */
export const version = () => Joi.number().integer().min(1).max(2_147_483_647);

export const date = () =>
  Joi.string()
    .custom((value: string, helpers) =>
      isDate(value) && value >= '1900-01-01' && value <= '2999-12-31' ? value : helpers.error('date.day'),
    )
    .messages({ 'date.day': '{{#label}} must be a date like 2026-11-27' });

/** A wall time with an optional offset; whether it exists in the blog's zone is decided later. */
export const wallTime = () =>
  Joi.string()
    .pattern(/^(19|2\d)\d{2}-\d{2}-\d{2}[T ]([01]\d|2[0-3]):[0-5]\d(:[0-5]\d)?(Z|[+-](0\d|1[0-4]):[0-5]\d)?$/)
    .custom((value: string, helpers) =>
      isDate(value.slice(0, 10)) ? value : helpers.error('string.pattern.base'),
    )
    .messages({ 'string.pattern.base': '{{#label}} must be a date and time like 2026-11-27T12:00' });

export const clock = () =>
  Joi.string()
    .pattern(/^([01]\d|2[0-3]):[0-5]\d$/)
    .messages({ 'string.pattern.base': '{{#label}} must be a time like 08:00' });

export const slug = () =>
  Joi.string()
    .trim()
    .lowercase()
    .max(80)
    .custom((value: string, helpers) => (isSlug(value) ? value : helpers.error('slug.form')))
    .messages({
      'slug.form':
        '{{#label}} must be words of small letters and digits joined by single hyphens, and ' +
        'not one of the blog’s own pages',
    });

export const zone = () =>
  Joi.string()
    .max(64)
    .custom((value: string, helpers) => (isZone(value) ? value : helpers.error('zone.name')))
    .messages({ 'zone.name': '{{#label}} must be the name of a time zone, like Europe/London' });

export const email = () => Joi.string().trim().lowercase().max(254).email({ tlds: false });

/**
 * Long enough to resist guessing (NIST SP 800-63B asks for at least 8), bounded so that hashing cannot be
 * abused.
 */
export const newPassword = () =>
  Joi.string()
    .min(10)
    .max(200)
    .custom((value: string, helpers) =>
      /[\ud800-\udfff]/u.test(value) ? helpers.error('text.letters') : value,
    )
    .messages({ 'text.letters': '{{#label}} holds a character that cannot be stored' });

export const weekday = () => Joi.number().integer().min(1).max(7);

export const ids = () => Joi.array<readonly number[]>().items(id()).max(20).unique();

export const tagNames = () => Joi.array().items(text(60, 1)).max(20);

export const spotlight = () =>
  Joi.object<Spotlight, true>({ from: date().required(), until: date().required() })
    .custom((value: Spotlight, helpers) =>
      value.from <= value.until ? value : helpers.error('spotlight.order'),
    )
    .messages({ 'spotlight.order': '{{#label}} ends before it begins' });

/** A web address, or ''. */
export const link = () =>
  Joi.string()
    .trim()
    .max(2000)
    .allow('')
    .custom((value: string, helpers) =>
      value === '' || (/^https?:/i.test(value) && safeHref(value) === value)
        ? value
        : helpers.error('link.form'),
    )
    .messages({ 'link.form': '{{#label}} must be a web address that begins with https://' });

/** A host of its own, or null. */
export const host = () =>
  Joi.string().trim().lowercase().max(253).domain({ tlds: false, minDomainSegments: 1 }).allow(null);

export const look = () =>
  Joi.object<Look, true>({
    look: Joi.string()
      .valid(...LOOK_KEYS)
      .required(),
    palette: Joi.string()
      .valid(...PALETTE_KEYS)
      .required(),
    measure: Joi.string()
      .valid(...Object.keys(MEASURES))
      .required(),
    size: Joi.string()
      .valid(...Object.keys(READING_SIZES))
      .required(),
    facts: Joi.array()
      .items(Joi.string().valid(...POST_FACTS))
      .unique()
      .required() as unknown as Joi.ObjectSchema<Look['facts']>,
  }).required();
