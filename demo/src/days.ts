/** An instant so many days before another. */
export const daysBefore = (instant: string, days: number) =>
  new Date(Date.parse(instant) - days * 86_400_000).toISOString();
