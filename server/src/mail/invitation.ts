import type { Db } from '../db/connect.js';
import type { Jobs } from '../jobs/queue.js';
import type { Settings } from '../settings.js';
import { sendLetter } from './mail.js';

/** Mails an invitation that can still be followed. Answers whether a letter went. */
export async function mailInvitation(
  db: Db,
  { inviteId, address }: Jobs['invitation'],
  settings: Pick<Settings, 'mailServer' | 'mailFrom'>,
): Promise<boolean> {
  if (!settings.mailServer) return false;
  const invite = await db('invites as i')
    .join('people as p', 'p.id', 'i.made_by')
    .join('blogs as b', 'b.id', 'i.blog_id')
    .where('i.id', inviteId)
    .whereNull('i.used_at')
    .whereRaw('i.expires_at > now()')
    .first<{ name: string; email: string; role: string; by: string; blog: string } | undefined>(
      'i.name',
      'i.email',
      'i.role',
      'p.name as by',
      'b.title as blog',
    );
  if (!invite) return false;
  await sendLetter(settings, {
    to: { name: invite.name, address: invite.email },
    subject: `${invite.by} invites you to ${invite.blog}`,
    text: [
      `${invite.by} invites you to the newsroom of ${invite.blog}, as ${invite.role}.`,
      'Follow this within seven days and choose a password; it works once:',
      address,
      'If you did not expect this, you need not do anything.',
    ].join('\n\n'),
  });
  return true;
}
