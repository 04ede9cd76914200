/** What a spreadsheet takes for a formula (OWASP, CSV injection), also behind apostrophes that say it is none. */
const FORMULA = /^'*[=+\-@\t\r]/;

/** A cell of a CSV file that spreadsheets take as text, also where it begins like a formula. */
export const plainCell = (text: string | null): string =>
  text && FORMULA.test(text) ? `'${text}` : (text ?? '');

/** The text of a cell that `plainCell` wrote: an apostrophe before a formula is not part of it. */
export const cellAsWritten = (cell: string): string =>
  cell.startsWith("'") && FORMULA.test(cell) ? cell.slice(1) : cell;
