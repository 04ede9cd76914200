/// <reference lib="webworker" />
import { compareBodies, type BodyNode } from '@keyroster/core';

addEventListener('message', ({ data }: MessageEvent<{ id: number; before: BodyNode; after: BodyNode }>) => {
  postMessage({ id: data.id, blocks: compareBodies(data.before, data.after) });
});
