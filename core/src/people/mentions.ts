/** A name that a text calls: `text.slice(from, to)` is the name with its @. */
export interface Mention<P> {
  person: P;
  from: number;
  to: number;
}

const WORDLY = /[\p{L}\p{M}\p{N}_]/u;
const plain = (text: string) => text.toLowerCase();

/** By what people can be called: the whole name, and a first name that only one person has. */
function callings<P extends { name: string }>(people: readonly P[]): { calling: string; person: P }[] {
  const first = (p: P) => p.name.trim().split(/\s+/)[0] ?? '';
  const bearers = new Map<string, number>();
  for (const p of people) bearers.set(plain(first(p)), (bearers.get(plain(first(p))) ?? 0) + 1);
  return people
    .flatMap((person) => [
      { calling: person.name.trim(), person },
      ...(bearers.get(plain(first(person))) === 1 ? [{ calling: first(person), person }] : []),
    ])
    .filter(({ calling }) => calling !== '')
    .sort((a, b) => b.calling.length - a.calling.length);
}

/**
 * Whom a text mentions, in order: an @ at the start of a word and then a name, `@Ann Lee`, or a first name that only
 * one person has, `@ann`. The longest name that fits counts; the address `post@ann.example` calls nobody.
 */
export function mentionsIn<P extends { name: string }>(text: string, people: readonly P[]): Mention<P>[] {
  if (!text.includes('@')) return [];
  const names = callings(people);
  const found: Mention<P>[] = [];
  for (let at = text.indexOf('@'); at >= 0; at = text.indexOf('@', at + 1)) {
    const before = [...text.slice(Math.max(0, at - 2), at)].at(-1) ?? '';
    if (WORDLY.test(before)) continue;
    const called = names.find(({ calling }) => {
      const end = at + 1 + calling.length;
      return (
        plain(text.slice(at + 1, end)) === plain(calling) &&
        !WORDLY.test(String.fromCodePoint(text.codePointAt(end) ?? 32))
      );
    });
    if (!called) continue;
    const to = at + 1 + called.calling.length;
    found.push({ person: called.person, from: at, to });
    at = to - 1;
  }
  return found;
}

/** What is typed of a name at the end of a text, `wr` after `ask @wr`; null where nobody is being called. */
export function callingAt(text: string): string | null {
  const match = /(?:^|[^\p{L}\p{M}\p{N}_])@([\p{L}\p{M}'’ -]{0,40})$/u.exec(text);
  return match && !match[1]!.startsWith(' ') ? match[1]! : null;
}
