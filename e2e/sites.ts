/** A newsroom with the demo, and the outlets that it knows. */
interface Site {
  url: string;
  /** What its server was started with, for a test that has a server of its own to kill. */
  env: Record<string, string>;
  standins: string;
}

const given = process.env['E2E_SITES'];
if (!given) throw new Error('E2E_SITES is not set: run these through npm test, or npm test browser.');
export const sites = JSON.parse(given) as readonly Site[];

/** The one that this worker has for itself. */
export const site = (): Site => sites[Number(process.env['TEST_PARALLEL_INDEX'] ?? 0)]!;
