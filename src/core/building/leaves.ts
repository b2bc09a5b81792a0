/** Wider than this a door has two leaves, hung at both jambs, in m. */
const DOUBLE_M = 1.4;

/** A door's leaf: where along the wall it hangs and how wide it is, in m; `way` it closes, 1 towards the wall's end B. */
export type Leaf = Readonly<{ atM: number; way: 1 | -1; widthM: number }>;

/** The leaves of a door, as the trade draws them: one, or two that meet in the middle. */
export function leavesOf({ atM, widthM, hinge }: Readonly<{ atM: number; widthM: number; hinge: 'a' | 'b' }>): Leaf[] {
  const [atA, atB] = [
    { atM, way: 1 },
    { atM: atM + widthM, way: -1 },
  ] as const;
  if (widthM > DOUBLE_M) return [atA, atB].map((jamb) => ({ ...jamb, widthM: widthM / 2 }));
  return [{ ...(hinge === 'a' ? atA : atB), widthM }];
}
