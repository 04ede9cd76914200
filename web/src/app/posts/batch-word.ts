import type { PostView } from '@keyroster/contract';
import { BATCH_FIELDS, fieldLabels, formatList, type BatchField } from '@keyroster/core';
import equal from 'fast-deep-equal';

/** Where a view shows what a batch can change, as far as it goes by another name; what lies in the bin is not shown. */
const SHOWN = {
  bylineId: 'byline',
  coauthorIds: 'coauthors',
  editorId: 'editor',
  proofreaderId: 'proofreader',
  tagIds: 'tags',
  run: 'runLocal',
  binned: null,
  suggested: null,
} as const satisfies Record<Exclude<BatchField, keyof PostView>, keyof PostView | null>;
const shownAs = (field: BatchField): keyof PostView | null =>
  field in SHOWN ? SHOWN[field as keyof typeof SHOWN] : (field as keyof PostView);

/** What a batch of somebody's changed in an open post, as a sentence; null when it changed nothing that shows. */
export function batchWord(who: string, before: PostView, now: PostView): string | null {
  const changed = BATCH_FIELDS.filter((field) => {
    const shown = shownAs(field);
    return shown !== null && !equal(before[shown], now[shown]);
  });
  return changed.length === 0
    ? null
    : `${who} changed the ${formatList(fieldLabels(changed))} of this post, in a batch.`;
}
