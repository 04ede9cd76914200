/** A cell of a CSV file that spreadsheets take as text, also where it begins like a formula (OWASP, CSV injection). */
export const plainCell = (text: string | null): string =>
  text && /^[=+\-@\t\r]/.test(text) ? `'${text}` : (text ?? '');
