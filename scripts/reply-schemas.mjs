// Makes JSON Schemas of what every route answers from the contract's own types: contract/dist/replies.json, from which
// the OpenAPI description and the tests of answers read.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { root } from './machine.mjs';

const out = join(root, 'contract', 'dist', 'replies.json');

/**
 * What a feature's routes answer, each as a type of its own. Files and pages of HTML are no JSON: their routes say
 * `never`, which would make the whole interface nothing to the generator.
 */
function typesOf(feature) {
  const source = readFileSync(join(root, 'contract', 'src', feature, 'routes.ts'), 'utf8');
  const imports = source
    .match(/^import [\s\S]*?;$/gm)
    .join('\n')
    .replace(/from '(\.\.?)\//g, (_, up) => `from '../../src/${up === '.' ? `${feature}/` : ''}`);
  const [table, name, body] = /export interface (\w+Routes) \{([\s\S]*?)\n\}/.exec(source);
  const rows = [...body.matchAll(/^ {2}'([\w.]+)': \{[\s\S]*?reply: ([^;}]+)/gm)].filter(
    ([, , reply]) => reply.trim() !== 'never',
  );
  return {
    routes: rows.map(([, route]) => ({ route, type: `Reply_${route.replace('.', '_')}` })),
    source: [
      imports,
      table.replaceAll('reply: never', 'reply: string'),
      ...rows.map(
        ([, route]) => `export type Reply_${route.replace('.', '_')} = ${name}['${route}']['reply'];`,
      ),
    ].join('\n'),
  };
}

const features = readdirSync(join(root, 'contract', 'src')).filter((name) =>
  existsSync(join(root, 'contract', 'src', name, 'routes.ts')),
);

/** The generator makes objects with the keys 0, 1, 2 … of tuples that are computed. */
function withTuples(schema) {
  if (Array.isArray(schema)) return schema.map(withTuples);
  if (typeof schema !== 'object' || schema === null) return schema;
  const keys = Object.keys(schema.properties ?? {});
  if (schema.type === 'object' && keys.length > 0 && keys.every((key) => /^\d+$/.test(key))) {
    const items = keys
      .map(Number)
      .sort((a, b) => a - b)
      .map((key) => withTuples(schema.properties[key]));
    return { type: 'array', items, minItems: items.length, maxItems: items.length };
  }
  return Object.fromEntries(Object.entries(schema).map(([key, value]) => [key, withTuples(value)]));
}

/** Does nothing when the types, told by their fingerprint, are those that the file was made from. */
async function makeReplySchemas(fingerprint) {
  const madeFrom = createHash('sha256')
    .update(fingerprint)
    .update(readFileSync(fileURLToPath(import.meta.url)))
    .digest('hex');
  if (existsSync(out) && JSON.parse(readFileSync(out, 'utf8')).madeFrom === madeFrom) return;
  const { createGenerator } = await import('ts-json-schema-generator');
  const folder = join(root, 'contract', 'dist', 'replies');
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder);
  const found = features.map((feature) => ({ feature, ...typesOf(feature) }));
  for (const { feature, source } of found) writeFileSync(join(folder, `${feature}.ts`), source);
  const generator = createGenerator({
    path: join(folder, '*.ts'),
    tsconfig: join(root, 'contract', 'tsconfig.json'),
    expose: 'export',
    topRef: false,
    jsDoc: 'none',
    additionalProperties: false,
    skipTypeCheck: true,
  });
  const replies = {};
  const definitions = {};
  for (const { route, type } of found.flatMap(({ routes }) => routes)) {
    const { $schema: _, definitions: named, ...reply } = generator.createSchema(type);
    // `object` is any.
    replies[route] = 'not' in reply ? { type: 'object' } : withTuples(reply);
    Object.assign(definitions, withTuples(named ?? {}));
  }
  writeFileSync(out, JSON.stringify({ madeFrom, replies, definitions }));
}

await makeReplySchemas(process.argv[2] ?? '');
