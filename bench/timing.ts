/** The middle one of some numbers. */
export const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]!;

/** Median of several runs after two to warm up, in ms. */
export function time(runs: number, work: () => void): number {
  work();
  work();
  return median(
    Array.from({ length: runs }, () => {
      const started = performance.now();
      work();
      return performance.now() - started;
    }),
  );
}
