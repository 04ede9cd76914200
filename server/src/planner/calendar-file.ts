import ical, { ICalEventStatus, ICalEventTransparency } from 'ical-generator';

const MINUTES = 15;

/** Something in a calendar: at an instant (RFC 3339, UTC), or for a whole day (YYYY-MM-DD). */
export type CalendarEvent = ({ at: string } | { day: string }) & {
  /** The same for ever, and the only one of its kind in the world. */
  id: string;
  summary: string;
  description?: string;
  url: string;
  sequence?: number;
  created?: string;
  lastModified?: string;
  category?: string | null;
  certain?: boolean;
};

/**
 * Events as iCalendar text (RFC 5545). Times are instants in UTC, with a Z: right in whatever zone they are
 * read, and without any zone of the process that writes them.
 */
export function calendarFile(name: string, events: readonly CalendarEvent[]): string {
  const calendar = ical({
    name,
    prodId: { company: 'Key Roster', product: 'Planner', language: 'EN' },
    ttl: 15 * 60,
  });
  for (const event of events) {
    const start = new Date('at' in event ? event.at : `${event.day}T00:00:00Z`);
    const whole = 'day' in event;
    calendar.createEvent({
      id: event.id,
      start,
      end: new Date(start.getTime() + (whole ? 24 * 60 : MINUTES) * 60_000),
      allDay: whole,
      ...(event.sequence === undefined ? {} : { sequence: event.sequence }),
      ...(event.created === undefined ? {} : { created: new Date(event.created) }),
      ...(event.lastModified === undefined ? {} : { lastModified: new Date(event.lastModified) }),
      summary: event.summary,
      ...(event.description === undefined ? {} : { description: event.description }),
      categories: event.category ? [{ name: event.category }] : [],
      ...(event.certain === undefined
        ? {}
        : { status: event.certain ? ICalEventStatus.CONFIRMED : ICalEventStatus.TENTATIVE }),
      url: event.url,
      transparency: ICalEventTransparency.TRANSPARENT,
    });
  }
  // Every line ends with CRLF, the last one too (RFC 5545, section 3.1).
  return `${calendar.toString().trimEnd()}\r\n`;
}
