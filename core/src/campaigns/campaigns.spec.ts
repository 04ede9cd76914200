import { campaignLacks, isOfCampaign, type CampaignPost } from './campaigns.js';

const post = (id: number, parts: Partial<CampaignPost> = {}): CampaignPost => ({
  id,
  title: `Post ${id}`,
  stage: 'cleared',
  day: '2026-12-01',
  hasPicture: true,
  outletIds: [1, 2],
  ...parts,
});
const outlets = [
  { id: 1, name: 'Towline' },
  { id: 2, name: 'Porthole' },
];
const lacks = (...posts: CampaignPost[]) =>
  campaignLacks({ from: '2026-11-20', until: '2026-12-24', outlets, posts }, '2026-11-28');

describe('what a campaign lacks', () => {
  it('is nothing where all is in place', () => {
    expect(lacks(post(1), post(2, { stage: 'published', day: '2026-11-21' }))).toEqual([]);
  });
  it('is told, the gravest first', () => {
    expect(lacks()).toEqual(['No post is in it yet.']);
    expect(
      lacks(
        post(1, { day: '2026-11-25', stage: 'drafting' }),
        post(2, { day: null, outletIds: [1] }),
        post(3, { day: '2026-12-25', hasPicture: false }),
        post(4, { stage: 'withdrawn', day: null, outletIds: [] }),
      ),
    ).toEqual([
      'Planned for a day that has passed, and not out: “Post 1”.',
      'Without a date: “Post 2”.',
      'Outside the campaign’s days: “Post 3”.',
      'Nothing goes to Porthole of “Post 2”.',
      '1 post without a picture: “Post 3”.',
    ]);
    const many = [1, 2, 3, 4, 5].map((id) => post(id, { outletIds: [] }));
    expect(lacks(...many)).toEqual([
      'Nothing of it goes to Towline yet.',
      'Nothing of it goes to Porthole yet.',
    ]);
    expect(lacks(...many.map((p) => ({ ...p, day: null, outletIds: [1, 2] })))).toEqual([
      'Without a date: “Post 1”, “Post 2”, “Post 3”, 2 more.',
    ]);
  });
  it('holds posts by their field, whatever the capitals', () => {
    expect(isOfCampaign(' Winter stoppages', 'winter Stoppages ')).toBe(true);
    expect(isOfCampaign('Winter', 'Winters')).toBe(false);
  });
});
