import { simpleParser, type AddressObject, type ParsedMail } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import { returnLost } from './returns.js';
import type { Store } from './store.js';

/** Who signs in, with what, and where their letters are kept. */
const SENDERS: Record<string, { password: string; slug: string }> = {
  letters: { password: 'letters-password', slug: 'friday-letter' },
  newsroom: { password: 'newsroom-password', slug: 'letterbox' },
};

/** A mail server that takes letters by SMTP (RFC 5321) from anyone who signs in, and keeps them. */
export function mailServer(store: Store, returnsTo: string | null = null): SMTPServer {
  const times: number[] = [];
  const server = new SMTPServer({
    authOptional: false,
    allowInsecureAuth: true,
    disabledCommands: ['STARTTLS'],
    size: 10_000_000,
    banner: 'Stand-in',
    onAuth: ({ username, password }, _session, done) => {
      const sender = SENDERS[username ?? ''];
      if (sender && sender.password === password && store.manners(sender.slug).answer !== 'unauthorised')
        done(null, { user: username });
      else done(Object.assign(new Error('The name or the password is wrong'), { responseCode: 535 }));
    },
    onData: (stream, session, done) => {
      const { slug } = SENDERS[session.user!]!;
      const manners = store.manners(slug);
      void simpleParser(stream).then(
        async (mail) => {
          await new Promise((r) => setTimeout(r, manners.slowMs));
          const minute = times.filter((t) => t > Date.now() - 60_000).length;
          const refuse = (responseCode: number, text: string) =>
            done(Object.assign(new Error(text), { responseCode }));
          if (manners.perMinute > 0 && minute >= manners.perMinute)
            return refuse(451, 'Too many at once, try again later');
          if (manners.answer === 'broken') return refuse(451, 'Something broke, try again later');
          if (manners.answer === 'refused') return refuse(550, 'That is not allowed here');
          times.push(Date.now());
          const text = mail.text ?? '';
          store.add({
            outlet: slug,
            key: mail.messageId ?? '',
            title: mail.subject ?? '',
            text,
            html: mail.html || '',
            tags: slug === 'letterbox' ? [`to ${addressesOf(mail.to)}`] : [],
            photos: [],
            replyTo: '',
            link: /https?:\/\/\S+/.exec(text)?.[0] ?? '',
            leave: wayOut(mail),
          });
          if (returnsTo) void returnLost(session.envelope, mail, returnsTo);
          if (manners.losesAnswers) hangUp(server, session.id);
          else done();
        },
        () => done(new Error('It could not be read')),
      );
    },
  });
  return server;
}

const addressesOf = (to: AddressObject | AddressObject[] | undefined): string =>
  [to ?? []]
    .flat()
    .map((a) => a.text)
    .join(', ');

/** Ends a connection without a word. */
function hangUp(server: SMTPServer, sessionId: string): void {
  for (const connection of (
    server as unknown as { connections: Set<{ id: string; _socket: { destroy: () => void } }> }
  ).connections)
    if (connection.id === sessionId) connection._socket.destroy();
}

/** Where one click takes the reader off the list, as the letter says (RFC 8058, section 3.1). */
function wayOut({ headerLines }: ParsedMail): string {
  const line = (key: string) => headerLines.find((h) => h.key === key)?.line ?? '';
  if (!/List-Unsubscribe=One-Click/i.test(line('list-unsubscribe-post'))) return '';
  return /<(https?:[^>]+)>/.exec(line('list-unsubscribe').replace(/\s+/g, ''))?.[1] ?? '';
}
