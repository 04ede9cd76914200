/** What the tests use of it; the package has no types of its own. */
declare module 'bayes' {
  export interface Classifier {
    docCount: Record<string, number>;
    totalDocuments: number;
    learn(text: string, category: string): Promise<void>;
    categorize(text: string): Promise<string>;
    frequencyTable(tokens: string[]): Record<string, number>;
    tokenProbability(token: string, category: string): number;
  }
  export default function bayes(options: { tokenizer: (text: string) => string[] }): Classifier;
}
