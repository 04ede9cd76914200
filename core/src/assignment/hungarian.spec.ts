import munkres from 'munkres-js';
import { bestAssignment } from './hungarian.js';
import { series } from './search.js';

const solveRows = (rows: number[][]) =>
  bestAssignment(rows.length, rows[0]!.length, Float64Array.from(rows.flat()));
const digits = (text: string) =>
  text
    .trim()
    .split('\n')
    .map((line) => line.trim().split(/\s+/).map(Number));

describe('the best assignment', () => {
  // Project Euler, problem 345 (Matrix Sum): the worked example and the problem itself; matrix from memory.
  it('finds the published sums', () => {
    const small = digits(`
        7  53 183 439 863
      497 383 563  79 973
      287  63 343 169 583
      627 343 773 959 943
      767 473 103 699 303`);
    const { total, columnOf } = solveRows(small);
    expect(total).toBe(3315);
    expect([...columnOf].map((c, r) => small[r]![c])).toEqual([863, 383, 343, 959, 767]);
    const large = digits(`
        7  53 183 439 863 497 383 563  79 973 287  63 343 169 583
      627 343 773 959 943 767 473 103 699 303 957 703 583 639 913
      447 283 463  29  23 487 463 993 119 883 327 493 423 159 743
      217 623   3 399 853 407 103 983  89 463 290 516 212 462 350
      960 376 682 962 300 780 486 502 912 800 250 346 172 812 350
      870 456 192 162 593 473 915  45 989 873 823 965 425 329 803
      973 965 905 919 133 673 665 235 509 613 673 815 165 992 326
      322 148 972 962 286 255 941 541 265 323 925 281 601  95 973
      445 721  11 525 473  65 511 164 138 672  18 428 154 448 848
      414 456 310 312 798 104 566 520 302 248 694 976 430 392 198
      184 829 373 181 631 101 969 613 840 740 778 458 284 760 390
      821 461 843 513  17 901 711 993 293 157 274  94 192 156 574
       34 124   4 878 450 476 712 914 838 669 875 299 823 329 699
      815 559 813 459 522 788 168 586 966 232 308 833 251 631 107
      813 883 451 509 615  77 281 613 459 205 380 274 302  35 805`);
    expect(solveRows(large).total).toBe(13938);
  });

  // W. L. Winston, Operations Research: Applications and Algorithms, the Machineco problem; from memory.
  it('finds the least set-up time of four jobs on four machines', () => {
    const hours = [
      [14, 5, 8, 7],
      [2, 12, 6, 5],
      [7, 8, 3, 9],
      [2, 4, 6, 10],
    ];
    expect(40 * 4 - solveRows(hours.map((row) => row.map((h) => 40 - h))).total).toBe(15);
  });

  it('agrees with an independent implementation, and its prices prove it', () => {
    const random = series(7);
    for (let round = 0; round < 40; round++) {
      const [rows, columns] = [1 + Math.floor(random() * 12), 12 + Math.floor(random() * 8)];
      const values = Array.from({ length: rows }, () =>
        Array.from({ length: columns }, () => 1 + Math.floor(random() * 200)),
      );
      const { total, rowPrice, columnPrice } = solveRows(values);
      const theirs = munkres(values.map((row) => row.map((v) => 1000 - v)));
      expect(total).toBe(theirs.reduce((sum, [r, c]) => sum + values[r]![c]!, 0));
      const bound = [...rowPrice, ...columnPrice].reduce((sum, p) => sum + p, 0);
      expect(bound).toBeCloseTo(total, 6);
      for (let r = 0; r < rows; r++)
        for (let c = 0; c < columns; c++)
          expect(rowPrice[r]! + columnPrice[c]!).toBeGreaterThanOrEqual(values[r]![c]! - 1e-6);
    }
  });

  it('leaves a row empty where nothing is worth anything', () => {
    const { columnOf, total } = solveRows([
      [-Infinity, 5],
      [-Infinity, 9],
      [-3, -4],
    ]);
    expect([...columnOf]).toEqual([-1, 1, -1]);
    expect(total).toBe(9);
  });
});
