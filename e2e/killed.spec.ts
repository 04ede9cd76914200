import { spawn, type ChildProcess } from 'node:child_process';
import { createServer, type AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { expect } from '@playwright/test';
import { comeIn, commission, saved, test, textOf } from './people.js';
import { site } from './sites.js';

/** Another process of the same newsroom, at a port of its own, that may be killed and started again. */
class OwnServer {
  private process: ChildProcess | null = null;
  private constructor(readonly port: number) {}

  static async start(): Promise<OwnServer> {
    const probe = createServer().listen(0, '127.0.0.1');
    await new Promise((done) => probe.once('listening', done));
    const { port } = probe.address() as AddressInfo;
    await new Promise((done) => probe.close(done));
    const server = new OwnServer(port);
    await server.start();
    return server;
  }
  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  async start(): Promise<void> {
    const server = spawn(
      process.execPath,
      [fileURLToPath(new URL('../server/dist/main.js', import.meta.url))],
      {
        env: {
          ...site().env,
          PORT: String(this.port),
          PUBLIC_URL: this.url,
        },
        stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      },
    );
    this.process = server;
    await new Promise<void>((done, failed) => {
      server.once('message', () => done());
      server.once('exit', (code) => failed(new Error(`The server ended with ${code}.`)));
    });
  }

  /** As when the power fails. */
  async kill(): Promise<void> {
    const { process: server } = this;
    if (!server || server.exitCode !== null) return;
    const ended = new Promise((done) => server.once('exit', done));
    server.kill('SIGKILL');
    await ended;
  }
}

test('two people write while their server is killed and started again ten times', async ({ browser }) => {
  const server = await OwnServer.start();
  try {
    const chief = await comeIn(browser, 'Mara Winslow', `${server.url}/desk/`);
    const id = await commission(chief, 'Written in a thunderstorm', 'Tobias Orme');
    const address = `${server.url}/desk/posts/${id}`;
    const writer = await comeIn(browser, 'Tobias Orme', address);
    await textOf(writer).click();
    await writer.keyboard.type('First:');
    await writer.keyboard.press('Enter');
    await writer.keyboard.type('Second:');
    await saved(writer);
    await chief.goto(address);
    await textOf(chief).getByText('First:').click();
    await chief.keyboard.press('End');
    await textOf(writer).getByText('Second:').click();
    await writer.keyboard.press('End');

    const words = (who: string) => Array.from({ length: 10 }, (_, i) => ` ${who}${i}`);
    for (let i = 0; i < 10; i++) {
      const typed = Promise.all([
        chief.keyboard.type(words('mara')[i]!, { delay: 20 }),
        writer.keyboard.type(words('tobias')[i]!, { delay: 20 }),
      ]);
      await server.kill();
      await typed;
      await server.start();
    }
    await saved(chief);
    await saved(writer);
    // Where somebody's caret is, their name stands in the page behind the words.
    const whole = [`First:${words('mara').join('')}`, `Second:${words('tobias').join('')}`].map(
      (line) => new RegExp(`^${line}(\u2060.*\u2060)?$`),
    );
    await expect(textOf(chief).locator('p')).toHaveText(whole);
    await expect(textOf(writer).locator('p')).toHaveText(whole);
    // And after a reload, so that it is there and not only on the screen.
    await writer.reload();
    await expect(textOf(writer).locator('p')).toHaveText(whole);
  } finally {
    await server.kill();
  }
});
