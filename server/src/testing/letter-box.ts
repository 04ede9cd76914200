import { SMTPServer } from 'smtp-server';

/** A mail server on loopback that takes every letter and keeps it, for specs that read what was sent. */
export class LetterBox {
  /** As they came over the wire. */
  readonly raw: string[] = [];
  /** Answers what is said to a recipient instead of taking the letter, or nothing. */
  refuses: (address: string) => number | null = () => null;
  private readonly server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onRcptTo: ({ address }, _session, done) => {
      const code = this.refuses(address);
      done(code === null ? null : Object.assign(new Error('Not now'), { responseCode: code }));
    },
    onData: (stream, _session, done) => {
      const parts: Buffer[] = [];
      stream.on('data', (part: Buffer) => parts.push(part));
      stream.on('end', () => {
        this.raw.push(Buffer.concat(parts).toString());
        done();
      });
    },
  });

  static async open(): Promise<LetterBox> {
    const box = new LetterBox();
    // The sender may hang up in the middle of a word.
    box.server.on('error', () => undefined);
    await new Promise<void>((ready) => box.server.listen(0, '127.0.0.1', ready));
    return box;
  }

  get url(): string {
    const { port } = this.server.server.address() as { port: number };
    return `smtp://127.0.0.1:${port}`;
  }

  /** Their words, as far as plain letters are folded and quoted (RFC 2045, 6.7). */
  get letters(): string[] {
    return this.raw.map((letter) => letter.replace(/=\r\n/g, '').replace(/=3D/g, '='));
  }

  empty(): void {
    this.raw.length = 0;
  }

  async close(): Promise<void> {
    await new Promise<void>((closed) => this.server.close(() => closed()));
  }
}
