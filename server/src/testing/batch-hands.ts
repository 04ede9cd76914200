import type { BatchItemView, BatchPreview, BatchView, PostView } from '@keyroster/contract';
import type { BatchChange } from '@keyroster/core';
import { applyBatch } from '../archive/apply.js';
import type { Newsroom, Who } from './newsroom.js';

/** What specs of batches do again and again, in the newsroom of the spec. */
export const batchHands = (newsroom: () => Newsroom) => {
  const hands = {
    see: (id: number): Promise<PostView> => newsroom().see('chief', id),

    async preview(changes: BatchChange[], of: object, who: Who = 'chief'): Promise<BatchPreview> {
      return (await newsroom().call(who, 'post', '/api/batches', { changes, ...of })).body as BatchPreview;
    },

    async apply(id: number, who: Who = 'chief'): Promise<BatchView> {
      const asked = await newsroom().call(who, 'post', `/api/batches/${id}/apply`, {});
      if (asked.status !== 201) throw new Error(asked.text);
      await applyBatch(newsroom().db, id);
      return (await newsroom().call('chief', 'get', `/api/batches/${id}`)).body as BatchView;
    },

    async back(id: number, force = false): Promise<BatchPreview> {
      return (await newsroom().call('chief', 'post', `/api/batches/${id}/back`, { force }))
        .body as BatchPreview;
    },

    revert: async (id: number, force = false): Promise<BatchView> =>
      hands.apply((await hands.back(id, force)).id),

    /** What a batch says of its posts in a state: title and sentence. */
    async sentencesOf(id: number, state: string): Promise<[string, string | null][]> {
      const items = await newsroom().call('chief', 'get', `/api/batches/${id}/items?state=${state}`);
      return (items.body as BatchItemView[]).map((i) => [i.title, i.sentence]);
    },

    /** Posts with some text, drafted by the managing editor. */
    async drafts(n: number, title = 'Stern gear'): Promise<number[]> {
      const room = newsroom();
      const ids: number[] = [];
      for (let i = 1; i <= n; i++) {
        const post = await room.pitch('chief', `${title} ${i}`, { categoryId: 1, bylineId: room.ids.chief });
        await room.move('chief', post.id, { to: 'commissioned' });
        await room.write('chief', post.id, `The gland drips, number ${i}.`);
        ids.push(post.id);
      }
      return ids;
    },
  };
  return hands;
};
