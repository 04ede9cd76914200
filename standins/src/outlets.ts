/** The invented outlets that this process plays. */
export interface StandIn {
  slug: string;
  name: string;
  what: string;
  speaks: 'micropub' | 'webhook' | 'websub' | 'mail';
  /** Bearer token or signing secret it wants to see; for trying out only, no secret at all. */
  token: string;
  followers: number;
  /** Does it know a thing again by its key? */
  knowsKeys: boolean;
  max: number | null;
  hue: string;
}

export const STAND_INS: readonly StandIn[] = [
  {
    slug: 'towline',
    name: 'Towline',
    what: 'short posts',
    speaks: 'micropub',
    token: 'towline-token',
    followers: 4200,
    knowsKeys: true,
    max: 300,
    hue: '#1d5c7a',
  },
  {
    slug: 'porthole',
    name: 'Porthole',
    what: 'pictures',
    speaks: 'micropub',
    token: 'porthole-token',
    followers: 2600,
    knowsKeys: false,
    max: 2200,
    hue: '#7a3d1d',
  },
  {
    slug: 'slipway',
    name: 'Slipway',
    what: 'working people',
    speaks: 'micropub',
    token: 'slipway-token',
    followers: 900,
    knowsKeys: true,
    max: 3000,
    hue: '#3b5a2a',
  },
  {
    slug: 'chandlers-row',
    name: 'Chandler’s Row',
    what: 'a partner’s site',
    speaks: 'websub',
    token: 'row-secret',
    followers: 1500,
    knowsKeys: true,
    max: null,
    hue: '#5a2a52',
  },
  {
    slug: 'ropewalk',
    name: 'Ropewalk Stores',
    what: 'a shop’s news page',
    speaks: 'webhook',
    token: 'whsec_cm9wZXdhbGstc3RvcmVzLXNlY3JldA==',
    followers: 700,
    knowsKeys: true,
    max: 1500,
    hue: '#8a6200',
  },
  {
    slug: 'friday-letter',
    name: 'The Friday Letter',
    what: 'a mailing list',
    speaks: 'mail',
    token: '',
    followers: 1900,
    knowsKeys: false,
    max: null,
    hue: '#2f2f5e',
  },
  {
    slug: 'letterbox',
    name: 'Letterbox',
    what: 'mail to the newsroom’s own people',
    speaks: 'mail',
    token: '',
    followers: 0,
    knowsKeys: false,
    max: null,
    hue: '#54606b',
  },
];
export const standIn = (slug: string | undefined) => STAND_INS.find((s) => s.slug === slug);
