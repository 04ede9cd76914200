import { readFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Writable } from 'node:stream';
import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import {
  OFFLINE_COVER,
  offlineAddress,
  offlineMedia,
  offlinePage,
  type OfflineAddress,
} from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { fontFolder, publicFolder } from '../http/public-files.js';
import { mapAddresses } from '../pages/addresses.js';
import type { Context } from '../pages/context.js';
import { coverPage, partPage, specialSheet, type OpenSpecial } from '../pages/special-pages.js';

/** Faces that the style sheet of readers' pages names, by the folder that each comes from. */
const FACES = /url\(fonts\/([\w.-]+)\)/g;

const PIECE = 1024 * 1024;

interface Held {
  name: string;
  read: (db: Queryable) => Promise<Buffer>;
}

/** Pictures and files that pages show, each once; named when their kind is known. */
class Shown {
  private readonly held = new Map<string, Held>();
  private types = new Map<string, string>();

  constructor(private readonly db: Queryable) {}

  /** Reads of what kind the originals are, which only have a number in their address. */
  async know(addresses: readonly OfflineAddress[]): Promise<void> {
    for (const [kind, table] of [
      ['picture', 'media'],
      ['file', 'files'],
    ] as const) {
      const ids = addresses.flatMap((a) => (a.kind === kind ? [a.id] : []));
      const rows = await this.db(table)
        .whereIn('id', ids)
        .select<{ id: number; type: string }[]>('id', 'type');
      for (const { id, type } of rows) this.types.set(`${kind} ${id}`, type);
    }
  }

  /** The name that something shown has among the plain files. */
  nameOf(at: Extract<OfflineAddress, { kind: 'picture' | 'file' }>): string {
    const size = at.kind === 'picture' ? at.size : null;
    const type = this.types.get(`${at.kind} ${at.id}`) ?? '';
    const table = at.kind === 'picture' ? 'media' : 'files';
    const name = offlineMedia(table, at.id, size, type);
    const where = size === null ? { id: at.id } : { media_id: at.id, kind: size };
    const read = async (db: Queryable): Promise<Buffer> =>
      (
        await db(size === null ? table : 'media_sizes')
          .where(where)
          .first<{ bytes: Buffer } | undefined>('bytes')
      )?.bytes ?? Buffer.alloc(0);
    this.held.set(name, { name, read });
    return name;
  }

  all(): Held[] {
    return [...this.held.values()];
  }
}

/** Addresses of a page that do not lead elsewhere. */
function addressesIn(html: string, root: string, slugs: ReadonlySet<string>): OfflineAddress[] {
  const found: OfflineAddress[] = [];
  mapAddresses(html, 'page', (address) => {
    found.push(offlineAddress(address, root, slugs));
    return address;
  });
  return found;
}

/**
 * Writes a special as a zip of plain files: its pages as readers have them, with links between them, and all that they
 * show. A picture or film is read when its turn comes, and not before what stands before it was taken.
 */
export async function writeOffline(context: Context, open: OpenSpecial, out: Writable): Promise<void> {
  const { db } = context;
  const slugs = new Set(open.parts.flatMap((p) => (p === null ? [] : [p.slug])));
  const { root } = open.blog;
  const zip = zipInto(out);
  const shown = new Shown(db);
  const assets = new Set<string>();

  const offline = async (html: string): Promise<string> => {
    await shown.know(addressesIn(html, root, slugs));
    return mapAddresses(html, 'page', (address) => {
      const at = offlineAddress(address, root, slugs);
      if (at.kind === 'cover') return `${OFFLINE_COVER}${at.hash}`;
      if (at.kind === 'page') return `${offlinePage(at.slug)}${at.hash}`;
      if (at.kind === 'picture' || at.kind === 'file') return shown.nameOf(at);
      if (at.kind === 'asset') {
        assets.add(at.name);
        return `assets/${at.name}`;
      }
      return address;
    });
  };

  await zip.add(OFFLINE_COVER, Buffer.from(await offline((await coverPage(context, open)).body)));
  for (const slug of slugs)
    await zip.add(offlinePage(slug), Buffer.from(await offline((await partPage(context, open, slug)).body)));
  await zip.add('look.css', Buffer.from(specialSheet(open).body));
  for (const name of assets) {
    const bytes = await readFile(join(publicFolder, basename(name)));
    await zip.add(`assets/${name}`, bytes);
    if (!name.endsWith('.css')) continue;
    for (const [, face = ''] of bytes.toString('utf8').matchAll(FACES)) {
      const folder = fontFolder(face.startsWith('newsreader') ? 'newsreader' : 'hanken-grotesk');
      await zip.add(`assets/fonts/${face}`, await readFile(join(folder, face)), true);
    }
  }
  for (const { name, read } of shown.all()) await zip.add(name, await read(db), true);
  await zip.end();
}

/** A zip that is written as it is made; `packed`: what is small already is only put in. */
function zipInto(out: Writable) {
  let failed: Error | null = null;
  const zip = new Zip((error, bytes) => {
    if (error) failed = error;
    else out.write(bytes);
  });
  out.on('error', (error) => (failed = error));
  /** Waits until what was written is on its way; a reader who has gone needs no more of it. */
  const taken = async (): Promise<void> => {
    if (failed) throw failed;
    if (out.destroyed) throw new Error('Nobody takes the file any more.');
    if (!out.writableNeedDrain) return;
    await new Promise<void>((go) => {
      const on = () => {
        out.off('drain', on).off('close', on);
        go();
      };
      out.on('drain', on).on('close', on);
    });
    await taken();
  };
  return {
    async add(name: string, bytes: Uint8Array, packed = false): Promise<void> {
      const file = packed ? new ZipPassThrough(name) : new ZipDeflate(name, { level: 6 });
      zip.add(file);
      // A film is put in piece by piece, so that others are served meanwhile.
      for (let at = 0; at === 0 || at < bytes.length; at += PIECE) {
        file.push(bytes.subarray(at, at + PIECE), at + PIECE >= bytes.length);
        await taken();
        await new Promise((go) => setImmediate(go));
      }
    },
    async end(): Promise<void> {
      zip.end();
      await taken();
      out.end();
    },
  };
}
