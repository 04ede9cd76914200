import type { PostChanges } from '@keyroster/contract';
import { schemasOf } from '@keyroster/contract/schemas';
import { ProblemError } from '../http/problem.js';

/** Fields as a change of a post takes them; throws what is wrong with them, in a sentence. */
export function checkedFields(fields: PostChanges): PostChanges {
  if (Object.keys(fields).length === 0) return fields;
  const { value, error } = schemasOf('posts.change').body!.validate(fields, {
    errors: { wrap: { label: '“' as '"' } },
  }) as { value: PostChanges; error?: Error };
  if (error) throw new ProblemError('invalid', `${error.message.replace(/[“"]([^“"]+)[“"]/g, '“$1”')}.`);
  return value;
}
