import sharp from 'sharp';
import { may, SHAPE_NAMES, sourceOf } from '@keyroster/core';
import type { Queryable } from '../db/connect.js';
import { ProblemError, notFound } from '../http/problem.js';
import type { CurrentPerson } from '../http/current-person.js';
import { factsOf, findPost, type WholePostRow } from '../posts/store.js';
import { drawnCard } from '../work/cards.js';
import { isDrawn } from './pieces.js';
import { type PieceRow } from './piece-store.js';
import type { Message } from '../outlets/transport/transport.js';

/** A piece's card as PNG. The category's hue chooses the palette, so that a category's cards look alike. */
export async function pieceCard(
  db: Queryable,
  piece: Pick<PieceRow, 'blog_id' | 'post_id' | 'words' | 'style' | 'shape'>,
): Promise<Buffer> {
  const post = await db('all_posts as p')
    .leftJoin('categories as c', 'c.id', 'p.category_id')
    .join('blogs as b', 'b.id', 'p.blog_id')
    .where('p.id', piece.post_id)
    .first<{ hue: number | null; title: string }>('c.hue', 'b.title');
  return drawnCard({
    words: piece.words,
    foot: post!.title.toUpperCase(),
    style: piece.style,
    shape: piece.shape,
    palette: post!.hue ?? 0,
  });
}

export async function seePicture(db: Queryable, person: CurrentPerson, id: number): Promise<Buffer> {
  const piece = await db('pieces').where({ blog_id: person.blogId, id }).first<PieceRow | undefined>();
  const post = piece && (await findPost(db, person.blogId, piece.post_id));
  if (!post || !may(person, 'see', factsOf(post))) throw notFound('That piece');
  if (!isDrawn(piece.kind)) throw new ProblemError('invalid', 'This kind of piece has no card.');
  return pieceCard(db, piece);
}

/** The pictures of a gallery, by the id of the library, with the words for those who do not see them. */
export function galleryOf(
  post: Pick<WholePostRow, 'body'>,
  piece: Pick<PieceRow, 'parts'>,
): { media: number; alt: string }[] {
  return sourceOf(post.body)
    .pictures.filter((p) => p.media !== 0)
    .slice(0, piece.parts.length)
    .map(({ media, alt }) => ({ media, alt }));
}

/** Qualities and widths that are tried, in turn, until a picture is as light as its outlet takes. */
const LIGHTER = [
  [85, 1],
  [70, 1],
  [55, 1],
  [45, 0.8],
  [40, 0.6],
  [35, 0.4],
  [30, 0.25],
] as const;

async function lightEnough(
  picture: Message['pictures'][number],
  max: number | null,
): Promise<Message['pictures'][number]> {
  if (max === null || picture.bytes.length <= max) return picture;
  const { width = 1080 } = await sharp(picture.bytes).metadata();
  let bytes = picture.bytes;
  for (const [quality, scale] of LIGHTER) {
    bytes = await sharp(picture.bytes)
      .flatten({ background: '#ffffff' })
      .resize({ width: Math.round(width * scale) })
      .jpeg({ quality })
      .toBuffer();
    if (bytes.length <= max) break;
  }
  return { ...picture, bytes, type: 'image/jpeg', name: picture.name.replace(/\.\w+$/, '.jpg') };
}

/**
 * What goes with a piece, no heavier than its outlet takes: its card, or the pictures of its gallery in the
 * piece's shape.
 */
export async function parcelPictures(
  db: Queryable,
  piece: PieceRow,
  post: WholePostRow,
  max: number | null,
): Promise<Message['pictures']> {
  const pictures = await wholePictures(db, piece, post);
  return Promise.all(pictures.map((p) => lightEnough(p, max)));
}

async function wholePictures(
  db: Queryable,
  piece: PieceRow,
  post: WholePostRow,
): Promise<Message['pictures']> {
  if (isDrawn(piece.kind))
    return [{ bytes: await pieceCard(db, piece), type: 'image/png', alt: piece.alt, name: 'card.png' }];
  if (piece.kind !== 'gallery') return [];
  const pictures: Message['pictures'][number][] = [];
  for (const { media, alt } of galleryOf(post, piece)) {
    const kind = SHAPE_NAMES.includes(piece.shape) ? `${piece.shape}.jpg` : 'page.jpg';
    const size =
      (await db('media_sizes')
        .where({ media_id: media, kind })
        .first<{ bytes: Buffer; type: string } | undefined>('bytes', 'type')) ??
      (await db('media')
        .where({ blog_id: piece.blog_id, id: media })
        .first<{ bytes: Buffer; type: string } | undefined>('bytes', 'type'));
    if (size)
      pictures.push({
        bytes: size.bytes,
        type: size.type,
        alt,
        name: `picture-${media}.${size.type.endsWith('png') ? 'png' : 'jpg'}`,
      });
  }
  return pictures;
}
