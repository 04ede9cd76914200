import type { Effect, EffectKind, EffectOf, Post, PostField } from '@keyroster/core';
import type { Trx } from '../db/connect.js';

/** A post that was written, with what it was before. */
export interface Written {
  blogId: number;
  before: Post;
  /** With the version that stands now. */
  after: Post;
  changed: readonly PostField[];
  /** Who did it; null for the clock. */
  personId: number | null;
  effects: readonly Effect[];
}

/** An effect with the post that it belongs to. */
export type EffectOn<K extends EffectKind> = EffectOf<K> & { on: Written };
export type Subscriber<K extends EffectKind> = (trx: Trx, effects: readonly EffectOn<K>[]) => Promise<void>;

const subscribers = new Map<EffectKind, Subscriber<never>[]>();
const watchers: ((trx: Trx, written: readonly Written[]) => Promise<void>)[] = [];

/**
 * Has a kind of effect carried out, in the transaction of the change that causes it: once for all posts of a
 * change, however many. Posts know nothing of who subscribes.
 */
export function on<K extends EffectKind>(kind: K, subscriber: Subscriber<K>): void {
  subscribers.set(kind, [...(subscribers.get(kind) ?? []), subscriber as unknown as Subscriber<never>]);
}

/** Is notified of every write, whatever its effects. */
export function onWritten(watcher: (typeof watchers)[number]): void {
  watchers.push(watcher);
}

/** The one place that has effects carried out. With `silent`, nobody is told that anything was written. */
export async function carryOut(
  trx: Trx,
  written: readonly Written[],
  { silent = false }: { silent?: boolean } = {},
): Promise<void> {
  const byKind = new Map<EffectKind, EffectOn<EffectKind>[]>();
  for (const on of written)
    for (const effect of on.effects) {
      const known = byKind.get(effect.kind);
      const entry = { ...effect, on } as EffectOn<EffectKind>;
      if (known) known.push(entry);
      else byKind.set(effect.kind, [entry]);
    }
  for (const [kind, effects] of byKind)
    for (const subscriber of subscribers.get(kind) ?? []) await subscriber(trx, effects as never);
  if (!silent) for (const watcher of watchers) await watcher(trx, written);
}
