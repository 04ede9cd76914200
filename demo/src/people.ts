import type { Role } from '@keyroster/core';

export const DEMO_PASSWORD = 'thirteen locks to Tolver';

export interface DemoPersonSeed {
  key: string;
  name: string;
  email: string;
  role: Role;
  edits: string[];
  /** Categories that they write; none: any. */
  writes?: string[];
  /** Posts a week that fit. */
  capacity?: number;
}

export const CATEGORIES = [
  {
    name: 'Towpath walks',
    hue: 4,
    weekday: 1,
    time: '08:00',
    format: '',
    texts: 'towpath-walks',
    writer: 'RA',
  },
  {
    name: 'Engine room',
    hue: 1,
    weekday: 2,
    time: '08:00',
    format: 'how-to',
    texts: 'engine-room',
    writer: 'TO',
  },
  {
    name: 'Lock-keepers',
    hue: 2,
    weekday: 3,
    time: '08:00',
    format: 'interview',
    texts: 'lock-keepers',
    writer: 'IN',
  },
  { name: 'Galley', hue: 3, weekday: 4, time: '08:00', format: '', texts: 'galley', writer: 'JM' },
  {
    name: 'Five to moor',
    hue: 5,
    weekday: 5,
    time: '12:00',
    format: 'round-up',
    texts: 'five-to-moor',
    writer: 'PK',
  },
] as const;

export const PEOPLE: DemoPersonSeed[] = [
  { key: 'MW', name: 'Mara Winslow', email: 'mara@halfwaylock.example', role: 'managing editor', edits: [] },
  {
    key: 'ET',
    name: 'Edda Thorne',
    email: 'edda@halfwaylock.example',
    role: 'editor',
    edits: ['Towpath walks', 'Lock-keepers'],
    capacity: 1,
  },
  {
    key: 'HB',
    name: 'Halden Byre',
    email: 'halden@halfwaylock.example',
    role: 'editor',
    edits: ['Engine room', 'Galley', 'Five to moor'],
    capacity: 1,
  },
  {
    key: 'RA',
    name: 'Rosalind Achter',
    email: 'rosalind@halfwaylock.example',
    role: 'contributor',
    edits: [],
    writes: ['Towpath walks', 'Five to moor'],
    capacity: 1,
  },
  {
    key: 'TO',
    name: 'Tobias Orme',
    email: 'tobias@halfwaylock.example',
    role: 'contributor',
    edits: [],
    writes: ['Engine room', 'Five to moor'],
    capacity: 1,
  },
  {
    key: 'IN',
    name: 'Isla Nettle',
    email: 'isla@halfwaylock.example',
    role: 'contributor',
    edits: [],
    writes: ['Lock-keepers', 'Towpath walks'],
    capacity: 2,
  },
  {
    key: 'JM',
    name: 'Jun Marlowe',
    email: 'jun@halfwaylock.example',
    role: 'contributor',
    edits: [],
    writes: ['Galley', 'Engine room'],
    capacity: 1,
  },
  {
    key: 'PK',
    name: 'Petra Kesh',
    email: 'petra@halfwaylock.example',
    role: 'contributor',
    edits: [],
    writes: ['Five to moor', 'Galley', 'Lock-keepers'],
    capacity: 1,
  },
  { key: 'CF', name: 'Cyril Fenn', email: 'cyril@halfwaylock.example', role: 'proofreader', edits: [] },
  { key: 'DP', name: 'Dot Pascoe', email: 'dot@halfwaylock.example', role: 'reader', edits: [] },
];

/** Who is away, in days from the day of loading. */
export const ABSENCES = [
  { who: 'TO', from: 12, to: 18, note: 'On the Addle, without signal' },
  { who: 'JM', from: 20, to: 21, note: 'Moving moorings' },
  { who: 'PK', from: 13, to: 19, note: 'A wedding at Tolver' },
  { who: 'ET', from: 29, to: 38, note: 'Home for the holidays' },
] as const;
