import { beginNamed } from '../campaigns/campaigns.js';
import { followChecklists } from '../checklists/attach.js';
import { heldPosts } from '../checklists/chores.js';
import { measureLater } from '../desk/measure.js';
import { blockingOf } from '../desk/blocking.js';
import { noteMoves } from '../desk/notes.js';
import { mailReleases } from '../letters/at-release.js';
import { stopWithdrawn } from '../letters/stop-withdrawn.js';
import { notifyPages, notifyWritten } from './notify-written.js';
import { storeUses } from '../media/uses.js';
import { makeWhenCleared } from '../pieces/by-itself.js';
import { followReleases } from '../pieces/follow.js';
import { provideBlocking } from '../posts/blocking.js';
import { on, onWritten } from '../posts/effects.js';
import { dropOldSlugs, storeOldSlugs } from '../posts/old-slugs.js';
import { dropReadersVersions, storeReadersVersions, sendOn } from '../posts/readers-version.js';
import { followRunTimes, logReleases } from '../posts/release.js';
import { logMoves } from '../posts/stage-log.js';
import { relateLater } from '../pages/relate.js';
import { mentionLater } from '../webmention/later.js';
import { pushTexts } from '../texts/push.js';

/**
 * Who carries out what a change of a post brings with it. Read once by whatever starts the server or uses it;
 * posts import none of these.
 */
// Checks and chores both hold posts back.
provideBlocking(async (db, blogId, posts) => {
  const [checks, held] = [await blockingOf(db, blogId, posts), await heldPosts(db, posts)];
  return (post) => [...checks(post), ...(held.get(post.id) ?? [])];
});
on('release planned', followRunTimes);
on('released', logReleases);
on('released', mailReleases);
on('moved', logMoves);
on('moved', noteMoves);
on('moved', followChecklists);
on('moved', makeWhenCleared);
on('checks', followChecklists);
on('slug left', storeOldSlugs);
on('slug taken', dropOldSlugs);
on('pieces follow', followReleases);
on('checks', measureLater);
on('readers kept', storeReadersVersions);
on('readers caught up', dropReadersVersions);
on('sent on', sendOn);
on('pictures', storeUses);
on('pages', notifyPages);
on('pages', relateLater);
on('pages', mentionLater);
on('text replaced', pushTexts);
onWritten(notifyWritten);
onWritten(beginNamed);
onWritten(stopWithdrawn);
