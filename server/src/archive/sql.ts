/** A piece of SQL and what it is filled with. */
export interface Sql {
  text: string;
  values: unknown[];
}

export const sql = (text: string, ...values: unknown[]): Sql => ({ text, values });

export const join = (parts: readonly Sql[], by: string): Sql => ({
  text: parts.map((p) => p.text).join(by),
  values: parts.flatMap((p) => p.values),
});
