import { LINK_MINUTES } from '../access/members.js';
import type { Db } from '../db/connect.js';
import type { Jobs } from '../jobs/queue.js';
import type { Settings } from '../settings.js';
import { sendLetter } from './mail.js';

/** Mails a link for signing in that can still be followed. Answers whether a letter went. */
export async function mailMemberLink(
  db: Db,
  { digest, address }: Jobs['memberLink'],
  settings: Pick<Settings, 'mailServer' | 'mailFrom'>,
): Promise<boolean> {
  if (!settings.mailServer) return false;
  const link = await db('member_links as l')
    .join('blogs as b', 'b.id', 'l.blog_id')
    .where({ 'l.digest': Buffer.from(digest, 'hex'), 'l.used_at': null })
    .whereRaw('l.expires_at > now()')
    .first<{ email: string; blog: string } | undefined>('l.email', 'b.title as blog');
  if (!link) return false;
  await sendLetter(settings, {
    to: { name: '', address: link.email },
    subject: `Sign in to ${link.blog}`,
    text: [
      `Somebody, you we hope, wants to sign in to ${link.blog} with this address.`,
      `Follow this within ${LINK_MINUTES} minutes; it works once:`,
      address,
      'If it was not you, you need not do anything.',
    ].join('\n\n'),
  });
  return true;
}
