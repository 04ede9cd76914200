// Watches a page while something else is done: how long each answer takes. In a thread of its own, so that what the
// one who measures does meanwhile (writing a megabyte of JSON, reading one) is not counted as the server's.
import { Worker, isMainThread, parentPort, workerData } from 'node:worker_threads';

/** Between two looks. */
const EVERY_MS = 10;
/** Looks that are not counted: the thread's own start. */
const WARM = 10;

/** Begins to watch; what it gives ends that, and gives the time of every answer in ms. */
export async function watch(url) {
  const worker = new Worker(new URL(import.meta.url), { workerData: url });
  const heard = () => new Promise((done, fail) => worker.once('message', done).once('error', fail));
  await heard();
  return async () => {
    const times = heard();
    worker.postMessage('stop');
    return times;
  };
}

async function timed(url) {
  const began = performance.now();
  await (await fetch(url)).arrayBuffer();
  return performance.now() - began;
}

if (!isMainThread) {
  let going = true;
  parentPort.once('message', () => {
    going = false;
  });
  for (let i = 0; i < WARM; i++) await timed(workerData);
  parentPort.postMessage('watching');
  const times = [];
  while (going) {
    times.push(await timed(workerData));
    await new Promise((done) => setTimeout(done, EVERY_MS));
  }
  parentPort.postMessage(times);
}
