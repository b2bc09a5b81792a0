/** The quantile of the normal distribution, by halving its distribution function: one call in a while. */
export function normalQuantile(share: number): number {
  let [low, high] = [-8, 8];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (normalShare(middle) < share) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** The normal distribution function (Abramowitz and Stegun, 26.2.17; error below 7.5e-8). */
export function normalShare(x: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(x));
  const tail =
    (Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI)) *
    t *
    (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  return x > 0 ? 1 - tail : tail;
}
