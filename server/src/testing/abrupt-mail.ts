import { createServer, type Server, type Socket } from 'node:net';

/** How a mail server may end a session once the whole text has come, or before. */
export const ENDINGS = ['closes', 'ends', 'resets', 'is silent', 'answers half a line'] as const;
export type Ending = (typeof ENDINGS)[number];

/** What a mail server says instead of its usual answer, by the command. */
type Says = Partial<
  Record<'greeting' | 'AUTH' | 'MAIL' | 'RCPT' | 'DATA' | 'dot', (line: string) => string | null>
>;

/**
 * A mail server of bare sockets, for what well-made ones never do: it accepts letters, and then ends without an
 * answer; or refuses at any step.
 */
export class AbruptMail {
  /** Recipients of whole texts, whether or not that was answered. */
  readonly accepted: string[] = [];
  ending: Ending | 'before the text' | null = null;
  says: Says = {};
  private readonly server: Server;
  private readonly sockets = new Set<Socket>();

  private constructor() {
    this.server = createServer((socket) => this.serve(socket));
  }

  static async open(): Promise<AbruptMail> {
    const mail = new AbruptMail();
    await new Promise<void>((ready) => mail.server.listen(0, '127.0.0.1', ready));
    return mail;
  }

  get port(): number {
    return (this.server.address() as { port: number }).port;
  }
  get url(): string {
    return `smtp://127.0.0.1:${this.port}`;
  }

  private serve(socket: Socket): void {
    this.sockets.add(socket);
    socket.on('error', () => undefined).on('close', () => this.sockets.delete(socket));
    const say = (line: string) => socket.write(`${line}\r\n`);
    let rest = '';
    let to = '';
    let inText = false;
    let refused = false;
    say(this.says.greeting?.('') ?? '220 abrupt ESMTP');
    const answers: Record<string, (line: string) => string> = {
      EHLO: () => '250-abrupt\r\n250 AUTH PLAIN',
      AUTH: (line) => this.says.AUTH?.(line) ?? '235 Welcome',
      MAIL: (line) => this.says.MAIL?.(line) ?? '250 OK',
      RCPT: (line) => {
        to = /<([^>]*)>/.exec(line)?.[1] ?? '';
        const no = this.says.RCPT?.(to) ?? null;
        refused = no !== null;
        return no ?? '250 OK';
      },
      DATA: (line) => {
        const no = refused ? '503 No recipient' : (this.says.DATA?.(line) ?? null);
        inText = no === null;
        return no ?? '354 Go on';
      },
      RSET: () => '250 OK',
      QUIT: () => '221 Bye',
    };
    socket.on('data', (bytes) => {
      rest += bytes.toString('latin1');
      if (this.ending === 'before the text' && /^DATA/im.test(rest)) return void socket.destroy();
      for (;;) {
        if (inText) {
          const dot = rest.indexOf('\r\n.\r\n');
          if (dot < 0) return;
          rest = rest.slice(dot + 5);
          inText = false;
          const no = this.says.dot?.(to) ?? null;
          if (no !== null) say(no);
          else {
            this.accepted.push(to);
            if (this.ending !== null) return this.end(socket);
            say('250 Kept');
          }
        }
        const line = /^(.*?)\r\n/.exec(rest);
        if (!line) return;
        rest = rest.slice(line[0].length);
        say(answers[line[1]!.slice(0, 4).toUpperCase()]?.(line[1]!) ?? '500 What?');
      }
    });
  }

  private end(socket: Socket): void {
    switch (this.ending) {
      case 'closes':
        return void socket.destroy();
      case 'ends':
        return void socket.end();
      case 'resets':
        return void socket.resetAndDestroy();
      case 'answers half a line':
        return void socket.end('25');
      default:
      // Silent: the socket stays open.
    }
  }

  async close(): Promise<void> {
    for (const socket of this.sockets) socket.destroy();
    await new Promise<void>((closed) => this.server.close(() => closed()));
  }
}
