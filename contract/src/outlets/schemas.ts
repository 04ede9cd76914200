import Joi from 'joi';
import {
  CARD_STYLES,
  LENGTH_UNITS,
  OUTLET_KINDS,
  OUTLET_PROTOCOLS,
  PIECE_KINDS,
  SHAPE_NAMES,
  TIMING_KINDS,
  type OutletLimits,
  type Timing,
} from '@keyroster/core';
import {
  SEND_STATES,
  type Approval,
  type EvergreenPlan,
  type EvergreenQuery,
  type NewOutlet,
  type NewPattern,
  type NewPieces,
  type OutletChanges,
  type OutletCredentials,
  type OutletSettings,
  type PatternFrom,
  type PatternStop,
  type PatternUse,
  type PictureQuery,
  type PieceChanges,
  type PieceRestore,
  type PlannerPiecesQuery,
  type Rebuild,
  type SendAnswer,
  type SendingChange,
  type SendsQuery,
  PieceTimes,
} from './types.js';
import type { Bodies, Queries } from '../parts/of.js';
import { clock, date, id, text, wallTime } from '../parts/parts.js';

const kind = () => Joi.string().valid(...PIECE_KINDS);
const shape = () => Joi.string().valid(...SHAPE_NAMES);
const style = () => Joi.string().valid(...CARD_STYLES);
const instruction = () => text(1000);
const whole = (min: number, max: number) => Joi.number().integer().min(min).max(max);
const pace = (max: number) => whole(1, max).allow(null).required();

const limits = () =>
  Joi.object<OutletLimits, true>({
    length: Joi.object({
      max: whole(10, 100_000).required(),
      unit: Joi.string()
        .valid(...LENGTH_UNITS)
        .required(),
      linkCost: whole(0, 500).allow(null).required(),
    })
      .allow(null)
      .required(),
    links: Joi.boolean().required(),
    tags: whole(0, 40).required(),
    shapes: Joi.array().items(shape()).min(1).unique().required() as unknown as Joi.ObjectSchema<
      OutletLimits['shapes']
    >,
    pictureBytes: whole(20_000, 20_000_000).allow(null).required(),
    perHour: pace(1000),
    perDay: pace(5000),
    quiet: Joi.object({ from: clock().required(), until: clock().required() }).allow(null).required(),
  });
const settings = () =>
  Joi.object<OutletSettings>({
    host: text(253),
    port: whole(1, 65_535),
    secure: Joi.boolean(),
    from: text(320),
  });
const credentials = () =>
  Joi.object<OutletCredentials>({ token: text(4000), user: text(320), password: text(1000) });
const outlet = {
  name: text(80, 1),
  kind: Joi.string().valid(...OUTLET_KINDS),
  protocol: Joi.string().valid(...OUTLET_PROTOCOLS),
  address: text(2000),
  settings: settings(),
  limits: limits(),
  voice: text(4000),
  knowsKeys: Joi.boolean(),
};
/** A time on the wall of the blog's own zone. */
const localTime = () => wallTime().pattern(/T[\d:]+$/);
const timing = () =>
  Joi.object<Timing>({
    kind: Joi.string()
      .valid(...TIMING_KINDS)
      .required(),
    minutes: Joi.when('kind', { is: 'same hour', then: whole(0, 59).required(), otherwise: Joi.forbidden() }),
    weekday: Joi.when('kind', { is: 'weekday', then: whole(1, 7).required(), otherwise: Joi.forbidden() }),
    local: Joi.when('kind', { is: 'date', then: localTime().required(), otherwise: Joi.forbidden() }),
    time: Joi.when('kind', {
      is: Joi.valid('same hour', 'date'),
      then: Joi.forbidden(),
      otherwise: clock().required(),
    }),
  });
const parts = () => Joi.array().items(Joi.string().max(100_000).allow('')).min(1).max(12);
const stop = {
  kind: kind().required(),
  outletId: id().required(),
  instruction: instruction().required(),
  style: style().required(),
  shape: shape().required(),
  timing: timing().required(),
};
const pattern = {
  name: text(80, 1).required(),
  formatId: id().allow(null).required(),
  categoryId: id().allow(null).required(),
};

const byItself = { campaignId: id().allow(null).required(), byItself: Joi.boolean().required() };

export const outletsBodies = {
  'outlets.add': Joi.object<NewOutlet>({
    name: outlet.name.required(),
    kind: outlet.kind.required(),
    protocol: outlet.protocol.required(),
    address: outlet.address.required(),
    settings: outlet.settings.required(),
    limits: outlet.limits.required(),
    voice: outlet.voice.required(),
    knowsKeys: outlet.knowsKeys.required(),
    credentials: credentials(),
  }),
  'outlets.change': Joi.object<OutletChanges>({
    ...outlet,
    credentials: credentials(),
    paused: Joi.boolean(),
    closed: Joi.boolean(),
  }).min(1),
  'outlets.try': Joi.object({}),
  'sending.change': Joi.object<SendingChange, true>({ stopped: Joi.boolean().required() }),
  'pieces.make': Joi.object<NewPieces>({
    asks: Joi.array()
      .items(Joi.object({ ...stop, otherIds: Joi.array().items(id()).max(12).unique() }))
      .min(1)
      .max(24)
      .required(),
  }),
  'pieces.change': Joi.object<PieceChanges>({
    subject: text(300),
    parts: parts(),
    words: text(400),
    alt: text(1000),
    tags: Joi.array().items(text(80, 1)).max(40),
    timing: timing(),
    style: style(),
    shape: shape(),
  }).min(1),
  'pieces.rebuild': Joi.object<Rebuild>({
    instruction: instruction(),
    only: Joi.array().items(whole(0, 100_000)).max(500).allow(null),
    another: Joi.boolean(),
    overwrite: Joi.boolean(),
  }),
  'pieces.restore': Joi.object<PieceRestore, true>({ version: whole(1, 1_000_000).required() }),
  'pieces.keep': Joi.object({}),
  'pieces.approve': Joi.object<Approval, true>({ approved: Joi.boolean().required() }),
  'rollout.approve': Joi.object<Approval, true>({ approved: Joi.boolean().required() }),
  'rollout.spread': Joi.object({}),
  'rollout.times': Joi.object<PieceTimes, true>({
    times: Joi.array()
      .items(Joi.object({ pieceId: id().required(), timing: timing().required() }))
      .min(1)
      .max(120)
      .unique('pieceId')
      .required() as never,
  }),
  'rollout.use': Joi.object<PatternUse, true>({ patternId: id().required() }),
  'patterns.add': Joi.object<NewPattern>({
    ...pattern,
    ...byItself,
    stops: Joi.array<PatternStop[]>().items(Joi.object(stop)).min(1).max(24).required(),
  }),
  'patterns.from': Joi.object<PatternFrom, true>({ ...pattern, postId: id().required() }),
  'patterns.change': Joi.object<NewPattern>({
    ...pattern,
    ...byItself,
    stops: Joi.array<PatternStop[]>().items(Joi.object(stop)).min(1).max(24).required(),
  }),
  'sends.answer': Joi.object<SendAnswer, true>({ there: Joi.boolean().required() }),
  'sends.again': Joi.object({}),
  'evergreens.plan': Joi.object<EvergreenPlan>({
    stops: Joi.array()
      .items(
        Joi.object({ postId: id().required(), outletId: id().required(), local: localTime().required() }),
      )
      .min(1)
      .max(60)
      .required(),
    kind: kind().allow(null).required(),
    instruction: instruction().required(),
  }),
} satisfies Bodies;

export const outletsQueries = {
  'sends.list': Joi.object<SendsQuery>({
    state: Joi.string().valid(...SEND_STATES),
    outlet: id(),
    before: id(),
    limit: whole(1, 200),
  }),
  'pieces.picture': Joi.object<PictureQuery>({ v: id() }),
  'evergreens.see': Joi.object<EvergreenQuery>({
    restDays: whole(1, 3650),
    everyDays: whole(1, 60),
    time: clock(),
    max: whole(1, 30),
  }),
  'planner.pieces': Joi.object<PlannerPiecesQuery, true>({ from: date().required(), to: date().required() }),
} satisfies Queries;
