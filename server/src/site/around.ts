import type { AroundChosen, SiteView } from '@keyroster/contract';
import { readTheme, type Around } from '@keyroster/core';
import { saveChange, type Change } from '../changes/save.js';
import { ProblemError } from '../http/problem.js';
import type { Settings } from '../settings.js';
import { addressTaken } from './free-address.js';
import { changedSite, siteView } from './site-view.js';

/**
 * Shows the blog as a part of another site: in the colours of its theme file, under its menu, at the address that its
 * proxy passes on. Without a mount it stands in no other site any more.
 */
export async function setAround(
  change: Change,
  { theme, mount }: AroundChosen,
  about: Settings,
): Promise<SiteView> {
  if (!mount) return putAround(change, () => null, about);
  const read = theme === null ? null : readTheme(theme);
  if (read && !read.ok)
    throw new ProblemError('invalid', read.sentence, {
      fields: [{ field: 'theme', sentence: read.sentence }],
    });
  return putAround(
    change,
    (before) => {
      const kept = read ? read.theme : before;
      if (!kept) throw new ProblemError('invalid', 'Choose the theme file of the site first.');
      return { ...kept, mount };
    },
    about,
  );
}

/** Puts the blog into a site, of which `around` says what it becomes of what it was; null: into none. */
export async function putAround(
  change: Change,
  around: (before: Around | null) => Around | null,
  about: Settings,
): Promise<SiteView> {
  const { trx, person } = change;
  await trx.raw('lock table blogs in share row exclusive mode');
  await saveChange(change, changedSite(trx, person), async (before) => {
    const after = around(before.around);
    if (after) await mustBeFree(change, after, about);
    await trx('blogs')
      .where({ id: person.blogId })
      .update({ around: after && JSON.stringify(after) });
  });
  return siteView(trx, person, about);
}

async function mustBeFree({ trx, person }: Change, { mount }: Around, about: Settings): Promise<void> {
  const sentence = await addressTaken(trx, person, about, {
    ...mount,
    blogId: person.blogId,
    // A mount may be given again, and may be the blog's own place.
    leaves: (place) => place.id === person.blogId && (place.mounted || place.path === mount.path),
  });
  if (sentence !== null) throw new ProblemError('taken', sentence, { fields: [{ field: 'host', sentence }] });
}
