import type { AroundChosen, SiteView } from '@keyroster/contract';
import { readTheme, type Around } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { emit } from '../live/live.js';
import type { Settings } from '../settings.js';
import { addressTaken } from './free-address.js';
import { holdSite, siteView } from './site-view.js';

/**
 * Shows the blog as a part of another site: in the colours of its theme file, under its menu, at the address that its
 * proxy passes on. Without a mount it stands in no other site any more.
 */
export async function setAround(
  trx: Trx,
  person: CurrentPerson,
  { version, theme, mount }: AroundChosen,
  about: Settings,
): Promise<SiteView> {
  await trx.raw('lock table blogs in share row exclusive mode');
  const row = await holdSite(trx, person.blogId, version);
  let around: Around | null = null;
  if (mount) {
    const read = theme === null ? row.around && { ok: true as const, theme: row.around } : readTheme(theme);
    if (!read) throw new ProblemError('invalid', 'Choose the theme file of the site first.');
    if (!read.ok)
      throw new ProblemError('invalid', read.sentence, {
        fields: [{ field: 'theme', sentence: read.sentence }],
      });
    const sentence = await addressTaken(trx, person, about, {
      ...mount,
      blogId: person.blogId,
      // A mount may be given again, and may be the blog's own place.
      leaves: (place) => place.id === person.blogId && (place.mounted || place.path === mount.path),
    });
    if (sentence !== null)
      throw new ProblemError('taken', sentence, { fields: [{ field: 'host', sentence }] });
    around = { ...read.theme, mount };
  }
  await trx('blogs')
    .where({ id: person.blogId })
    .update({ around: around && JSON.stringify(around), site_version: version + 1 });
  await emit(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });
  return siteView(trx, person, about);
}
