import { checkPost, CHECKS, USUAL_WEIGHTS, type CheckSettings } from '@keyroster/core';
import type { BlockingLoader } from '../posts/blocking.js';
import { factsFor, loadMaterial } from './check-material.js';

/** Only what blocks is looked at where only that is asked. */
const blocksAlone = (settings: CheckSettings): CheckSettings =>
  Object.fromEntries(
    CHECKS.map((key) => [key, (settings[key] ?? USUAL_WEIGHTS[key]) === 'blocks' ? 'blocks' : 'off']),
  );

/** What holds posts back, a sentence each. What a move demands anyway is not said twice. */
export const blockingOf: BlockingLoader = async (db, blogId, posts) => {
  const material = await loadMaterial(db, blogId, posts);
  const settings = blocksAlone(material.settings);
  return (post) =>
    checkPost(factsFor(post, material), settings)
      .filter((c) => c.state === 'blocks' && c.key !== 'category')
      .map((c) => c.measure);
};
