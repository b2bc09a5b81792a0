import { airtimeLimits, widthLimits, type LitRadio, type TopThree } from '@/core/fields/combine';
import { bandsTaken, maskWhere, takeFrom, takeTop } from '@/core/fields/byClient';
import { lensOf, owedValues, type Lens, type LensContext } from '@/core/fields/lenses';
import { NO_DISTURBERS } from '@/core/fields/disturber';
import type { OwedValues, OwedZone } from '@/core/fields/owed';
import { BANDS, type WidthMhz } from '@/core/radio/band';
import { disturbersOf } from './disturbers';
import type { LensQuestion, Scene, SceneRadio } from './protocol';

/** The radios of one band, and their places among all. */
export type BandPart = Readonly<{ places: readonly number[]; radios: readonly SceneRadio[]; lit: readonly LitRadio[] }>;

/** Radios band by band, the lowest first; one part, empty, where there are none. */
export function bandParts(radios: readonly SceneRadio[], lit: readonly LitRadio[]): BandPart[] {
  const parts = BANDS.flatMap((band): BandPart[] => {
    const places = radios.flatMap(({ channel }, i) => (channel.band === band ? [i] : []));
    return places.length === 0 ? [] : [{ places, radios: places.map((i) => radios[i]!), lit: places.map((i) => lit[i]!) }];
  });
  return parts.length === 0 ? [{ places: [], radios: [], lit: [] }] : parts;
}

/** What a lens shows: the strongest three, and, computed where they are asked for, its values and what service levels are judged by. */
export type Shown = Readonly<{ top: TopThree; fill: (values: Float32Array) => void; owed: () => OwedValues }>;

type Asked = Readonly<{
  question: LensQuestion;
  lit: readonly LitRadio[];
  mask: Uint8Array;
  levelsAt: (scene: Scene, radios: readonly SceneRadio[]) => Float32Array;
}>;

/** What a lens's kernel computes from. */
function contextOf({ question, mask, levelsAt }: Asked, { radios, lit }: BandPart, top: TopThree, met: Float64Array | null): LensContext {
  const { scene, zones, ignoreBelowDbm, rank, widthMhz, direction, emitters } = question;
  const disturbers = lensOf(question.lens).disturbed ? disturbersOf(scene, emitters, lit) : NO_DISTURBERS;
  const owed: OwedZone[] = zones.flatMap(({ mask: where, level }) => (level === null ? [] : [{ mask: where, level }]));
  let levels: Float32Array | null = null;
  const levelsAtDbm = () => (levels ??= levelsAt(scene, radios));
  const limits = (width: WidthMhz | null) => (width === null ? airtimeLimits(lit, levelsAtDbm()) : widthLimits(lit, levelsAtDbm(), width));
  return { top, radios: lit, ignoreBelowDbm, receiver: scene.receiver, rank, widthMhz, direction, owed, limits, levelsAtDbm, met, mask, disturbers };
}

/**
 * What a lens shows of the radios of one band, or, where the client takes its band by a rule, at each cell what it shows of the band that is taken there.
 * @param tops of each part, the strongest three
 * @param met where given, n x n over all radios: who shares with whom, in cells of the mask
 */
export function shownBy(asked: Asked, parts: readonly BandPart[], tops: readonly TopThree[], met: Float64Array | null): Shown {
  const { question, lit, mask } = asked;
  const lens = lensOf(question.lens);
  const cells = tops[0]!.cells;
  const { bandRule } = question;
  if (bandRule === null || parts.length === 1) {
    const context = contextOf(asked, parts[0]!, tops[0]!, met);
    return { top: tops[0]!, fill: (values) => lens.kernel(context, values), owed: () => owedValues(context) };
  }
  const taken = bandsTaken(bandRule, tops);
  const contexts = parts.map((part, b) =>
    contextOf({ ...asked, mask: maskWhere(mask, taken, b) }, part, tops[b]!, met === null ? null : new Float64Array(part.lit.length ** 2)),
  );
  return {
    top: takeTop(
      taken,
      tops,
      parts.map(({ places }) => places),
    ),
    fill: (values) => {
      const outs = contexts.map((context, b) => {
        const out = new Float32Array(cells);
        lens.kernel(context, out);
        toCommonKinds(lens, parts[b]!.lit, lit, out);
        return out;
      });
      if (met !== null) contexts.forEach((context, b) => spreadMet(context.met!, parts[b]!.places, met, lit.length));
      takeFrom(taken, outs, values);
    },
    owed: () => {
      const of = contexts.map((context) => owedValues(context));
      const merged = (pick: (values: OwedValues) => Float32Array) => takeFrom(taken, of.map(pick), new Float32Array(cells));
      return { snrDb: merged(({ snrDb }) => snrDb), rateMbps: merged(({ rateMbps }) => rateMbps), sharers: merged(({ sharers }) => sharers) };
    },
  };
}

/** Kinds are counted among a band's own radios: from there to their place among the kinds of all. */
function toCommonKinds({ kindsOf }: Lens, own: readonly LitRadio[], all: readonly LitRadio[], values: Float32Array): void {
  if (kindsOf === null) return;
  const common = kindsOf(all).map(({ id }) => id);
  const places = kindsOf(own).map(({ id }) => common.indexOf(id));
  for (let i = 0; i < values.length; i++) if (values[i]! >= 0) values[i] = places[values[i]!]!;
}

/** Who shares with whom in a band, into the table of all radios. */
function spreadMet(own: Float64Array, places: readonly number[], all: Float64Array, n: number): void {
  places.forEach((row, i) => places.forEach((col, j) => (all[row * n + col] = own[i * places.length + j]!)));
}
