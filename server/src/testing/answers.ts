import { Ajv, type ValidateFunction } from 'ajv';
import { ROUTES, type RouteName } from '@keyroster/contract';
import { replySchema } from '../app/openapi.js';

const ajv = new Ajv({ strict: false, allErrors: false });
const checks = new Map<RouteName, ValidateFunction | null>();

const patterns = (Object.keys(ROUTES) as RouteName[]).map((name) => ({
  name,
  method: ROUTES[name].method,
  path: new RegExp(`^${ROUTES[name].path.replace(/:\w+/g, '[^/]+')}$`),
}));

function checkOf(name: RouteName): ValidateFunction | null {
  let check = checks.get(name);
  if (check === undefined) {
    const schema = replySchema(name);
    checks.set(name, (check = schema && ajv.compile(schema)));
  }
  return check;
}

interface Answer {
  status: number;
  body: unknown;
  headers: Record<string, string>;
}

const routeOf = (method: string, url: string) => {
  const { pathname } = new URL(url, 'http://localhost');
  // Names before ids: `/api/posts/late` is no post called “late”.
  return patterns
    .filter((p) => p.method === method && p.path.test(pathname))
    .sort((a, b) => a.path.source.split('[^/]+').length - b.path.source.split('[^/]+').length)[0]?.name;
};

/** Is it asked of a route that takes If-Match: *? */
export const takesAnyVersion = (method: string, url: string): boolean => {
  const name = routeOf(method, url);
  return name !== undefined && ROUTES[name].saves !== undefined;
};

/** Holds a successful answer in JSON against the schema that the description gives; a sentence when it differs. */
export function answerError(method: string, url: string, answer: Answer): string | null {
  if (answer.status < 200 || answer.status > 299 || answer.status === 204) return null;
  if (!/^application\/json/.test(answer.headers['content-type'] ?? '')) return null;
  const name = routeOf(method, url);
  const check = name ? checkOf(name) : null;
  if (!check || check(answer.body)) return null;
  const [error] = check.errors!;
  return `${name}${error!.instancePath} ${error!.message} ${JSON.stringify(error!.params)}`;
}
