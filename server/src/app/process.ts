import type { Identities } from '../access/identity.js';
import type { VisitCounter } from '../access/visits.js';
import type { Services } from '../http/services.js';
import type { Notifier } from '../live/live.js';
import type { SharedTexts } from '../texts/shared-texts.js';
import type { Places } from '../pages/places.js';
import type { PageCache } from '../pages/cache.js';
import type { ReadCounter } from '../pages/reads.js';

/** Everything a process holds for as long as it runs; made once. */
export interface Process extends Services {
  live: Notifier;
  texts: SharedTexts;
  pages: PageCache;
  places: Places;
  reads: ReadCounter;
  identities: Identities;
  visits: VisitCounter;
}
