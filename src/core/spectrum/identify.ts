import { CCA_DBM } from '../radio/sharing';
import type { Burst, Look } from './bursts';
import { dutyOf, lasts, median, PROFILES, type Feature } from './profiles';
import { SIGNAL_KINDS, type SignalKind } from './signal';

/** One measured number beside what the kind would show: how many of its usual deviations they are apart. */
export type Evidence = Readonly<{ feature: Feature; value: number; usual: number; off: number }>;

/** What is on the air, as far as it can be told: a kind and its likelihood, or not known. */
export type Identified = Readonly<{
  kind: SignalKind | 'not known';
  likelihood: number;
  evidence: readonly Evidence[];
  /** Of the bursts that it explains: how many, where, how strong while it is on the air, and the share of time. */
  bursts: number;
  centreMhz: number;
  fromMhz: number;
  toMhz: number;
  levelDbm: number;
  duty: number;
  /** The next best kind, and its likelihood. */
  second: Readonly<{ kind: SignalKind; likelihood: number }> | null;
}>;

/** Frames of Wi-Fi that were not decoded: as wide as a channel, and never long (IEEE 802.11-2020, table 9-34: 5.484 ms at most). */
const isFrame = ({ widthMhz, lengthUs, wentMhz }: Burst): boolean => widthMhz >= 13 && lengthUs <= 5600 && wentMhz < 6;

/** Bursts less frames that were not decoded, and what of their skirts stood alone beside them: at the same time, near by and far weaker. */
function withoutFrames(bursts: readonly Burst[]): Burst[] {
  const frames = bursts.filter(isFrame);
  return bursts.filter(
    (burst) =>
      burst.levelDbm >= LEAST_TOLD_DBM &&
      !isFrame(burst) &&
      !frames.some(
        (frame) =>
          burst.fromUs < frame.fromUs + frame.lengthUs &&
          burst.fromUs + burst.lengthUs > frame.fromUs &&
          burst.lengthUs <= frame.lengthUs + 100 &&
          burst.levelDbm < frame.levelDbm - 12 &&
          Math.abs(burst.centreMhz - frame.centreMhz) < 1.8 * frame.widthMhz,
      ),
  );
}

/** As likely as what is 3.3 deviations off: beyond, nothing known is it. */
const UNKNOWN = Math.exp(-0.5 * 3.3 ** 2);
/** Less likely kinds are not kept or drawn: a place would be looked for of what is not there. */
export const WORTH_TELLING = 0.5;
/** Fainter bursts, in dBm, are as likely the flicker of distant networks: nothing is told of them. */
const LEAST_TOLD_DBM = -88;
/** What lies further below a signal than this, in dB, among its own frequencies, is taken for its edge. */
const EDGE_DB = 20;
/** Something weaker than this share of the time and seen less often than this is not told. */
const LEAST_DUTY = 0.01;
const LEAST_BURSTS = 12;

function ofKind(kind: SignalKind, bursts: readonly Burst[], look: Look) {
  const { own, fixed, cuts, least, measured } = PROFILES[kind];
  let mine = bursts.filter((burst) => (!burst.cut || cuts === true || lasts(burst, look)) && own(burst, look));
  if (fixed && mine.length > 0) {
    // The frequency on which most of the time is.
    const time = new Map<number, number>();
    for (const { centreMhz, lengthUs } of mine) time.set(Math.round(centreMhz), (time.get(Math.round(centreMhz)) ?? 0) + lengthUs);
    const around = (mhz: number) => [mhz - 1, mhz, mhz + 1].reduce((sum, one) => sum + (time.get(one) ?? 0), 0);
    const at = [...time.keys()].reduce((best, mhz) => (around(mhz) > around(best) ? mhz : best));
    mine = mine.filter(({ centreMhz }) => Math.abs(centreMhz - at) <= 1.6);
  }
  if (mine.length < least) return null;
  const evidence = measured(mine, look).map(([feature, value, [usual, off]]): Evidence => ({
    feature,
    value,
    usual,
    off: Number.isFinite(off) ? off : 9,
  }));
  return { kind, mine, evidence, weight: Math.exp(-0.5 * evidence.reduce((sum, { off }) => sum + off ** 2, 0)) };
}

function describe(bursts: readonly Burst[], look: Look) {
  const edges = bursts.map(
    ({ centreMhz, widthMhz, wentMhz }) => [centreMhz - (widthMhz + wentMhz) / 2, centreMhz + (widthMhz + wentMhz) / 2] as const,
  );
  return {
    bursts: bursts.length,
    centreMhz: median(bursts.map(({ centreMhz }) => centreMhz)),
    fromMhz: edges.reduce((low, [from]) => Math.min(low, from), Infinity),
    toMhz: edges.reduce((high, [, to]) => Math.max(high, to), -Infinity),
    levelDbm: median(bursts.map(({ levelDbm }) => levelDbm)),
    duty: dutyOf(bursts, look),
  };
}

/**
 * What is on the air in a look: the likeliest kind takes the bursts that speak for it, what is left is looked at again, and what nothing known explains is said to be not known. Likelihoods
 * are of one kind against all others and none, for the bursts that it takes.
 */
export function identify(all: readonly Burst[], look: Look): Identified[] {
  let found: Identified[] = [];
  let left = withoutFrames(all);
  let kinds: readonly SignalKind[] = SIGNAL_KINDS;
  for (;;) {
    const candidates = kinds.flatMap((kind) => ofKind(kind, left, look) ?? []);
    const best = candidates.reduce<(typeof candidates)[number] | null>((top, one) => (top === null || one.weight > top.weight ? one : top), null);
    if (best === null || best.weight < UNKNOWN) break;
    // Only those that would take the same bursts stand against it.
    const mine = new Set(best.mine);
    const rivals = candidates.filter((one) => one.kind !== best.kind && one.mine.some((burst) => mine.has(burst)));
    const sum = best.weight + UNKNOWN + rivals.reduce((total, { weight }) => total + weight, 0);
    const second = rivals.reduce<(typeof rivals)[number] | null>((top, one) => (top === null || one.weight > top.weight ? one : top), null);
    const newest: Identified = {
      kind: best.kind,
      likelihood: best.weight / sum,
      evidence: best.evidence,
      ...describe(best.mine, look),
      second: second === null ? null : { kind: second.kind, likelihood: second.weight / sum },
    };
    found = [...found.filter((one) => !isPieceOf(one, newest)), newest];
    left = left.filter((burst) => !mine.has(burst));
    // What remains of one that comes and goes, or was cut by something else, is not another of its kind.
    kinds = kinds.filter((kind) => kind !== best.kind || PROFILES[kind].fixed);
    left = left.filter((burst) => !found.some((one) => leftover(burst, one)));
  }
  const rest = describe(
    // Fainter ones may be frames that nobody could decode.
    left.filter(({ cut, levelDbm }) => !cut && levelDbm >= CCA_DBM.preamble),
    look,
  );
  if (rest.duty >= LEAST_DUTY && rest.bursts >= LEAST_BURSTS) found.push({ kind: 'not known', likelihood: 1, evidence: [], ...rest, second: null });
  return found;
}

/** Whether what was told before is but the faint edge of something told now: all of it lies within its frequencies, far weaker. Nobody could tell such a one beside it. */
const isPieceOf = (one: Identified, { kind, fromMhz, toMhz, levelDbm }: Identified): boolean =>
  kind !== 'hopper' && kind !== 'advertising' && one.levelDbm < levelDbm - EDGE_DB && one.fromMhz >= fromMhz && one.toMhz <= toMhz;

/** A piece that another signal, or a decoded frame, cut off from one that was told: within its frequencies, and no stronger. A hopper's are anywhere; an advertiser leaves none. */
function leftover({ centreMhz, levelDbm }: Burst, { kind, fromMhz, toMhz, levelDbm: toldDbm }: Identified): boolean {
  if (kind === 'advertising' || levelDbm > toldDbm + 6) return false;
  return kind === 'hopper' ? levelDbm >= toldDbm - 40 : centreMhz >= fromMhz - 2 && centreMhz <= toMhz + 2;
}
