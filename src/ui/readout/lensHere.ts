import { clientTypesOf, modelsOf, type Design } from '@/core/design/design';
import { levelsOwedAt } from '@/core/design/service';
import { lensOf } from '@/core/fields/lenses';
import { metByWidth } from '@/core/fields/heard';
import { NO_INTERFERER_DBM, interferersAt } from '@/core/fields/interference';
import { lensAt, standAt, stepAtStand, type SpotRadio } from '@/core/fields/spot';
import { cellAt } from '@/core/geometry/grid';
import type { PointM } from '@/core/geometry/point';
import { radioModelOf } from '@/core/radio/catalogue';
import { channelLabel } from '@/core/radio/channel';
import { evenShare } from '@/core/radio/sharing';
import { disturbersAt } from '@/engine/disturbers';
import { emittersOf, floorScene } from '@/engine/scene';
import { signed } from '../state/format';
import { asideOf, emittersCounted } from '../state/sweptAsked';
import { apsHeard, standingChoice } from '../state/heardFrom';
import { bandsAsked, ofBandTaken, type BandAsked } from '../state/bandsAsked';
import type { Place } from '../state/selectors';
import type { Session } from '../state/sessionStore';
import type { MapResult } from '../state/useLens';

type Asked = BandAsked &
  Pick<Session, 'lens' | 'source' | 'countEmitters' | 'heardFrom' | 'ignoreBelowDbm' | 'rank' | 'widthMhz' | 'direction' | 'clientId'>;

/** Of several interferers so many are named beside the strongest. */
const NAMED_BESIDE = 3;

/** As long as an emitter is the same, so is this: what is known between two of them holds. */
const spotRadios = new WeakMap<ReturnType<typeof emittersOf>[number], SpotRadio>();
function spotRadioOf(design: Design, emitter: ReturnType<typeof emittersOf>[number]): SpotRadio {
  const known = spotRadios.get(emitter);
  if (known !== undefined) return known;
  const { of, ...radio } = emitter;
  const model = modelsOf(design)(of.modelId);
  const made = { ...radio, key: of.id, name: of.name, streams: radioModelOf(model, radio.channel.band)!.streams, generation: model.generation };
  spotRadios.set(emitter, made);
  return made;
}

/** What the lens shows at a spot, in words; empty for lenses whose answer stands in the readout's lines. */
export function lensHere(design: Design, place: Place, at: PointM, asked: Asked): string {
  const lens = lensOf(asked.lens);
  if (lens.id === 'signal' || (lens.show === 'tints' && lens.id !== 'service')) return '';
  const client = clientTypesOf(design)(asked.clientId);
  const scene = floorScene(design, place.floor, client);
  const from = standingChoice(asked.heardFrom, design);
  const { medium, receiver } = scene;
  const spot = { ...at, zM: scene.planeZM };
  const byBand = bandsAsked(asked, client).map((band) => {
    const emitters = emittersOf(design, apsHeard(from, design, place.around, band), [band]);
    const radios = emitters.map((emitter) => spotRadioOf(design, emitter));
    return { emitters, stand: standAt(medium, radios, spot, receiver) };
  });
  const { emitters, stand } = ofBandTaken(client, byBand, (one) => one.stand.top.level[0]!) ?? {
    emitters: [],
    stand: standAt(medium, [], spot, receiver),
  };
  if (lens.asks === 'width') {
    const met = metByWidth(medium, emitters, spot, receiver, asked.ignoreBelowDbm).filter(({ count }) => count !== null);
    return met.length === 0
      ? ''
      : `met in ${met.map(({ widthMhz }) => widthMhz).join(' / ')} MHz: ${met.map(({ count }) => count).join(' / ')} radios`;
  }
  const owed = levelsOwedAt(design, place.floor.id, at);
  const found = emittersCounted(design, asked, client);
  const value = lensAt(lens, stand, owed, { ...asked, receiver }, disturbersAt(medium, found, stand.lit, spot, receiver));
  if (Number.isNaN(value)) return lens.id === 'service' ? 'no service level is owed here' : `${lens.label}: nothing is claimed here`;
  // What stands for nothing is no level.
  if (lens.id === 'interference' && value <= NO_INTERFERER_DBM) return 'Interference: no other radio in this channel';
  if (lens.id === 'interference') {
    const [first, ...rest] = interferersAt(stand.top, stand.lit, 0).map(({ radio, dbm }) => {
      const { name, channel } = stand.lit[radio]!;
      return `${name} on ${channelLabel(channel)} ${signed(dbm, 1)}`;
    });
    const more = rest.length > NAMED_BESIDE ? ` and ${rest.length - NAMED_BESIDE} more` : '';
    return `Interference, dBm in this channel: ${[first, ...rest.slice(0, NAMED_BESIDE)].join(', ')}${more}`;
  }
  if (lens.id === 'resilience') {
    const [server, next] = [stand.lit[stand.top.radio[0]!], stand.lit[stand.top.radio[1]!]];
    return `Resilience ${signed(value, 1)} dBm: ${next?.name} when ${server?.name} fails`;
  }
  if (lens.kindsOf !== null) return `${lens.label}: ${lens.kindsOf([])[value]!.label}`;
  if (lens.asks === 'direction') {
    const step = stepAtStand(stand, { ...asked, receiver })!;
    const streams = `${step.streams} ${step.streams === 1 ? 'stream' : 'streams'}`;
    return `Rate ${step.mbps.toFixed(0)} Mb/s: ${step.phy}, ${step.widthMhz} MHz, MCS ${step.mcs}, ${streams}`;
  }
  if (lens.id === 'contention')
    return `Contention ${value} ${value === 1 ? 'radio' : 'radios'}: an even share leaves ${(evenShare(value) * 100).toFixed(0)} % of the airtime`;
  const aside = found.length === 0 ? '' : `, ${asideOf(null, found.length)}`;
  return `${lens.label} ${signed(value, lens.show === 'steps' ? 0 : 1)} ${lens.unit}${aside}`;
}

/** What a measured map shows at a spot, in words. */
export function measuredHere(
  { lens: id, values, scene, rank }: Pick<MapResult, 'lens' | 'values' | 'scene'> & { rank: 0 | 1 | 2 },
  { xM, yM }: PointM,
): string {
  const lens = lensOf(id);
  const cell = cellAt(scene.grid, xM, yM);
  const value = cell < 0 ? NaN : values[cell]!;
  if (lens.kindsOf !== null && !Number.isNaN(value)) return `${lens.label}: ${lens.kindsOf([])[value]!.label}`;
  const what = `${lens.asks === 'rank' ? ['', '2nd strongest: ', '3rd strongest: '][rank] : ''}${lens.measuredOnly ? lens.label : `${lens.label} measured`}`;
  return Number.isNaN(value) ? `${what}: nothing was measured near enough` : `${what} ${signed(value, 1)} ${lens.unit}`;
}
