import { asProblem } from './problem.js';

describe('what the database refuses', () => {
  // PostgreSQL 15, appendix A: error codes.
  it.each([
    ['53100', 'unavailable', 'is full'],
    ['57P01', 'unavailable', 'cannot be reached'],
    ['23505', 'taken', 'there already'],
    ['22021', 'invalid', 'cannot be stored'],
    ['XX000', 'internal', 'Nothing was changed'],
  ])('as %s is said as what it is to people', (code, problem, words) => {
    const said = asProblem(Object.assign(new Error('of the database'), { code }));
    expect([said.code, said.message]).toEqual([problem, expect.stringContaining(words)]);
  });
});
