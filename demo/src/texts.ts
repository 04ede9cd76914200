import { readFileSync } from 'node:fs';

/** One text of the demo, as written in demo/texts. */
export interface DemoText {
  title: string;
  key: string | null;
  by: string;
  excerpt: string;
  picture: string | null;
  markdown: string;
}

export interface DemoPitch {
  category: string;
  by: string;
  age: number;
  title: string;
  thought: string;
  rating: number | null;
  /** `on 12-31`, `not before 12-01, not after 02-28`: the next such days from the day of loading. */
  dateConstraint: string;
}

/** Straight quotes of the source files as a printer would set them. */
const setQuotes = (text: string) =>
  text
    .replace(/(^|[\s(*[])"/gm, '$1“')
    .replace(/"/g, '”')
    .replace(/(^|[\s(])'/gm, '$1‘')
    .replace(/'/g, '’');

const folder = new URL('../texts/', import.meta.url);

/** `=== Title`, a head of lines, `---`, then Markdown. */
export function readTexts(name: string): DemoText[] {
  return setQuotes(readFileSync(new URL(`${name}.md`, folder), 'utf8'))
    .split(/^=== /m)
    .slice(1)
    .map((part) => {
      const [head = '', ...rest] = part.split(/^---$/m);
      const [title = '', ...lines] = head.trim().split('\n');
      const field = (label: string) =>
        lines
          .find((l) => l.startsWith(label))
          ?.slice(label.length)
          .trim() ?? null;
      const excerpt = lines.find((l) => !/^(key|picture): |^by /.test(l)) ?? '';
      return {
        title: title.trim(),
        key: field('key: '),
        by: field('by ') ?? '',
        excerpt: excerpt.trim(),
        picture: field('picture: '),
        markdown: rest.join('---').trim(),
      };
    });
}

export function readPitches(): DemoPitch[] {
  return setQuotes(readFileSync(new URL('pitches.txt', folder), 'utf8'))
    .trim()
    .split('\n')
    .map((line) => {
      const [category = '', by = '', age = '0', title = '', thought = '', rating = '', dateConstraint = ''] =
        line.split('|').map((part) => part.trim());
      return {
        category,
        by,
        age: Number(age),
        title,
        thought,
        rating: rating ? Number(rating) : null,
        dateConstraint,
      };
    });
}
