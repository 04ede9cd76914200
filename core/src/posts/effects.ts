import type { Stage } from '../stages/stages.js';
import type { Instant } from '../time/zone.js';
import { HELD_FIELDS, POST_FIELDS, type HeldField } from './fields.js';
import type { Post, PostField } from './values.js';

/** A move from stage to stage. `note` is what the person said with it, `log` what only the log says of it. */
export interface StageStep {
  from: Stage;
  to: Stage;
  note: string;
  log?: string;
}

/** A consequence of a change of a post, carried out by the feature it concerns; see the server's subscribers. */
export type Effect =
  /** A release is planned for this instant, or none is any more. */
  | { kind: 'release planned'; at: Instant | null }
  /** It went out. */
  | { kind: 'released' }
  /** It moved, for the log of stages; and with a note, for those who write it. */
  | { kind: 'moved'; step: StageStep }
  /** Readers knew this address: it leads to the post permanently. */
  | { kind: 'slug left'; slug: string }
  /** The post stands at this address: it is no former address of its own any more. */
  | { kind: 'slug taken'; slug: string }
  /** Pieces take their times from its release, or stop when it is gone. */
  | { kind: 'pieces follow' }
  /** What checks look at has changed. */
  | { kind: 'checks' }
  /** What readers see has changed. */
  | { kind: 'pages' }
  /** Readers go on seeing this version, whatever is changed from now on. */
  | { kind: 'readers kept'; version: number }
  /** Readers see the post as it is. */
  | { kind: 'readers caught up' }
  /** It was changed in these fields for readers at once, who still see an earlier version of others. */
  | { kind: 'sent on'; fields: HeldField[] }
  /** Other pictures or files are used. */
  | { kind: 'pictures' }
  /** Its text was changed elsewhere than in the document that people write in together, which takes it in. */
  | { kind: 'text replaced' };
export type EffectKind = Effect['kind'];
export type EffectOf<K extends EffectKind> = Extract<Effect, { kind: K }>;

/** That readers go on seeing what they see is nothing new to them. */
const isFirstHeld = (field: PostField, before: Post) =>
  field === 'readersVersion' && before.readersVersion === null;
const isDue = (post: Post) => post.stage === 'scheduled' && !post.binned && post.run !== null;
const isPublic = (post: Post) => post.stage === 'published' && !post.binned;

/**
 * The effects of a change, from what was before and after alone: the same change has the same effects, whatever
 * made it and whether for one post or for thousands.
 */
export function effectsOf(
  before: Post,
  after: Post,
  changed: readonly PostField[],
  steps: readonly StageStep[],
  atOnce: boolean,
): Effect[] {
  const any = (...fields: PostField[]) => fields.some((f) => changed.includes(f));
  const effects: Effect[] = steps.map((step) => ({ kind: 'moved', step }));
  if (any('stage', 'run', 'binned')) {
    if (isDue(after)) effects.push({ kind: 'release planned', at: after.run!.at });
    else if (isDue(before) && !any('releasedAt')) effects.push({ kind: 'release planned', at: null });
    effects.push({ kind: 'pieces follow' });
  }
  if (after.stage === 'published' && any('releasedAt')) effects.push({ kind: 'released' });
  if (any('slug')) {
    if (before.slug !== null && before.releasedAt !== null)
      effects.push({ kind: 'slug left', slug: before.slug });
    if (after.slug !== null) effects.push({ kind: 'slug taken', slug: after.slug });
  }
  if (changed.some((f) => POST_FIELDS[f].checks)) effects.push({ kind: 'checks' });
  const held = HELD_FIELDS.filter((f) => changed.includes(f));
  if (after.readersVersion === null && before.readersVersion !== null)
    effects.push({ kind: 'readers caught up' });
  if (after.readersVersion !== null && after.readersVersion !== before.readersVersion)
    effects.push({ kind: 'readers kept', version: after.readersVersion });
  if (after.readersVersion !== null && atOnce && held.length > 0)
    effects.push({ kind: 'sent on', fields: held });
  const shown = atOnce || after.readersVersion === null ? held.length > 0 : false;
  if (
    (isPublic(before) || isPublic(after)) &&
    (shown || changed.some((f) => POST_FIELDS[f].readers === 'at once' && !isFirstHeld(f, before)))
  )
    effects.push({ kind: 'pages' });
  if (any('body', 'suggested', 'leadPicture', 'sharePicture')) effects.push({ kind: 'pictures' });
  if (any('body', 'suggested')) effects.push({ kind: 'text replaced' });
  return effects;
}
