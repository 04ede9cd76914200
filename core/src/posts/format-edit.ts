import type { Stage } from '../stages/stages.js';
import { formatClock, formatDate, formatWhen } from '../time/format.js';
import { isLater, wallTimeOf } from '../time/zone.js';
import type { EditContext } from './context.js';
import type { Edited } from './edit.js';
import type { RunTime } from './values.js';

const DONE: Partial<Record<Stage, (from: Stage) => string>> = {
  pitch: () => 'Back in the tray.',
  commissioned: () => 'Commissioned.',
  drafting: (from) => (from === 'in review' || from === 'cleared' ? 'Changes asked for.' : 'Being written.'),
  'in review': () => 'Handed in.',
  cleared: () => 'Cleared.',
  published: (from) => (from === 'withdrawn' ? 'Readers see it again.' : 'Released.'),
  withdrawn: () => 'Withdrawn. Readers no longer see it.',
};

/** What an edit did, in a sentence that confirms it. */
export function formatEdit({ post, changed, steps }: Edited, { now }: Pick<EditContext, 'now'>): string {
  const step = steps.at(-1);
  const { run } = post;
  if (post.stage === 'scheduled' && run && (step || changed.includes('run'))) return formatRelease(run, now);
  if (step?.to === 'cleared' && step.from === 'scheduled')
    return run
      ? `Unscheduled. It stays cleared and planned for ${planned(run, now)}.`
      : 'Unscheduled, and its run time is removed. It stays cleared.';
  if (step) return DONE[step.to]?.(step.from) ?? '';
  if (post.stage === 'published' && changed.includes('readersVersion') && post.readersVersion === null)
    return 'Updated. Readers see it as it is now.';
  if (!changed.includes('run'))
    return post.readersVersion === null || post.stage !== 'published'
      ? 'Saved.'
      : 'Saved. Readers see it once the post is updated.';
  if (run === null) return 'Its run time was removed.';
  const when = planned(run, now);
  return post.stage === 'published' ? `Dated ${when}.` : `Planned for ${when}.`;
}

const planned = (run: RunTime, now: string): string =>
  formatWhen(run.local, wallTimeOf(now, run.zone).slice(0, 10));

/** The sentence that confirms a scheduled post. */
function formatRelease(run: RunTime, now: string): string {
  const today = wallTimeOf(now, run.zone).slice(0, 10);
  return isLater(now, run.at)
    ? `Goes out now, dated ${formatDate(run.local, today)}, ${formatClock(run.local)}.`
    : `Goes out ${formatWhen(run.local, today)}.`;
}
