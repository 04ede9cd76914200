const CONJUNCTION = new Intl.ListFormat('en-GB', { type: 'conjunction' });

/** `apples, pears and plums`. */
export const formatList = (words: readonly string[]): string => CONJUNCTION.format(words);

/** The first few of many, in quotation marks: `“One”, “Two”, “Three” and others`. */
export const formatTitles = (titles: readonly string[], max = 3): string =>
  formatList([...titles.slice(0, max).map((t) => `“${t}”`), ...(titles.length > max ? ['others'] : [])]);
