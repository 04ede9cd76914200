import { entryParts, formatList, isSlug, roleMay, titleFrom, type Properties } from '@keyroster/core';
import { addNote } from '../desk/notes.js';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { inTransaction } from '../db/write.js';
import { ProblemError, notYours } from '../http/problem.js';
import type { Services } from '../http/services.js';
import { storeDrawn, type Drawn } from '../media/store-picture.js';
import { movePost } from '../posts/move.js';
import { createPost } from '../posts/pitch.js';
import { tagIdsOf } from '../posts/tag-ids.js';
import { markImported } from '../versions/versions.js';
import { storeContent, ownPicture, readContent, withPictures, type Picture } from './content.js';
import { checkedFields } from './fields.js';

/** The blog's category that an entry names, where it is one that its sender may give. */
async function categoryOf(
  trx: Trx,
  person: CurrentPerson,
  names: readonly string[],
): Promise<{ id: number; name: string } | null> {
  const known = await trx('categories')
    .where({ blog_id: person.blogId })
    .select<{ id: number; name: string }[]>('id', 'name');
  const named = (name: string) => known.find((c) => c.name.toLowerCase() === name.toLowerCase());
  const first = names.map(named).find((c) => c !== undefined);
  return first && (person.role !== 'editor' || person.categories.includes(first.id)) ? first : null;
}

async function isTaken(trx: Trx, blogId: number, slug: string): Promise<boolean> {
  return (await trx('all_posts').where({ blog_id: blogId, slug }).first('id')) !== undefined;
}

/**
 * Makes a post of an entry. It is a draft of the sender where they may create one, and a pitch with its text else;
 * it never goes out by itself. What has no place in a post is said in a note on it. Answers its id.
 */
export async function createFromEntry(
  { db, settings }: Services,
  person: CurrentPerson,
  {
    entry,
    files,
    tool,
  }: { entry: Properties; files: readonly { drawn: Drawn; name: string }[]; tool: string },
): Promise<number> {
  if (!roleMay(person.role, 'pitch')) throw notYours('Bringing drafts');
  const { parts, leftOut } = entryParts(entry);
  const photos = parts.photos ?? [];
  if (!parts.title && !parts.content?.text.trim() && photos.length + files.length === 0)
    throw new ProblemError('invalid', 'There is nothing in the entry: give it a name, content or a photo.');
  const content = await readContent(parts.content);
  const remarks: string[] = [];
  const pictures: Picture[] = [];
  for (const photo of photos) {
    const own = await ownPicture(db, person.blogId, settings.publicUrl, photo);
    if (own) pictures.push(own);
    else
      remarks.push(`The picture at ${photo.url.slice(0, 300)} was not fetched; the media endpoint takes it.`);
  }
  for (const { drawn, name } of files) {
    const kept = await inTransaction(db, (trx) => storeDrawn(trx, person, drawn, { name }));
    pictures.push({ media: kept.id, alt: '' });
  }
  const [lead = null, ...others] = pictures;
  const kept = await storeContent(db, person, content);
  remarks.push(...(kept?.remarks ?? []));
  const text =
    kept || others.length > 0 ? await withPictures(kept?.body ?? { type: 'doc', content: [] }, others) : null;
  return inTransaction(db, async (trx) => {
    const said = [...remarks];
    const category = await categoryOf(trx, person, parts.tags ?? []);
    const tags = (parts.tags ?? []).filter((t) => t.toLowerCase() !== category?.name.toLowerCase());
    let slug = parts.slug;
    if (slug && (!isSlug(slug) || (await isTaken(trx, person.blogId, slug)))) {
      said.push(`The address “${slug.slice(0, 100)}” is not available: it is taken or not valid.`);
      slug = undefined;
    }
    const fields = checkedFields({
      title: parts.title ?? titleFrom(text?.text ?? ''),
      excerpt: parts.excerpt ?? '',
      tags,
    });
    const row = await createPost(
      trx,
      person,
      {
        title: fields.title!,
        excerpt: fields.excerpt!,
        tagIds: await tagIdsOf(trx, person.blogId, fields.tags ?? []),
        categoryId: category?.id ?? null,
        bylineId: person.id,
        leadPicture: lead,
        ...(slug ? { slug } : {}),
      },
      null,
      ...(text ? [{ kind: 'text' as const, body: text.body, words: text.words }] : []),
    );
    if (text) await markImported(trx, row.id, person.id, tool);
    await movePost(trx, row, person, { to: 'drafting' }).catch((error: unknown) => {
      // People who may not create drafts have pitched one.
      if (!(error instanceof ProblemError)) throw error;
    });
    if (leftOut.length > 0)
      said.unshift(
        `A post has no place for ${formatList(leftOut.map((p) => p.slice(0, 60)))}; that was left out.`,
      );
    if (said.length > 0) await addNote(trx, row, person, { text: said.join('\n').slice(0, 4000) });
    return row.id;
  });
}
