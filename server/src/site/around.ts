import type { AroundChosen, SiteView } from '@keyroster/contract';
import { readTheme, type Around } from '@keyroster/core';
import type { CurrentPerson } from '../http/current-person.js';
import type { Trx } from '../db/connect.js';
import { ProblemError } from '../http/problem.js';
import { emit } from '../live/live.js';
import type { Settings } from '../settings.js';
import { loadPlaces } from './places.js';
import { specialAtHost } from './special-store.js';
import { holdSite, siteView } from './site-view.js';

/**
 * Shows the blog as a part of another site: in the colours of its theme file, under its menu, at the address that its
 * proxy passes on. Without a mount it stands in no other site any more.
 */
export async function setAround(
  trx: Trx,
  person: CurrentPerson,
  { version, theme, mount }: AroundChosen,
  about: Pick<Settings, 'publicUrl'>,
): Promise<SiteView> {
  const row = await holdSite(trx, person.blogId, version);
  let around: Around | null = null;
  if (mount) {
    const read = theme === null ? row.around && { ok: true as const, theme: row.around } : readTheme(theme);
    if (!read) throw new ProblemError('invalid', 'Choose the theme file of the site first.');
    if (!read.ok)
      throw new ProblemError('invalid', read.sentence, {
        fields: [{ field: 'theme', sentence: read.sentence }],
      });
    const taken = (await loadPlaces(trx)).some(
      (p) => p.id !== person.blogId && p.host === mount.host && p.path === mount.path,
    );
    if (taken || (await specialAtHost(trx, mount.host)) || mount.host === new URL(about.publicUrl).host)
      throw new ProblemError(
        'taken',
        'The newsroom itself, another blog or a special stands at that address.',
        {
          fields: [{ field: 'host', sentence: 'Taken already.' }],
        },
      );
    around = { ...read.theme, mount };
  }
  await trx('blogs')
    .where({ id: person.blogId })
    .update({ around: around && JSON.stringify(around), site_version: version + 1 });
  await emit(trx, { blogId: person.blogId, kind: 'blog', personId: person.id });
  return siteView(trx, person, about);
}
