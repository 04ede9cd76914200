/** What the tests use of it; the package has no types of its own. */
declare module 'tiny-tfidf' {
  export class Corpus {
    constructor(names: string[], texts: string[], useDefaultStopwords?: boolean, customStopwords?: string[]);
  }
  export class Similarity {
    constructor(corpus: Corpus);
    getDistanceMatrix(): { identifiers: string[]; matrix: number[][] };
  }
}
