// What the newsroom's first screen loads, and how quickly a key is answered.
import { max, median } from './bench-figures.mjs';

/** Script that the first screen needs before it works: what the sign-in page and then Today load. */
async function firstLoad(browser, port, row) {
  const context = await browser.newContext({ baseURL: `http://127.0.0.1:${port}` });
  const people = await (await context.request.get('/api/demo/people')).json();
  await context.request.post('/api/session', {
    data: { email: people[0].email, password: people[0].password },
  });
  const page = await context.newPage();
  let bytes = 0;
  const sizes = [];
  page.on('response', (response) => {
    if (/\.js$/.test(new URL(response.url()).pathname))
      sizes.push(
        response
          .request()
          .sizes()
          .then((s) => {
            bytes += s.responseBodySize;
          }),
      );
  });
  await page.goto('/desk/today');
  await page.getByRole('region', { name: 'Open slots' }).waitFor();
  await Promise.all(sizes);
  row(
    'first load of the newsroom, signed in, to Today: script over the wire',
    `${(bytes / 1000).toFixed(0)} kB`,
    'nothing',
    'at most 250 kB',
  );
  return page;
}

async function keys(page, row) {
  const drops = [];
  for (const key of ['ArrowRight', 'ArrowLeft', 'ArrowRight', 'ArrowLeft', 'ArrowDown', 'ArrowUp']) {
    if (drops.length === 0) {
      await page.goto('/desk/planner');
      await page
        .getByRole('button', { name: /, pitch, / })
        .first()
        .focus();
      await page.keyboard.press('Space');
    }
    const before = await page.evaluate(() => performance.now());
    await page.keyboard.press(key);
    await page.evaluate(
      () => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))),
    );
    drops.push((await page.evaluate(() => performance.now())) - before);
  }
  row(
    'planner, a key on a lifted card, to the second frame after it',
    `median ${median(drops).toFixed(0)} ms (most ${max(drops).toFixed(0)} ms)`,
    'nothing',
    'within 100 ms',
  );
}

export async function benchFrame(browser, port, row) {
  const page = await firstLoad(browser, port, row);
  await keys(page, row);
  await page.context().close();
}
