/** Places of readings, and of which radio each is: shadows of different radios have nothing in common. */
export type Places = Readonly<{ xM: Float64Array; yM: Float64Array; radio: Int32Array }>;

/** 0, 1, 2 and so on. */
export function countUp(count: number): Int32Array {
  const all = new Int32Array(count);
  for (let i = 0; i < count; i++) all[i] = i;
  return all;
}

/** The readings of each radio. */
export function ofEachRadio({ radio }: Pick<Places, 'radio'>): Map<number, Int32Array> {
  const lists = new Map<number, number[]>();
  radio.forEach((r, i) => {
    const own = lists.get(r);
    if (own === undefined) lists.set(r, [i]);
    else own.push(i);
  });
  return new Map([...lists].map(([r, own]) => [r, Int32Array.from(own)]));
}
