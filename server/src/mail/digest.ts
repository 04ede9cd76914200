import { formatAbsence, formatCount, formatDate, type NeedKind } from '@keyroster/core';
import { findPerson } from '../accounts/who.js';
import type { Db, Queryable } from '../db/connect.js';
import type { Jobs } from '../jobs/queue.js';
import type { Settings } from '../settings.js';
import { todayView } from '../today/today.js';
import { sendLetter } from './mail.js';

/** What a digest calls each kind, in the order in which it tells of them. */
const HEADINGS: [NeedKind, string][] = [
  ['late', 'Late'],
  ['change', 'Changes asked for'],
  ['write', 'To write'],
  ['review', 'Waiting for review'],
  ['proofread', 'To proofread'],
  ['schedule', 'Cleared, not scheduled'],
  ['pitched', 'New pitches'],
  ['goes out', 'Goes out today and tomorrow'],
];
const MAX_LINES = 12;

/** Adds a job for everybody whose hour it is, once a day; an hour counts where they are. */
export async function planDigests(db: Queryable): Promise<void> {
  await db.raw(
    `
      with
        due as (
          update memberships m
          set
            digest_on = (now() at time zone coalesce(m.zone, b.zone))::date
          from
            blogs b,
            people p
          where
            b.id = m.blog_id
            and p.id = m.person_id
            and p.active
            and m.role <> 'reader'
            and m.notify = 'digest'
            and extract(hour from now() at time zone coalesce(m.zone, b.zone)) = m.digest_hour
            and m.digest_on is distinct from (now() at time zone coalesce(m.zone, b.zone))::date
          returning
            m.person_id,
            m.blog_id
        )
      select
        graphile_worker.add_job (
          'digest',
          payload => json_build_object('personId', person_id, 'blogId', blog_id),
          max_attempts => 5,
          job_key => 'digest:' || blog_id || ':' || person_id,
          priority => 7
        )
      from
        due
    `,
  );
}

/** Mails somebody what Today says, when it says anything. Answers whether a letter went. */
export async function mailDigest(
  db: Db,
  { personId, blogId }: Jobs['digest'],
  settings: Pick<Settings, 'mailServer' | 'mailFrom' | 'publicUrl'>,
): Promise<boolean> {
  const person = settings.mailServer ? await findPerson(db, personId, blogId) : null;
  if (!person) return false;
  const wish = await db('memberships')
    .where({ blog_id: person.blogId, person_id: person.id })
    .first<{ notify: string } | undefined>('notify');
  if (wish?.notify !== 'digest') return false;
  const { today, needs, mentions, away } = await todayView(db, person);
  const lines = (heading: string, all: readonly string[]) =>
    all.length === 0
      ? []
      : [
          [
            `${heading} (${all.length})`,
            ...all.slice(0, MAX_LINES).map((line) => `- ${line}`),
            ...(all.length > MAX_LINES ? [`- and ${all.length - MAX_LINES} more`] : []),
          ].join('\n'),
        ];
  const parts = [
    ...lines(
      'Mentions of you',
      mentions.map((m) => `${m.title}: ${m.by.name}`),
    ),
    ...lines(
      'In an absence',
      away.map((a) => `${a.person.name}, ${formatAbsence(a, today)}: ${formatCount(a.posts.length, 'post')}`),
    ),
    ...HEADINGS.flatMap(([kind, heading]) =>
      lines(
        heading,
        needs.filter((n) => n.kind === kind).map((n) => `${n.title} (${n.why})`),
      ),
    ),
  ];
  if (parts.length === 0) return false;
  await sendLetter(settings, {
    to: { name: person.name, address: person.email },
    subject: `What needs you, ${formatDate(today)}`,
    text: [
      ...parts,
      `${settings.publicUrl}/desk/today`,
      'You get this once a day because you wish for it; it can be changed in the newsroom, on your page in the roster.',
    ].join('\n\n'),
  });
  return true;
}
