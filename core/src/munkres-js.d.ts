declare module 'munkres-js' {
  /** The assignment of least cost, as pairs of row and column. */
  export default function munkres(costs: number[][]): [number, number][];
}
