import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import type { StandIn } from './outlets.js';
import type { Store } from './store.js';

/** A mailing list that takes letters by SMTP (RFC 5321) from whoever signs in, and keeps them. */
export function mailServer(store: Store, outlet: StandIn): SMTPServer {
  const times: number[] = [];
  const server = new SMTPServer({
    authOptional: false,
    allowInsecureAuth: true,
    disabledCommands: ['STARTTLS'],
    size: 10_000_000,
    banner: 'Stand-in',
    onAuth: ({ username, password }, _session, done) => {
      if (
        store.manners(outlet.slug).answer !== 'unauthorised' &&
        username === 'letters' &&
        password === 'letters-password'
      )
        done(null, { user: username });
      else done(Object.assign(new Error('The name or the password is wrong'), { responseCode: 535 }));
    },
    onData: (stream, session, done) => {
      const manners = store.manners(outlet.slug);
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
            outlet: outlet.slug,
            key: mail.messageId ?? '',
            title: mail.subject ?? '',
            text,
            html: mail.html || '',
            tags: [],
            photos: [],
            replyTo: '',
            link: /https?:\/\/\S+/.exec(text)?.[0] ?? '',
          });
          if (manners.losesAnswers) hangUp(server, session.id);
          else done();
        },
        () => done(new Error('It could not be read')),
      );
    },
  });
  return server;
}

/** Ends a connection without a word. */
function hangUp(server: SMTPServer, sessionId: string): void {
  for (const connection of (
    server as unknown as { connections: Set<{ id: string; _socket: { destroy: () => void } }> }
  ).connections)
    if (connection.id === sessionId) connection._socket.destroy();
}
