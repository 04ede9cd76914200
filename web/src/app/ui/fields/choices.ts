/** Something that can be chosen, and what it is called. */
export interface Choice<T> {
  value: T;
  label: string;
}

/** What a list takes: choices, things with a number and a name, or words that say themselves. */
export type Offered<T> = Choice<T> | { id: T; name: string } | T;

/** What is offered, as choices; `names` says what words are called that do not say themselves. */
export function choicesFrom<T>(
  offered: readonly Offered<T>[],
  names?: Readonly<Record<string, string>>,
): Choice<T>[] {
  return offered.map((one) => {
    if (typeof one === 'object' && one !== null) {
      if ('label' in one) return one;
      if ('name' in one) return { value: one.id, label: one.name };
    }
    return { value: one as T, label: names?.[String(one)] ?? String(one) };
  });
}
