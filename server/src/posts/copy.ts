import { bodyText, countWords } from '@keyroster/core';
import type { CurrentPerson } from '../accounts/who.js';
import type { Trx } from '../db/connect.js';
import { pitch } from './pitch.js';
import { lockPost, type WholePostRow } from './store.js';
import { writePost } from './write-post.js';

/**
 * A new post on the build of another: text, pictures, excerpt, tags, format and search texts come along, and what is not
 * replaced is counted as left over. It is nobody's commission yet, so it begins in the tray; run time, notes, trials and
 * address stay with the source.
 */
export async function copyPost(trx: Trx, person: CurrentPerson, source: WholePostRow, title = source.title): Promise<WholePostRow> {
  const mayFile = person.role === 'managing editor' || person.role === 'contributor' || (source.category_id !== null && person.categories.includes(source.category_id));
  const made = await pitch(trx, person, { title, categoryId: mayFile ? source.category_id : null, bylineId: person.id });
  await trx('posts').where({ id: made.id }).update({ copied_from_id: source.id });
  const fields = {
    excerpt: source.excerpt, subtitle: source.subtitle, lead_media_id: source.lead_media_id, lead_alt: source.lead_alt, format_id: source.format_id, format_values: source.format_values,
    second_category_id: mayFile ? source.second_category_id : null, share_media_id: source.share_media_id, search_title: source.search_title, search_description: source.search_description, place: source.place, comments: source.comments, comment_call: source.comment_call,
  };
  const text = bodyText(source.body);
  await writePost(trx, made, { fields, tagIds: source.tag_ids, body: { json: source.body, text, words: countWords(text) } }, person.id);
  return (await lockPost(trx, person.blogId, made.id))!;
}
