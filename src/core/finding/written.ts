import { parseLength } from '../units/length';

/** A word on a drawing: the middle of where it stands, and how high its letters are, in px. */
export type WrittenWord = Readonly<{ text: string; x: number; y: number; heightPx: number }>;

/** Straight lines as x, y of both ends in turn, in px. */
export type Straights = Float64Array;

/** A scale read from lengths that are written beside what they measure: how many agree on it. */
export type ReadScale = Readonly<{ pxPerM: number; count: number }>;

/** Of what measures a length, the middle lies within so many letters' heights of the word. */
const BESIDE_HEIGHTS = 4;
/** Lengths that agree within this are of one scale. */
const AGREE = 0.01;
/** One length alone agrees with some line by chance. */
const LEAST = 2;
/** No plan is drawn at fewer px a metre than this, or at more. */
const PX_PER_M = { min: 2, max: 4000 };

/**
 * The scale of a drawing by the lengths written on it: each is held against every straight line whose middle is beside it, and the ratio on which
 * most of the words agree is taken. Null where fewer than two agree.
 */
export function scaleByWords(words: readonly WrittenWord[], straights: Straights): ReadScale | null {
  const ratios: Array<{ log: number; word: number }> = [];
  words.forEach(({ text, x, y, heightPx }, word) => {
    const lengthM = writtenLengthM(text);
    if (lengthM === null) return;
    const reach = BESIDE_HEIGHTS * heightPx;
    for (let s = 0; s + 3 < straights.length; s += 4) {
      const [ax, ay, bx, by] = [straights[s]!, straights[s + 1]!, straights[s + 2]!, straights[s + 3]!];
      if (Math.abs((ax + bx) / 2 - x) > reach || Math.abs((ay + by) / 2 - y) > reach) continue;
      const pxPerM = Math.hypot(bx - ax, by - ay) / lengthM;
      if (pxPerM >= PX_PER_M.min && pxPerM <= PX_PER_M.max) ratios.push({ log: Math.log(pxPerM), word });
    }
  });
  ratios.sort((p, q) => p.log - q.log);
  let best: { from: number; to: number; count: number } | null = null;
  const votes = new Map<number, number>();
  for (let from = 0, to = 0; to < ratios.length; to++) {
    votes.set(ratios[to]!.word, (votes.get(ratios[to]!.word) ?? 0) + 1);
    for (; ratios[to]!.log - ratios[from]!.log > AGREE; from++) {
      const { word } = ratios[from]!;
      const left = votes.get(word)! - 1;
      if (left === 0) votes.delete(word);
      else votes.set(word, left);
    }
    if (best === null || votes.size > best.count) best = { from, to, count: votes.size };
  }
  if (best === null || best.count < LEAST) return null;
  return { pxPerM: Math.exp(ratios[(best.from + best.to) >> 1]!.log), count: best.count };
}

/** Whole numbers of three to six digits are millimetres on a plan; what has a point is metres; feet and inches say so. Null for any other word. */
export function writtenLengthM(text: string): number | null {
  const word = text.trim();
  const bare = word.replace(/[\s\u2009\u00a0'.,](?=\d{3}$)/, '');
  if (/^[1-9]\d{2,5}$/.test(bare) && !/[.']/.test(word)) return Number(bare) / 1000;
  const lengthM = /^\d{1,3}[.,]\d{1,3}$/.test(word) || /(m|cm|mm|ft|in|'|"|′|″)$/i.test(word) ? parseLength(word, 'metric') : null;
  return lengthM !== null && lengthM >= 0.2 && lengthM <= 999 ? lengthM : null;
}
