import { ACCESS } from '../posts/values.js';
import { STAGES } from '../stages/stages.js';
import { accessOpenTo, anybody, mayRead, whyNotPublic, type ReaderRights } from './access.js';

const READERS: Record<string, ReaderRights> = {
  anybody: anybody(),
  member: { ...anybody(), member: true },
  'with the password': { ...anybody(), opened: [7] },
  'with another password': { ...anybody(), opened: [8] },
  'member too early': { ...anybody([7]), member: true, opened: [7] },
  staff: { ...anybody([7]), staff: true },
};

describe('who may read', () => {
  // Written by hand: the table that everything else is held to.
  it.each([
    ['anybody', 'everyone'],
    ['member', 'everyone members'],
    ['with the password', 'everyone password'],
    ['with another password', 'everyone'],
    ['member too early', ''],
    ['staff', 'everyone members password staff'],
  ])('%s: %s', (reader, open) => {
    const may = ACCESS.filter((access) => mayRead(READERS[reader]!, { id: 7, stage: 'published', access }));
    expect(may.join(' ')).toBe(open);
  });

  it('nobody, not even staff, what is not out', () => {
    for (const stage of STAGES.filter((s) => s !== 'published'))
      for (const access of ACCESS) expect(mayRead(READERS['staff']!, { id: 7, stage, access })).toBe(false);
  });

  it('opens more to who brings more', () => {
    const [anyone, member, staff] = [
      accessOpenTo(anybody()),
      accessOpenTo({ staff: false, member: true }),
      ACCESS,
    ];
    expect(member).toEqual(expect.arrayContaining(anyone));
    expect(accessOpenTo({ staff: true, member: false })).toEqual(staff);
  });

  it('sends out only what everybody may read at once', () => {
    expect(ACCESS.filter((access) => whyNotPublic(access, false) === null)).toEqual(['everyone']);
    expect(whyNotPublic('everyone', true)).toMatch(/part of a serial/);
  });
});
