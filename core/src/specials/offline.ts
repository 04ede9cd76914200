/** The kinds of address that pages of a special have. */
export type OfflineAddress =
  | { kind: 'page'; slug: string; hash: string }
  | { kind: 'cover'; hash: string }
  | { kind: 'picture'; id: number; size: string | null }
  | { kind: 'file'; id: number }
  | { kind: 'asset'; name: string }
  | { kind: 'elsewhere' };

const ASSET = /^\/assets\/([\w./-]+)$/;
const PICTURE = /^\/media\/(\d{1,9})(?:\/([\w.-]+))?$/;
const FILE = /^\/files\/(\d{1,9})$/;

/**
 * What an address in a page of a special leads to. `root`: what stands before the addresses of pictures and assets;
 * `slugs`: its pages. A link between pages is relative.
 */
export function offlineAddress(address: string, root: string, slugs: ReadonlySet<string>): OfflineAddress {
  const at = address.indexOf('#');
  const [path, hash] = at < 0 ? [address, ''] : [address.slice(0, at), address.slice(at)];
  if (path === './') return { kind: 'cover', hash };
  if (slugs.has(path)) return { kind: 'page', slug: path, hash };
  const inner = root !== '' && path.startsWith(`${root}/`) ? path.slice(root.length) : path;
  const picture = PICTURE.exec(inner);
  if (picture) return { kind: 'picture', id: Number(picture[1]), size: picture[2] ?? null };
  const file = FILE.exec(inner);
  if (file) return { kind: 'file', id: Number(file[1]) };
  const asset = ASSET.exec(inner);
  if (asset && !asset[1]!.split('/').includes('..')) return { kind: 'asset', name: asset[1]! };
  return { kind: 'elsewhere' };
}

/** Names of pages among the plain files: no page takes the cover's. */
export const offlinePage = (slug: string): string => (slug === 'index' ? 'index-.html' : `${slug}.html`);
export const OFFLINE_COVER = 'index.html';

const EXTENSIONS: Record<string, string> = {
  'image/jpeg': '.jpg',
  'image/png': '.png',
  'image/gif': '.gif',
  'image/webp': '.webp',
  'image/avif': '.avif',
  'image/svg+xml': '.svg',
  'video/mp4': '.mp4',
  'video/webm': '.webm',
  'text/vtt': '.vtt',
};

/** The name of a picture or a file among the plain files; browsers tell what a file is by its ending there. */
export const offlineMedia = (folder: 'media' | 'files', id: number, size: string | null, type: string) =>
  size === null ? `${folder}/${id}${EXTENSIONS[type] ?? ''}` : `${folder}/${id}/${size}`;

/** Each address of a `srcset` attribute through `map`; widths and densities stay. */
export const mapSrcset = (srcset: string, map: (address: string) => string): string =>
  srcset
    .split(/,\s+/)
    .map((candidate) => {
      const [address = '', ...rest] = candidate.trim().split(/\s+/);
      return [map(address), ...rest].join(' ');
    })
    .join(', ');
