import type { Stage } from '../stages/stages.js';
import { formatCount } from '../time/format.js';

export const MAX_CAMPAIGN_NAME = 120;
export const MAX_CAMPAIGN_ABOUT = 2000;

/** A post of a campaign, as far as it matters what is missing. */
export interface CampaignPost {
  id: number;
  title: string;
  stage: Stage;
  /** The day it is out or planned for, by the blog's clock. */
  day: string | null;
  hasPicture: boolean;
  /** Outlets that have or will get something of it. */
  outletIds: readonly number[];
}

export interface CampaignPlan {
  from: string | null;
  until: string | null;
  outlets: readonly { id: number; name: string }[];
  posts: readonly CampaignPost[];
}

const titles = (posts: readonly CampaignPost[]): string => {
  const shown = posts.slice(0, 3).map((p) => `“${p.title}”`);
  const more = posts.length - shown.length;
  return [...shown, ...(more > 0 ? [`${more} more`] : [])].join(', ');
};

/** What a campaign still lacks, a sentence each, the gravest first. */
export function campaignLacks({ from, until, outlets, posts }: CampaignPlan, today: string): string[] {
  if (posts.length === 0) return ['No post is in it yet.'];
  const open = posts.filter((p) => p.stage !== 'withdrawn');
  const undated = open.filter((p) => p.day === null);
  const outside = open.filter(
    (p) => p.day !== null && ((from !== null && p.day < from) || (until !== null && p.day > until)),
  );
  const late = open.filter((p) => p.day !== null && p.day < today && p.stage !== 'published');
  const bare = open.filter((p) => !p.hasPicture);
  return [
    ...(late.length > 0 ? [`Planned for a day that has passed, and not out: ${titles(late)}.`] : []),
    ...(undated.length > 0 ? [`Without a date: ${titles(undated)}.`] : []),
    ...(outside.length > 0 ? [`Outside the campaign’s days: ${titles(outside)}.`] : []),
    ...outlets.flatMap(({ id, name }) => {
      const without = open.filter((p) => !p.outletIds.includes(id));
      return without.length === 0
        ? []
        : [
            without.length === open.length
              ? `Nothing of it goes to ${name} yet.`
              : `Nothing goes to ${name} of ${titles(without)}.`,
          ];
    }),
    ...(bare.length > 0 ? [`${formatCount(bare.length, 'post')} without a picture: ${titles(bare)}.`] : []),
  ];
}

/** Does a post belong to a campaign by what stands in its field? Capitals and spaces around do not matter. */
export const isOfCampaign = (field: string, name: string): boolean =>
  field.trim().toLowerCase() === name.trim().toLowerCase();
