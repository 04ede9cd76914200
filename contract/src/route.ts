import type { RoleAction } from '@keyroster/core';
import type { ChangeKind } from './changes/types.js';

export interface RouteRow {
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  path: string;
  /** Who may call it at all; finer permission is the use case's. */
  who: 'anyone' | 'signed in' | RoleAction;
  summary: string;
  /** Success status when it is not 200. */
  status?: 201 | 204;
  ifMatch?: 'required' | 'optional';
  /**
   * What it changes or removes. The caller says with If-Match which version they saw (`*`: whichever it is), is told
   * the present one where that is another, and the change is written down.
   */
  saves?: ChangeKind;
  file?: true;
}

/** Every route under /api: one table that server, client, description and tests read. */

/** A row for every route of a feature. */
export type RoutesOf<T> = { readonly [K in keyof T]: RouteRow };
