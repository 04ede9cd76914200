import {
  COPIED_FIELDS,
  errorOfValue,
  isDesk,
  type FormatField,
  type FormatValues,
  type SetValues,
} from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { createPost } from './pitch.js';
import { postOf, type WholePostRow } from './store.js';

/**
 * A new post on the build of another: text, pictures, excerpt, tags, format and search texts come along, and
 * what is not replaced is counted as left over. It is nobody's commission yet, so it begins in the tray; run
 * time, notes, trials and address stay with the source.
 */
export async function copyPost(
  trx: Trx,
  person: CurrentPerson,
  source: WholePostRow,
  title = source.title,
): Promise<WholePostRow> {
  const { body, words, ...along } = Object.fromEntries(
    COPIED_FIELDS.map((f) => [f, postOf(source)[f]]),
  ) as Pick<Required<ReturnType<typeof postOf>>, (typeof COPIED_FIELDS)[number]>;
  const values: SetValues & { title: string } = { ...along, title, bylineId: person.id };
  // People who may not use the source's category leave it to the desk.
  if (person.role !== 'contributor' && !isDesk(person, { categoryId: source.category_id }))
    Object.assign(values, { categoryId: null, secondCategoryId: null });
  Object.assign(values, await formatOf(trx, source));
  return createPost(trx, person, values, { copiedFromId: source.id }, { kind: 'text', body, words });
}

/** The format with those of its values that still fit; a retired one stays with the source. */
async function formatOf(
  trx: Trx,
  source: WholePostRow,
): Promise<{ formatId: number | null; formatValues: FormatValues }> {
  const format = await trx('formats')
    .where({ id: source.format_id, retired: false })
    .first<{ fields: FormatField[] } | undefined>('fields');
  if (!format) return { formatId: null, formatValues: {} };
  const fits = ([key, value]: [string, FormatValues[string]]) => {
    const field = format.fields.find((f) => f.key === key);
    return field !== undefined && errorOfValue(field, value) === null;
  };
  return {
    formatId: source.format_id,
    formatValues: Object.fromEntries(Object.entries(source.format_values).filter(fits)),
  };
}
