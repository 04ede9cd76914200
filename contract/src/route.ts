import type { RoleAction } from '@keyroster/core';

export interface RouteRow {
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  path: string;
  /** Who may call it at all; finer permission is the use case's. */
  who: 'anyone' | 'signed in' | RoleAction;
  summary: string;
  /** Success status when it is not 200. */
  status?: 201 | 204;
  ifMatch?: 'required' | 'optional';
  file?: true;
}

/** Every route under /api: one table that server, client, description and tests read. */

/** A row for every route of a feature. */
export type RoutesOf<T> = { readonly [K in keyof T]: RouteRow };
