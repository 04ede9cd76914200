import Joi from 'joi';

/** Answers that leaves of schemas take; the first that one takes is used. */
const LEAVES: readonly unknown[] = [
  'word',
  '2099-12-10',
  '08:00',
  '2099-12-10T08:00',
  '2099-12-10T08:00:00Z',
  'somebody@test.example',
  'https://lock.example/',
  '127.0.0.1:8025',
  'Europe/London',
  'a password for tests',
  '/word',
  '#336699',
  '0a1b2c3d-4e5f-4a6b-8c7d-9e0f1a2b3c4d',
  '0123456789abcdef0123456789abcdef0123456789abcdef0123456789abcdef',
  '0123456789abcdef',
  '1|2099-12-10',
  1,
  50,
  1000,
  100_000,
  true,
  [],
  {},
];

/** Where an id stands in a body: `stops.0.postId`. */
export type IdPath = readonly (string | number)[];

export interface Sample {
  body: unknown;
  idPaths: IdPath[];
}

interface Branch {
  schema?: Joi.Schema;
  then?: Joi.Schema;
  otherwise?: Joi.Schema;
}
interface Terms {
  keys?: { key: string; schema: Joi.Schema }[];
  items?: Joi.Schema[];
  matches?: Branch[];
  whens?: Branch[];
}

const termsOf = (schema: Joi.Schema): Terms => (schema as unknown as { $_terms: Terms }).$_terms;

/** Stands wherever a body takes an id, until an id of something is put there. */
export const SOME_ID = 2_000_000_007;

/** Ids have bounds that nothing else has but a version. */
const isId = (schema: Joi.Schema, key: string): boolean =>
  key !== 'version' &&
  fits(schema, SOME_ID) &&
  !fits(schema, 0) &&
  !fits(schema, 1.5) &&
  !fits(schema, 'word');

/**
 * Bodies that a schema takes, made from the schema alone: with everything that it allows, an alternative each, and with
 * `SOME_ID` for every id.
 */
export function sampleBodies(schema: Joi.Schema): Sample[] {
  return variants(schema, '')
    .map((value) => repaired(schema, value))
    .filter((body) => body !== undefined)
    .map((body) => ({ body, idPaths: idPathsIn(body) }));
}

/** Where ids stand in a body. */
export function idPathsIn(value: unknown, path: IdPath = []): IdPath[] {
  if (value === SOME_ID) return [path];
  if (value === null || typeof value !== 'object') return [];
  return Object.entries(value).flatMap(([key, inner]) =>
    idPathsIn(inner, [...path, Array.isArray(value) ? Number(key) : key]),
  );
}

/** A body with something else at a place. */
export function withAt(body: unknown, [first, ...rest]: IdPath, value: unknown): unknown {
  if (first === undefined) return value;
  const copy = Array.isArray(body) ? [...(body as unknown[])] : { ...(body as object) };
  const at = copy as Record<string | number, unknown>;
  at[first] = withAt(at[first], rest, value);
  return copy;
}

function variants(schema: Joi.Schema, key: string): unknown[] {
  const { keys, items, matches, whens } = termsOf(schema);
  if (schema.type === 'object' && keys) {
    const parts = keys.map((part) => [part.key, variants(part.schema, part.key)] as const);
    const most = Math.max(1, ...parts.map(([, values]) => values.length));
    return Array.from({ length: most }, (_, i) =>
      Object.fromEntries(
        parts
          .filter(([, values]) => values.length > 0)
          .map(([name, values]) => [name, values[Math.min(i, values.length - 1)]]),
      ),
    );
  }
  if (schema.type === 'array') {
    if (!items?.length && fits(schema, [SOME_ID]) && !fits(schema, ['word'])) return [[SOME_ID]];
    const inner = (items ?? []).flatMap((item) => variants(item, key).map((value) => repaired(item, value)));
    const made = inner.map((value) => [value]).filter((value) => fits(schema, value));
    return made.length > 0 ? made : [[]];
  }
  const branches = [...(matches ?? []), ...(whens ?? [])];
  if (branches.length > 0)
    return branches.flatMap(({ schema: one, then, otherwise }) =>
      [one, then, otherwise].flatMap((inner) => (inner ? variants(inner, key) : [])),
    );
  if (isId(schema, key)) return [SOME_ID];
  const only = (schema.describe() as { flags?: { only?: boolean }; allow?: unknown[] }).flags?.only;
  if (only)
    return (schema.describe() as { allow: unknown[] }).allow
      .filter((value) => typeof value !== 'object')
      .slice(0, 12);
  const leaf = LEAVES.find((value) => fits(schema, value));
  return leaf === undefined ? [] : [leaf];
}

/** Does a schema take this by itself? One that looks at its neighbours cannot say. */
function fits(schema: Joi.Schema, value: unknown): boolean {
  try {
    return schema.validate(value).error === undefined;
  } catch {
    return true;
  }
}

/** What a schema takes of a body, once the keys that do not go together are left out; undefined: nothing. */
function repaired(schema: Joi.Schema, value: unknown): unknown {
  let body = value;
  for (let tries = 0; tries < 40; tries++) {
    const { error } = schema.validate(body, { abortEarly: true });
    if (!error) return body;
    const { path, context } = error.details[0]!;
    const peers = (context as { present?: string[] } | undefined)?.present;
    const out: IdPath = peers ? [...path, peers.at(-1)!] : path;
    if (out.length === 0) return undefined;
    body = without(body, out);
  }
  return undefined;
}

function without(body: unknown, [first, ...rest]: IdPath): unknown {
  if (first === undefined || body === null || typeof body !== 'object') return body;
  if (Array.isArray(body))
    return rest.length === 0
      ? body.filter((_, i) => i !== first)
      : body.map((item: unknown, i) => (i === first ? without(item, rest) : item));
  const { [first]: at, ...others } = body as Record<string | number, unknown>;
  return rest.length === 0 ? others : { ...others, [first]: without(at, rest) };
}
