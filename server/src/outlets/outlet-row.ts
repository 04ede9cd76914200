import type { OutletView } from '@keyroster/contract';
import type { OutletLimits } from '@keyroster/core';

/** An outlet as its table has it. */
export interface OutletRow {
  id: number;
  blog_id: number;
  name: string;
  slug: string;
  kind: OutletView['kind'];
  protocol: OutletView['protocol'];
  address: string;
  settings: OutletView['settings'];
  limits: OutletLimits;
  voice: string;
  credentials: Buffer | null;
  knows_keys: boolean;
  paused_at: string | null;
  closed_at: string | null;
  failures: number;
  resting_until: string | null;
  version: number;
}
