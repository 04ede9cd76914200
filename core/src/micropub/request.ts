/** Properties of an entry (microformats 2): each a list of values. */
export type Properties = Readonly<Record<string, readonly unknown[]>>;

/** What a writing tool asks for, by Micropub (W3C Recommendation, 23 May 2017). */
export type MicropubRequest =
  | { action: 'create'; entry: Properties }
  | {
      action: 'update';
      url: string;
      replace: Properties;
      add: Properties;
      /** Single values that go. */
      remove: Properties;
      /** Properties that go whole. */
      drop: readonly string[];
    }
  | { action: 'delete' | 'undelete'; url: string };

export type MicropubAnswer = { ok: true; request: MicropubRequest } | { ok: false; sentence: string };

/** More than any tool sends. */
const MAX_VALUES = 200;
/** What is no property of the entry but of the request. */
const OF_REQUEST: ReadonlySet<string> = new Set(['h', 'access_token', 'action', 'url']);
const UNSAFE: ReadonlySet<string> = new Set(['__proto__', 'constructor', 'prototype']);

const no = (sentence: string): MicropubAnswer => ({ ok: false, sentence });
const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/**
 * Reads a form (section 3.3): pairs of name and value as they came, `category[]` for one of several. Pictures that
 * came as files are pairs, too, with the place they were kept at.
 */
export function readForm(pairs: readonly (readonly [string, string])[]): MicropubAnswer {
  const first = (name: string) => pairs.find(([n]) => n === name)?.[1];
  const action = first('action');
  if (action !== undefined) {
    if (action === 'update') return no('An update is sent as JSON.');
    return deletion(action, first('url'));
  }
  const h = first('h') ?? 'entry';
  if (h !== 'entry') return no(`Only entries can be made here (h=entry), and this is “${h.slice(0, 40)}”.`);
  const entry: Record<string, string[]> = {};
  for (const [name, value] of pairs) {
    const property = name.replace(/\[[^\]]*\]$/, '');
    if (OF_REQUEST.has(name) || UNSAFE.has(property) || property === '') continue;
    (entry[property] ??= []).push(value);
  }
  return tooMany(entry) ?? { ok: true, request: { action: 'create', entry } };
}

/** Reads a request in JSON (sections 3.3.1, 3.4 and 3.5). */
export function readJson(body: unknown): MicropubAnswer {
  if (!isRecord(body)) return no('A request is a JSON object.');
  const { action } = body;
  if (action === undefined) {
    const type = Array.isArray(body['type']) ? (body['type'] as unknown[])[0] : undefined;
    if (type !== 'h-entry') return no('Only entries can be made here: “type” must be ["h-entry"].');
    const entry = lists(body['properties'], 'properties');
    if (typeof entry === 'string') return no(entry);
    return tooMany(entry) ?? { ok: true, request: { action: 'create', entry } };
  }
  if (action !== 'update') return deletion(action, body['url']);
  if (typeof body['url'] !== 'string' || body['url'] === '') return no('“url” must say which post is meant.');
  const { replace = {}, add = {}, delete: gone = {} } = body;
  const [replaced, added] = [lists(replace, 'replace'), lists(add, 'add')];
  if (typeof replaced === 'string') return no(replaced);
  if (typeof added === 'string') return no(added);
  const drop = Array.isArray(gone) ? gone : [];
  if (!drop.every((p) => typeof p === 'string'))
    return no('“delete” must be a list of properties, or values.');
  const removed = Array.isArray(gone) ? {} : lists(gone, 'delete');
  if (typeof removed === 'string') return no(removed);
  if (drop.length + [replaced, added, removed].flatMap(Object.keys).length === 0)
    return no('The update says nothing: give “replace”, “add” or “delete”.');
  for (const given of [replaced, added, removed]) {
    const refusal = tooMany(given);
    if (refusal) return refusal;
  }
  return {
    ok: true,
    request: { action: 'update', url: body['url'], replace: replaced, add: added, remove: removed, drop },
  };
}

function deletion(action: unknown, url: unknown): MicropubAnswer {
  if (action !== 'delete' && action !== 'undelete')
    return no('“action” must be update, delete or undelete; nothing else can be done here.');
  return typeof url === 'string' && url !== ''
    ? { ok: true, request: { action, url } }
    : no('“url” must say which post is meant.');
}

/** Properties with a list of values each; or what is wrong with them. */
function lists(value: unknown, name: string): Properties | string {
  if (!isRecord(value)) return `“${name}” must be an object of lists.`;
  const read: Record<string, readonly unknown[]> = {};
  for (const [property, values] of Object.entries(value)) {
    if (UNSAFE.has(property)) continue;
    if (!Array.isArray(values)) return `“${property.slice(0, 40)}” in “${name}” must be a list.`;
    read[property] = values;
  }
  return read;
}

function tooMany(given: Properties): MicropubAnswer | null {
  const values = Object.values(given).reduce((n, list) => n + list.length, 0);
  return values > MAX_VALUES ? no(`More than ${MAX_VALUES} values are more than a post can hold.`) : null;
}
