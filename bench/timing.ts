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

/** What a million exponentials take, in ms: the same work everywhere, which tells machines apart, and quick hours of one from slow ones. */
export function millionExponentialsMs(): number {
  let sum = 0;
  const ms = time(21, () => {
    for (let i = 0; i < 1e6; i++) sum += Math.exp(-i / 1e6);
  });
  // So that none of it can be left out.
  if (!(sum > 0)) throw new Error('A sum of exponentials is positive.');
  return ms;
}
