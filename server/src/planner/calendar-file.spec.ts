import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import ICAL from 'ical.js';
import nodeIcal from 'node-ical';
import type { CalendarEvent } from './calendar-file.js';

const BUILT = fileURLToPath(new URL('../../dist/planner/calendar-file.js', import.meta.url));
/** Six zones to read in, three of them to write in, two of those with summer time. */
const READ = ['UTC', 'Europe/London', 'America/New_York', 'Australia/Sydney', 'Asia/Kolkata', 'Pacific/Apia'];
const WRITE = ['America/New_York', 'Australia/Sydney', 'Asia/Kolkata'];
const INSTANTS = [
  '2027-01-15T08:00:00Z',
  '2027-07-15T07:00:00Z',
  '2027-03-28T00:30:00Z',
  '2027-10-31T01:30:00Z',
];
const EVENTS: CalendarEvent[] = [
  ...INSTANTS.map((at, i) => ({
    id: `post-${i}@blog.example`,
    at,
    summary: `Post ${i}`,
    url: 'https://blog.example/',
    created: '2026-11-20T23:30:00Z',
    lastModified: '2026-11-21T00:15:00Z',
    certain: true,
  })),
  { id: 'copy-9@blog.example', day: '2027-07-15', summary: 'Copy due', url: 'https://blog.example/' },
];

/** What a process in a zone writes. In this one the zone cannot be changed for certain, so it is another. */
const written = (zone: string): string =>
  execFileSync(
    process.execPath,
    [
      '--input-type=module',
      '-e',
      `import { calendarFile } from ${JSON.stringify(BUILT)};
       process.stdout.write(calendarFile('Runs', ${JSON.stringify(EVENTS)}));`,
    ],
    { env: { ...process.env, TZ: zone }, encoding: 'utf8' },
  );
/** What a process in a zone reads, by a parser that goes by its own clock. */
const read = (text: string, zone: string): unknown =>
  JSON.parse(
    execFileSync(
      process.execPath,
      [
        '--input-type=module',
        '-e',
        `import ical from ${JSON.stringify(import.meta.resolve('node-ical'))};
         const found = Object.values(ical.sync.parseICS(process.env.TEXT)).filter((e) => e.type === 'VEVENT');
         process.stdout.write(JSON.stringify(found.filter((e) => e.datetype !== 'date').map((e) => new Date(e.start).toISOString())));`,
      ],
      { env: { ...process.env, TZ: zone, TEXT: text }, encoding: 'utf8' },
    ),
  );
const iso = (instants: string[]) => instants.map((i) => new Date(i).toISOString());

describe('a calendar file', () => {
  it.each(WRITE)('written in %s is the same instants for everybody', (zone) => {
    const text = written(zone);
    expect(text.endsWith('END:VCALENDAR\r\n')).toBe(true);
    // Every date-time has a Z, stamps too; whole days have none.
    for (const line of text.split('\r\n').filter((l) => /^(DT|CREATED|LAST-MODIFIED)/.test(l)))
      expect(line).toMatch(/^(DTSTART|DTEND);VALUE=DATE:\d{8}$|:\d{8}T\d{6}Z$/);
    expect(text).toContain('CREATED:20261120T233000Z');
    expect(text).toContain('DTSTART;VALUE=DATE:20270715\r\nDTEND;VALUE=DATE:20270716');
    const starts = new ICAL.Component(ICAL.parse(text) as string)
      .getAllSubcomponents('vevent')
      .map((c) => new ICAL.Event(c).startDate)
      .filter((d) => !d.isDate)
      .map((d) => d.toJSDate().toISOString());
    expect(starts).toEqual(iso(INSTANTS));
  });

  it.each(READ)('read in %s by another parser gives the same instants', (zone) => {
    expect(read(written('America/New_York'), zone)).toEqual(iso(INSTANTS));
    expect(nodeIcal.sync.parseICS(written(zone))).toBeDefined();
  });
});
