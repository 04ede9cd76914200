import type { Trx } from '@keyroster/server';

export interface Loading {
  trx: Trx;
  blogId: number;
  now: string;
  nowLocal: string;
  people: Map<string, number>;
  categories: Map<string, number>;
  pictures: Map<string, number>;
  formats: Map<string, number>;
  slugs: Set<string>;
}
