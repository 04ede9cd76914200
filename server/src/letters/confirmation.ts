import type { Db } from '../db/connect.js';
import type { Jobs } from '../jobs/queue.js';
import { sendLetter } from '../mail/mail.js';
import type { Settings } from '../settings.js';
import { homeOf } from '../pages/places.js';

/** Asks somebody by mail whether they want the letter. Answers whether a letter went. */
export async function mailConfirmation(
  db: Db,
  { subscriberId }: Jobs['confirmation'],
  settings: Pick<Settings, 'mailServer' | 'mailFrom' | 'publicUrl'>,
): Promise<boolean> {
  if (!settings.mailServer) return false;
  const row = await db('subscribers as s')
    .join('blogs as b', 'b.id', 's.blog_id')
    .where('s.id', subscriberId)
    .whereNot('s.state', 'active')
    .first<
      | { email: string; name: string; key: string; title: string; host: string | null; path: string }
      | undefined
    >('s.email', 's.name', 's.key', 'b.title', 'b.host', 'b.path');
  if (!row) return false;
  await sendLetter(settings, {
    to: { name: row.name, address: row.email },
    subject: `Do you want the letter of ${row.title}?`,
    text: [
      `Somebody, you we hope, asked for the letter of ${row.title} to be sent to this address.`,
      'Say yes here, and you get it from now on:',
      `${homeOf(row, settings.publicUrl)}/letter/confirm/${row.key}`,
      'If it was not you, you need not do anything: without your yes nothing is sent.',
    ].join('\n\n'),
  });
  return true;
}
