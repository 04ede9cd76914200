import type { PostCard, PostView } from '@keyroster/contract';
import { isLate, may, openMoves, proposeAddress, wallTimeOf, type DateWish, type TagLike } from '@keyroster/core';
import type { CurrentPerson } from '../accounts/who.js';
import { personRef } from '../accounts/people.js';
import type { Reader } from '../db/connect.js';
import { factsOf, type PostRow, type WholePostRow } from './store.js';

export const wishOf = (row: Pick<PostRow, 'not_before' | 'not_after' | 'must_be_on'>): DateWish => ({ notBefore: row.not_before, notAfter: row.not_after, mustBeOn: row.must_be_on });

export function cardOf(row: PostRow, nowLocal: string): PostCard {
  return {
    id: row.id, version: row.version, stage: row.stage, title: row.title, thought: row.thought, excerpt: row.excerpt, address: row.address,
    categoryId: row.category_id, byline: row.byline_id === null ? null : personRef({ id: row.byline_id, name: row.byline_name ?? '' }),
    runLocal: row.run_local, runZone: row.run_zone, runAt: row.run_at, copyDate: row.copy_date, words: row.words,
    wish: wishOf(row), rating: row.rating,
    late: isLate({ stage: row.stage, runLocal: row.run_local, copyDate: row.copy_date }, nowLocal),
    openNotes: row.open_notes, checks: { blocks: row.check_blocks, warns: row.check_warns }, createdAt: row.created_at, updatedAt: row.updated_at, releasedAt: row.released_at,
  };
}

export async function viewOf(db: Reader, row: WholePostRow, person: CurrentPerson, now: string): Promise<PostView> {
  const zone = row.run_zone ?? (await db('blogs').where({ id: row.blog_id }).first<{ zone: string }>('zone'))!.zone;
  const named = [row.editor_id, row.proofreader_id, ...row.coauthor_ids].filter((id) => id !== null);
  const people = new Map((await db('people').whereIn('id', named).select<{ id: number; name: string }[]>('id', 'name')).map((p) => [p.id, personRef(p)]));
  const facts = factsOf(row);
  return {
    ...cardOf(row, wallTimeOf(now, zone)),
    body: row.body,
    proposedAddress: row.address === null ? proposeAddress(row.title, () => false) : null,
    secondCategoryId: row.second_category_id,
    coauthors: row.coauthor_ids.flatMap((id) => people.get(id) ?? []),
    editor: (row.editor_id !== null && people.get(row.editor_id)) || null,
    proofreader: (row.proofreader_id !== null && people.get(row.proofreader_id)) || null,
    access: row.access,
    brief: { angle: row.brief_angle, length: row.brief_length, copyDate: row.copy_date },
    leadPicture: row.lead_media_id === null ? null : { media: row.lead_media_id, alt: row.lead_alt },
    subtitle: row.subtitle,
    tags: row.tag_ids.length === 0 ? [] : await db('tags').whereIn('id', row.tag_ids).orderBy('name').select<TagLike[]>('id', 'name'),
    formatId: row.format_id, formatValues: row.format_values, sharePicture: row.share_media_id, searchTitle: row.search_title, searchDescription: row.search_description,
    sourceUrl: row.source_url, titleLinks: row.title_links, place: row.place, comments: row.comments, commentCall: row.comment_call, campaign: row.campaign, spotlight: row.spotlight_from === null ? null : { from: row.spotlight_from, until: row.spotlight_until! },
    copiedFrom: row.copied_from_id === null ? null : (await db('posts').where({ id: row.copied_from_id }).first<{ id: number; title: string } | undefined>('id', 'title')) ?? null,
    stageSince: row.stage_since,
    rights: { write: may(person, 'write', facts), details: may(person, 'details', facts), plan: may(person, 'plan', facts), note: may(person, 'note', facts) },
    moves: openMoves(person, facts).map(({ to, label }) => ({ to, label })),
  };
}
