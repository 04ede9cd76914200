import type { PieceKind } from '../piece.js';
import type { Rule } from '../maker.js';
import { shortPost } from './short-post.js';
import { thread } from './thread.js';
import { pictureCard } from './picture-card.js';
import { gallery } from './gallery.js';
import { professionalPost } from './professional-post.js';
import { newsletterItem } from './newsletter-item.js';
import { newsletterLetter } from './newsletter-letter.js';
import { digest } from './digest.js';
import { quoteCard } from './quote-card.js';
import { checklist } from './checklist.js';
import { question } from './question.js';
import { videoCaption } from './video-caption.js';

/** The rule of every kind. */
export const RULES: Record<PieceKind, Rule> = {
  'short post': shortPost,
  thread,
  'picture card': pictureCard,
  gallery,
  'professional post': professionalPost,
  'newsletter item': newsletterItem,
  'newsletter letter': newsletterLetter,
  digest,
  'quote card': quoteCard,
  checklist,
  question,
  'video caption': videoCaption,
};
