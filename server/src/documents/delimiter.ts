const DELIMITERS = [',', ';', '\t', '|'] as const;

/** What parts the cells: as a first line `sep=…` says, else whatever comes most often in the first row. */
export function delimiterOf(text: string): { content: string; delimiter: string } {
  const said = /^sep=(.)\r?\n/i.exec(text);
  if (said) return { content: text.slice(said[0].length), delimiter: said[1]! };
  const heading = text.split(/\r?\n/, 1)[0] ?? '';
  const times = (sign: string) => heading.split(sign).length - 1;
  return { content: text, delimiter: [...DELIMITERS].sort((a, b) => times(b) - times(a))[0]! };
}
