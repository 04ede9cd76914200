/** Facts in a line, those that there are. */
export const facts = (...parts: readonly (string | null | undefined | false)[]): string =>
  parts.filter(Boolean).join(' · ');
