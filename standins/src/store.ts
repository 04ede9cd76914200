import { createHash, randomUUID } from 'node:crypto';
import { appendFileSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** Something an outlet received and shows to its readers. */
export interface Received {
  id: string;
  outlet: string;
  at: string;
  /** What the sender said it is to be told apart by; '' when it said nothing. */
  key: string;
  title: string;
  text: string;
  /** Markup of letters; shown in a closed frame only. */
  html: string;
  tags: string[];
  photos: { url: string; alt: string }[];
  /** The received thing it answers, as in a thread. */
  replyTo: string;
  link: string;
  /** Of a letter to a list: where one click takes its reader off the list (RFC 8058). */
  leave?: string;
}

/** How an outlet behaves, for trying out what a sender does about it. */
export interface Manners {
  slowMs: number;
  /**
   * What it answers to everything: normally, not signed in, not understood, broken, nonsense, or led
   * elsewhere.
   */
  answer: 'usual' | 'unauthorised' | 'refused' | 'broken' | 'nonsense' | 'elsewhere';
  /** How many it takes in a minute; 0: as many as come. */
  perMinute: number;
  /** Takes the thing, and hangs up before it has said so. */
  losesAnswers: boolean;
}
export const USUAL: Manners = { slowMs: 0, answer: 'usual', perMinute: 0, losesAnswers: false };

/** Everything received, kept in a file of lines: what was there is there after a restart. */
export class Store {
  private readonly list: Received[] = [];
  private readonly manner = new Map<string, Manners>();
  private readonly file: string;
  private readonly mannersFile: string;

  constructor(private readonly folder: string) {
    mkdirSync(join(folder, 'pictures'), { recursive: true });
    this.file = join(folder, 'received.jsonl');
    this.mannersFile = join(folder, 'manners.json');
    if (existsSync(this.file))
      for (const line of readFileSync(this.file, 'utf8').split('\n'))
        if (line) this.list.push(JSON.parse(line) as Received);
    if (existsSync(this.mannersFile))
      for (const [outlet, m] of Object.entries(
        JSON.parse(readFileSync(this.mannersFile, 'utf8')) as Record<string, Manners>,
      ))
        this.manner.set(outlet, m);
  }

  add(thing: Omit<Received, 'id' | 'at'> & { at?: string | undefined }): Received {
    const received = { ...thing, id: randomUUID().slice(0, 8), at: thing.at ?? new Date().toISOString() };
    this.list.push(received);
    appendFileSync(this.file, `${JSON.stringify(received)}\n`);
    return received;
  }

  of(outlet: string): Received[] {
    return this.list.filter((r) => r.outlet === outlet);
  }
  find(outlet: string, id: string): Received | undefined {
    return this.list.find((r) => r.outlet === outlet && r.id === id);
  }
  byKey(outlet: string, key: string): Received | undefined {
    return key === '' ? undefined : this.list.find((r) => r.outlet === outlet && r.key === key);
  }

  manners(outlet: string): Manners {
    return this.manner.get(outlet) ?? USUAL;
  }
  behave(outlet: string, manners: Manners): void {
    this.manner.set(outlet, manners);
    writeFileSync(this.mannersFile, JSON.stringify(Object.fromEntries(this.manner)));
  }

  storePicture(bytes: Buffer): string {
    const name = createHash('sha256').update(bytes).digest('hex').slice(0, 24);
    writeFileSync(join(this.folder, 'pictures', name), bytes);
    return name;
  }
  picture(name: string): Buffer | null {
    const path = join(this.folder, 'pictures', name);
    return /^[0-9a-f]{24}$/.test(name) && existsSync(path) ? readFileSync(path) : null;
  }
}
