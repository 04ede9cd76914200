/** The parts of the statistics package that checks compare with. */
declare module 'jstat' {
  export const jStat: {
    /** With 1 and 1: Hyndman and Fan's type 7. */
    quantiles(values: readonly number[], at: readonly number[], alphap: number, betap: number): number[];
    spearmancoeff(a: readonly number[], b: readonly number[]): number;
  };
}
