/** How much two kinds of area touch: shared cell sides, `touching[a * kinds + b]`, symmetric. NaN cells touch nothing. */
export function touchingOf(values: Float32Array, cols: number, kinds: number): Float64Array {
  const touching = new Float64Array(kinds * kinds);
  const count = (a: number, b: number) => {
    if (a === b || !(a >= 0) || !(b >= 0)) return;
    touching[a * kinds + b]!++;
    touching[b * kinds + a]!++;
  };
  for (let i = 0; i < values.length; i++) {
    if ((i + 1) % cols !== 0) count(values[i]!, values[i + 1]!);
    if (i + cols < values.length) count(values[i]!, values[i + cols]!);
  }
  return touching;
}

/** How far apart two colours look: a weighted distance in RGB (the eye is most sensitive to green), good enough to tell tints apart. */
export function colourDistance(a: string, b: string): number {
  const channel = (hex: string, i: number) => parseInt(hex.slice(2 * i, 2 * i + 2), 16);
  return Math.sqrt([2, 4, 3].reduce((sum, weight, i) => sum + weight * (channel(a, i) - channel(b, i)) ** 2, 0));
}

/**
 * A tint for each kind, so that areas that touch look different: kinds with most border choose first, each takes the tint that is farthest
 * from those of its neighbours, of equals the one used least, then the first. As long as there are tints enough no two kinds have the same.
 * A kind that keeps its tint (`kept`) has chosen already.
 */
export function assignTints(touching: Float64Array, kinds: number, palette: readonly string[], kept: ReadonlyArray<number | null> = []): number[] {
  const tints: Array<number | null> = Array.from({ length: kinds }, (_, kind) => kept[kind] ?? null);
  const uses = palette.map((_, tint) => tints.filter((taken) => taken === tint).length);
  const border = Array.from({ length: kinds }, (_, a) => touching.subarray(a * kinds, (a + 1) * kinds).reduce((sum, sides) => sum + sides, 0));
  const order = Array.from({ length: kinds }, (_, kind) => kind).sort((a, b) => border[b]! - border[a]! || a - b);
  for (const kind of order) {
    if (tints[kind] !== null) continue;
    const near = order.filter((other) => touching[kind * kinds + other]! > 0 && tints[other] !== null).map((other) => palette[tints[other]!]!);
    let best = 0;
    let bestScore = -Infinity;
    palette.forEach((colour, tint) => {
      if (kinds <= palette.length && uses[tint]! > 0) return;
      const apart = near.length === 0 ? 0 : Math.min(...near.map((other) => colourDistance(colour, other)));
      const score = apart - uses[tint]! * 1e-3;
      if (score > bestScore) [best, bestScore] = [tint, score];
    });
    tints[kind] = best;
    uses[best]!++;
  }
  return tints as number[];
}
