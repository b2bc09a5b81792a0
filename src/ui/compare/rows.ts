import { onFloor, serviceLevelOf, type AccessPoint, type Design, type Radio } from '@/core/design/design';
import type { DifferenceStatistics } from '@/core/fields/difference';
import { noticed } from '@/core/fields/difference';
import { lensOf } from '@/core/fields/lenses';
import { BANDS, type Band } from '@/core/radio/band';
import { formatArea, type UnitSystem } from '@/core/units/length';
import { percent, settingText, signed } from '../state/format';
import type { Place } from '../state/selectors';
import type { MapResult } from '../state/useLens';
import { signedChange } from './useDifference';

/** One line of the comparison; `change` is empty where nothing differs. */
export type CompareRow = Readonly<{ id: string; group: 'map' | 'zones' | 'radios'; what: string; then: string; now: string; change: string }>;

/** A side of the comparison. */
export type Side = Readonly<{ design: Design; place: Place; map: MapResult }>;

const points = (now: number, then: number): string => `${signedChange((now - then) * 100, 1)} points`;

/** The two maps, their zones and their radios side by side. */
export function compareRows(now: Side, then: Side, difference: DifferenceStatistics | null, units: UnitSystem): CompareRow[] {
  return [...mapRows(now.map, then.map, difference), ...zoneRows(now, then), ...radioRows(now, then, units)];
}

function mapRows(now: MapResult, then: MapResult, difference: DifferenceStatistics | null): CompareRow[] {
  const lens = lensOf(now.lens);
  const unit = lens.unit === 'dBm' ? 'dB' : lens.unit;
  const rows: CompareRow[] = [];
  const add = (id: string, what: string, was: string, is: string, change: string) =>
    rows.push({ id, group: 'map', what, then: was, now: is, change });
  if (lens.threshold !== null) {
    const what = `${lens.label} ${lens.threshold.words(now.threshold)}`;
    add('share', what, percent(then.share), percent(now.share), points(now.share, then.share));
    if (difference !== null) {
      add('gained', 'of the area: meets the threshold in this one alone', percent(difference.lost!), percent(difference.gained!), '');
      const visible = `${noticed(lens)} or more ${unit}`.trim();
      add('better', `of the area: better in this one by ${visible}`, percent(difference.worse), percent(difference.better), '');
      const digits = lens.show === 'steps' ? 2 : 1;
      const mean = Number.isNaN(difference.mean) ? '–' : `${signedChange(difference.mean, digits)} ${unit}`.trim();
      add('mean', `mean change where both have a value (${percent(difference.both)} of the area)`, '', '', mean);
    }
  } else if ((difference?.other ?? null) !== null) add('other', `of the area: ${lens.label} is another`, '', '', percent(difference!.other!));
  return rows;
}

function zoneRows(now: Side, then: Side): CompareRow[] {
  const lens = lensOf(now.map.lens);
  return onFloor(now.design, 'zones', now.place.floor.id).flatMap((zone): CompareRow[] => {
    const [is, was] = [now.map, then.map].map((map) => map.zones.find(({ zoneId }) => zoneId === zone.id));
    if (zone.kind !== 'service' || is === undefined) return [];
    const of = lens.id === 'service' ? (one: typeof was) => one?.owed?.all ?? null : (one: typeof was) => one?.share ?? null;
    const [a, b] = [of(is), of(was)];
    const level = serviceLevelOf(now.design, zone);
    const met = (share: number | null) =>
      lens.id === 'service' && share !== null && level !== null ? (share >= level.share ? ', met' : ', not met') : '';
    if (a === null && b === null) return [];
    return [
      {
        id: `zone-${zone.id}`,
        group: 'zones',
        what: lens.id === 'service' ? `${zone.name}: ${level?.name ?? 'no level'}, owed ${level === null ? '–' : percent(level.share)}` : zone.name,
        then: b === null ? '–' : `${percent(b)}${met(b)}`,
        now: a === null ? '–' : `${percent(a)}${met(a)}`,
        change: a === null || b === null ? '' : points(a, b),
      },
    ];
  });
}

type Hung = Readonly<{ ap: AccessPoint; radio: Radio }>;

/** Radios of one name and band on both sides; a copied access point is another record with the same name. */
function radioRows(now: Side, then: Side, units: UnitSystem): CompareRow[] {
  const names = [...new Set([...now.place.aps, ...then.place.aps].map(({ name }) => name))];
  const find = ({ place }: Side, name: string, band: Band): Hung | null => {
    const ap = place.aps.find((one) => one.name === name);
    const radio = ap?.radios.find((one) => one.band === band);
    return ap === undefined || radio === undefined ? null : { ap, radio };
  };
  return names.flatMap((name) =>
    BANDS.flatMap((band): CompareRow[] => {
      const [is, was] = [find(now, name, band), find(then, name, band)];
      if (is === null && was === null) return [];
      const changes = changesOf(is, was);
      // Other bands' radios stand here only where they differ: what they serve is not in these maps.
      if (band !== now.map.band && !now.map.byClient && changes === '') return [];
      return [
        {
          id: `${name}/${band}`,
          group: 'radios',
          what: `${name}, ${band} GHz`,
          then: radioText(was, then.map, units),
          now: radioText(is, now.map, units),
          change: changes,
        },
      ];
    }),
  );
}

function radioText(hung: Hung | null, map: MapResult, units: UnitSystem): string {
  if (hung === null) return 'not there';
  const at = map.radios.findIndex(({ ap, band }) => ap.id === hung.ap.id && band === hung.radio.band);
  const served = at < 0 ? null : map.served[at]!;
  const text = settingText(hung.radio);
  if (served === null) return text;
  return served.areaM2 === 0 ? `${text}, serves nowhere` : `${text}, serves ${formatArea(served.areaM2, units)} at ${signed(served.meanDbm, 1)} dBm`;
}

/** What was changed on a radio, in words. */
function changesOf(is: Hung | null, was: Hung | null): string {
  if (is === null) return 'taken away';
  if (was === null) return 'new';
  const [a, b] = [is.radio, was.radio];
  const movedM = Math.hypot(is.ap.xM - was.ap.xM, is.ap.yM - was.ap.yM, is.ap.heightM - was.ap.heightM);
  return [
    ...(movedM >= 0.01 ? ['moved'] : []),
    ...(is.ap.azimuthDeg !== was.ap.azimuthDeg || is.ap.tiltDeg !== was.ap.tiltDeg ? ['turned'] : []),
    ...(is.ap.modelId !== was.ap.modelId ? ['model'] : []),
    ...(a.on !== b.on ? [a.on ? 'switched on' : 'switched off'] : []),
    ...(a.on && (a.channel !== b.channel || a.widthMhz !== b.widthMhz) ? ['channel'] : []),
    ...(a.on && a.txPowerDbm !== b.txPowerDbm ? [`${signedChange(a.txPowerDbm - b.txPowerDbm, 1)} dB`] : []),
  ].join(', ');
}
