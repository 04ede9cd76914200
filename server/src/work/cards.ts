import { LRUCache } from 'lru-cache';
import type { CardAsk } from '@keyroster/core';
import { cardOf } from './computing.js';

/** Cards drawn lately, by what is on them. */
const drawn = new LRUCache<string, Promise<Buffer>>({ max: 200 });

/** A card as PNG, drawn once however many ask for it. */
export function drawnCard(ask: CardAsk): Promise<Buffer> {
  const key = JSON.stringify(ask);
  const known = drawn.get(key) ?? cardOf(ask);
  drawn.set(key, known);
  // What could not be drawn is not remembered.
  known.catch(() => drawn.delete(key));
  return known;
}
