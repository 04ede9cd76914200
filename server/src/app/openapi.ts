import { readFileSync } from 'node:fs';
import joiToJson from 'joi-to-json';
import { PROBLEM_CODES, ROUTES, type RouteName } from '@keyroster/contract';
import { schemasOf } from '@keyroster/contract/schemas';

type Json = Record<string, unknown>;

// The package's types say it has a default export; at run time the module is the function itself.
const parse = joiToJson as unknown as (schema: unknown, as: 'open-api-3.1') => unknown;

/** What routes answer, as JSON Schemas (draft 7) that the build makes from the contract's types. */
const made = JSON.parse(
  readFileSync(new URL('../../../contract/dist/replies.json', import.meta.url), 'utf8'),
) as { replies: Partial<Record<RouteName, Json>>; definitions: Record<string, Json> };

/** The schema of what a route answers, with the definitions it refers to; null where that is no JSON. */
export const replySchema = (name: RouteName): Json | null =>
  made.replies[name] ? { ...made.replies[name], definitions: made.definitions } : null;

/** Draft 7 as OpenAPI 3.1 has it (JSON Schema 2020-12): tuples are prefixes, definitions are components. */
function asOpenApi(schema: unknown): unknown {
  if (Array.isArray(schema)) return schema.map(asOpenApi);
  if (typeof schema !== 'object' || schema === null) return schema;
  const { items, additionalItems, $ref, ...rest } = schema as Json;
  const plain = Object.fromEntries(Object.entries(rest).map(([key, value]) => [key, asOpenApi(value)]));
  return {
    ...plain,
    ...(typeof $ref === 'string' ? { $ref: $ref.replace('#/definitions/', '#/components/schemas/') } : {}),
    ...(Array.isArray(items)
      ? { prefixItems: asOpenApi(items), items: asOpenApi(additionalItems ?? false) }
      : items === undefined
        ? {}
        : { items: asOpenApi(items) }),
  };
}

/** A success as it is described: JSON by its schema, a file, or nothing. */
function success(name: RouteName, status: number | undefined): Json {
  const schema = made.replies[name];
  if (status === 204) return { description: 'Done' };
  if ((schema as Json | undefined)?.['type'] === 'string')
    return { description: 'A page', content: { 'text/html': { schema: { type: 'string' } } } };
  return schema
    ? { description: 'Done', content: { 'application/json': { schema: asOpenApi(schema) } } }
    : { description: 'A file', content: { '*/*': { schema: { type: 'string', format: 'binary' } } } };
}

/** The OpenAPI 3.1 description, made from the contract's table and the Joi schemas. */
export function openApi(publicUrl: string): Json {
  const paths: Record<string, Json> = {};
  for (const name of Object.keys(ROUTES) as RouteName[]) {
    const row = ROUTES[name];
    const { query, body } = schemasOf(name);
    const queryJson = parse(query, 'open-api-3.1') as {
      properties?: Record<string, Json>;
      required?: string[];
    };
    const parameters: Json[] = [
      ...(row.path.includes(':id')
        ? [{ name: 'id', in: 'path', required: true, schema: { type: 'integer', minimum: 1 } }]
        : []),
      ...Object.entries(queryJson.properties ?? {}).map(([key, schema]) => ({
        name: key,
        in: 'query',
        required: queryJson.required?.includes(key) ?? false,
        schema,
      })),
      ...((row.ifMatch ?? row.saves)
        ? [
            {
              name: 'If-Match',
              in: 'header',
              required: row.ifMatch !== 'optional',
              description: row.saves
                ? 'The version that is being changed, or * for whichever it is'
                : 'The version of the post that is being changed',
              schema: { type: 'string' },
            },
          ]
        : []),
    ];
    const content = row.file
      ? {
          'multipart/form-data': {
            schema: {
              type: 'object',
              required: ['file'],
              properties: { file: { type: 'string', format: 'binary' } },
            },
          },
        }
      : body
        ? { 'application/json': { schema: parse(body, 'open-api-3.1') as Json } }
        : null;
    const path = row.path.replace(':id', '{id}');
    paths[path] = {
      ...paths[path],
      [row.method.toLowerCase()]: {
        operationId: name,
        summary: row.summary,
        ...(parameters.length ? { parameters } : {}),
        ...(content ? { requestBody: { required: true, content } } : {}),
        ...(row.who === 'anyone' ? { security: [] } : {}),
        responses: {
          [String(row.status ?? 200)]: success(name, row.status),
          default: {
            description: 'A problem (RFC 9457)',
            content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
          },
        },
      },
    };
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Key Roster',
      version: '0.1.0',
      description: 'The newsroom of a multi-author blog. Sign in with POST /api/session and keep the cookie.',
    },
    servers: [{ url: publicUrl }],
    security: [{ session: [] }],
    paths,
    components: {
      securitySchemes: { session: { type: 'apiKey', in: 'cookie', name: 'key_roster' } },
      schemas: {
        ...Object.fromEntries(
          Object.entries(made.definitions).map(([name, schema]) => [name, asOpenApi(schema) as Json]),
        ),
        Problem: {
          type: 'object',
          required: ['type', 'title', 'status', 'detail', 'code'],
          properties: {
            type: { type: 'string' },
            title: { type: 'string' },
            status: { type: 'integer' },
            detail: { type: 'string' },
            code: { type: 'string', enum: Object.keys(PROBLEM_CODES) },
            fields: {
              type: 'array',
              items: {
                type: 'object',
                properties: { field: { type: 'string' }, sentence: { type: 'string' } },
              },
            },
          },
        },
      },
    },
  };
}
