import { bodyHtml, fileIds, pictureIds } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Queryable } from '../db/connect.js';
import { notFound } from '../http/problem.js';
import { fileSources } from '../media/files.js';
import { mediaSrc, pictureSources } from '../media/sizes.js';
import { placesOf, urlOfPost } from '../posts/url.js';
import { visiblePost } from '../posts/visible.js';
import { addressOf, postAt } from './post-at.js';

interface Source {
  type: ['h-entry'];
  properties: Record<string, unknown[]>;
}

/** A post as properties (section 3.7.2); with `only`, those of them, and nothing else. */
export async function sourceOf(
  db: Queryable,
  person: CurrentPerson,
  publicUrl: string,
  url: string,
  only: readonly string[],
): Promise<Source | Pick<Source, 'properties'>> {
  const found = await postAt(db, person.blogId, publicUrl, url);
  if (!found || found.binned) throw notFound('That post');
  const row = await visiblePost(db, person, found.id);
  const pictures = await pictureSources(db, pictureIds(row.body), publicUrl);
  const files = await fileSources(db, fileIds(row.body), publicUrl);
  const category = await db('categories')
    .where({ id: row.category_id ?? 0 })
    .pluck<string[]>('name');
  const tags = await db('tags').whereIn('id', row.tag_ids).orderBy('name').pluck<string[]>('name');
  const properties: Source['properties'] = {
    name: [row.title],
    content: [{ html: bodyHtml(row.body, pictures, { files, foldMark: true }) }],
    summary: row.excerpt === '' ? [] : [row.excerpt],
    category: [...category, ...tags],
    photo:
      row.lead_media_id === null
        ? []
        : [{ value: publicUrl + mediaSrc(row.lead_media_id), alt: row.lead_alt }],
    'mp-slug': row.slug === null ? [] : [row.slug],
    'post-status': [row.stage === 'published' ? 'published' : 'draft'],
    published: row.stage === 'published' && row.run_at ? [row.run_at] : [],
    updated: [row.updated_at],
    url: [
      row.stage === 'published'
        ? urlOfPost(await placesOf(db, row.blog_id), { slug: row.slug!, runLocal: row.run_local })
        : addressOf(publicUrl, row.id),
    ],
  };
  if (only.length > 0)
    return {
      properties: Object.fromEntries(
        Object.entries(properties).filter(([name, values]) => only.includes(name) && values.length > 0),
      ),
    };
  return {
    type: ['h-entry'],
    properties: Object.fromEntries(Object.entries(properties).filter(([, values]) => values.length > 0)),
  };
}
