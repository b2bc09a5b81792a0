import { useLearned } from '../state/surveyed';
import { whatOf } from './surveyWords';
import { rowKey } from '../stages/design/useRetune';
import { lossDbOf, OPEN_ID, type Material } from '@/core/building/material';
import { wallLengthM } from '@/core/building/wall';
import { allClientTypes, allModels, domainOf, floorsOf, isToScale, modelsOf, onFloor, serviceLevelOf, type Design } from '@/core/design/design';
import { serviceZonesOn } from '@/core/design/service';
import { lensOf } from '@/core/fields/lenses';
import { OWED } from '@/core/fields/owed';
import type { CsvTable } from '@/core/formats/csv';
import { samplesTable, type NamedSamples } from '@/core/formats/samplesCsv';
import { bandRuleWords } from '@/core/radio/bandRule';
import { testsBySpot } from '@/core/design/surveyCommands';
import { usesOfModel } from '@/core/design/equipmentCommands';
import { regionAreaM2 } from '@/core/geometry/polygon';
import { BANDS } from '@/core/radio/band';
import { radioModelOf } from '@/core/radio/catalogue';
import { lawProblem, lawWords } from '@/core/radio/law';
import type { Listed } from '../checks/useFindings';
import type { CompareRow } from '../compare/rows';
import { whose } from '../equipment/EquipmentTables';
import { owedText } from '../stages/brief/owed';
import type { Place } from '../state/selectors';
import type { Session } from '../state/sessionStore';
import { curveIn, lostByRadio, type MapResult } from '../state/useLens';

/** What tables are written from: what the window shows now. */
export type CsvSource = Readonly<{
  design: Design;
  place: Place;
  map: MapResult | null;
  then: Readonly<{ map: MapResult; title: string }> | null;
  comparison: readonly CompareRow[] | null;
  sheet: Session['sheet'];
  /** Samples that count, walk by walk. */
  walks: readonly NamedSamples[];
  materials: readonly Material[];
  findings: readonly Listed[] | null;
}>;

/** Thousandths are enough of anything here. */
const round = (value: number | null | undefined, digits = 3): number | null =>
  value === null || value === undefined || !Number.isFinite(value) ? null : Number(value.toFixed(digits));
const percentOf = (share: number | null | undefined): number | null => (share === null || share === undefined ? null : round(share * 100, 2));
/** A name of a column may not hold what the lens has as its unit where it has none. */
const named = (words: string, unit: string): string => (unit === '' ? words : `${words} [${unit}]`);

/**
 * The tables of the evidence as files, by the id of their tab; null where there is nothing to write. Numbers are in SI units and unrounded by the
 * screen's habits; a column says its unit.
 */
export const CSV_OF: Readonly<Record<string, (source: CsvSource) => CsvTable | null>> = {
  owed: ({ design }) => ({
    head: ['floor', 'zone', 'area [m2]', 'people', 'service level', 'owed'],
    rows: floorsOf(design).flatMap((floor) =>
      serviceZonesOn(design, floor.id).map((zone) => {
        const level = serviceLevelOf(design, zone);
        const area = isToScale(design, floor.id) ? round(regionAreaM2(zone)) : null;
        return [floor.name, zone.name, area, zone.people, level?.name ?? null, level === null ? null : owedText(level)];
      }),
    ),
  }),
  findings: ({ findings, design }) =>
    findings === null
      ? null
      : {
          head: ['no.', 'severity', 'finding', 'reason', 'advice', 'floor', 'x [m]', 'y [m]', 'rule', 'accepted because'],
          rows: findings.map(({ number, severity, title, reason, advice, place: at, ruleId, accepted }) => [
            number,
            severity,
            title,
            reason,
            advice,
            at === null ? null : (design.floors[at.floorId]?.name ?? null),
            round(at?.xM),
            round(at?.yM),
            ruleId,
            accepted,
          ]),
        },
  compare: ({ comparison, place, then }) =>
    comparison === null || then === null
      ? null
      : {
          head: ['what', then.title, `${place.variant.name}, now`, 'change'],
          rows: comparison.map(({ what, then: was, now, change }) => [what, was, now, change]),
        },
  radios: ({ place, map, design }) => {
    const counted = map !== null && map.sharers !== null;
    const lost = map === null ? null : lostByRadio(map);
    return {
      head: [
        'radio',
        'band [GHz]',
        'on',
        'channel',
        'width [MHz]',
        'power [dBm]',
        'model',
        'x [m]',
        'y [m]',
        'height [m]',
        'serves [m2]',
        'mean level [dBm]',
        ...(!counted ? [] : ['shares with [radios, mean]', 'who [% of its area]']),
        ...(lost === null ? [] : [`below ${map!.threshold} dBm if it fails [m2]`]),
        'not allowed',
      ],
      rows: place.aps.flatMap((ap) =>
        ap.radios.map((radio) => {
          const at = map?.radios.findIndex((one) => one.ap.id === ap.id && one.band === radio.band) ?? -1;
          const served = map?.served[at];
          const sharers = counted ? map.sharers![at] : undefined;
          const problem = lawProblem(domainOf(place.project), modelsOf(design)(ap.modelId), radio);
          const who = sharers?.who.map((one) => `${map!.radios[one.radio]!.ap.name} ${percentOf(one.share)}`).join('; ');
          return [
            ap.name,
            radio.band,
            radio.on ? 'yes' : 'no',
            radio.channel,
            radio.widthMhz,
            radio.txPowerDbm,
            modelsOf(design)(ap.modelId).name,
            ap.xM,
            ap.yM,
            ap.heightM,
            round(served?.areaM2),
            round(served?.meanDbm),
            ...(!counted ? [] : [round(sharers?.mean), who ?? null]),
            ...(lost === null ? [] : [round(lost.get(`${ap.id}/${radio.band}`))]),
            problem === null ? null : lawWords(problem),
          ];
        }),
      ),
    };
  },
  curve: ({ map, then }) => {
    const lens = map === null ? null : lensOf(map.lens);
    if (map === null || lens?.curve === null || lens === null) return null;
    const { from, step } = lens.curve;
    const { zones } = map.scene;
    const curves = zones.map(({ zone }) => curveIn(map, zone.id));
    return {
      head: [
        named(lens.label, lens.unit),
        'share of area [%]',
        ...zones.map(({ zone }) => `${zone.name} [%]`),
        ...(then === null ? [] : [`share of area, ${then.title} [%]`]),
      ],
      rows: map.curve.map((share, i) => [
        round(from + step * i),
        percentOf(share),
        ...curves.map((curve) => percentOf(curve?.[i])),
        ...(then === null ? [] : [percentOf(then.map.lens === map.lens ? then.map.curve[i] : null)]),
      ]),
    };
  },
  zones: ({ design, place, map }) => {
    if (map === null) return null;
    const lens = lensOf(map.lens);
    const asked = lens.id === 'service';
    const toScale = isToScale(design, place.floor.id);
    const share = `${lens.threshold === null ? 'share' : `${lens.label} ${lens.threshold.words(map.threshold)}`}${map.measured ? ', of what is measured' : ''}`;
    return {
      head: [
        'zone',
        'area [m2]',
        'of it nothing owed [m2]',
        'service level',
        'owed',
        ...(asked ? [...OWED, 'all of it'].map((what) => `${what} [%]`) : [`${share} [%]`]),
      ],
      rows: serviceZonesOn(design, place.floor.id).map((zone) => {
        const level = serviceLevelOf(design, zone);
        const of = map.zones.find(({ zoneId }) => zoneId === zone.id);
        const owed = of?.owed ?? null;
        return [
          zone.name,
          toScale ? round(regionAreaM2(zone)) : null,
          toScale ? round(map.scene.zones.find((one) => one.zone.id === zone.id)?.exemptM2 ?? 0) : null,
          level?.name ?? null,
          level === null ? null : owedText(level),
          ...(asked ? [...OWED.map((_, i) => percentOf(owed?.each[i])), percentOf(owed?.all)] : [percentOf(of?.share)]),
        ];
      }),
    };
  },
  sheet: ({ sheet, design }) =>
    sheet === null
      ? null
      : {
          head: [
            'radio',
            'floor',
            'band [GHz]',
            ...['before', 'after'].flatMap((when) => [`${when}: on`, `${when}: channel`, `${when}: width [MHz]`, `${when}: power [dBm]`]),
            'sharing airtime before [radios, mean]',
            'sharing airtime after [radios, mean]',
            'why',
            'ticked',
          ],
          rows: sheet.rows.map(({ apId, name, band, before, after, loadBefore, loadAfter, why }) => [
            name,
            design.floors[design.accessPoints[apId]?.floorId ?? '']?.name ?? null,
            band,
            ...[before, after].flatMap(({ on, channel, widthMhz, txPowerDbm }) => [on ? 'yes' : 'no', channel, widthMhz, round(txPowerDbm)]),
            round(loadBefore.contention),
            round((sheet.rest?.rows.find((row) => row.apId === apId && row.band === band)?.loadAfter ?? loadAfter).contention),
            why,
            sheet.left.includes(rowKey({ apId, band })) ? 'no' : 'yes',
          ]),
        },
  // The columns with which samples come in again.
  samples: ({ walks, design }) => samplesTable(walks, (apId) => design.accessPoints[apId]?.name ?? null),
  transfers: ({ design, place }) => ({
    head: [
      'spot',
      'x [m]',
      'y [m]',
      'time',
      'variant',
      'AP',
      'BSSID',
      'band [GHz]',
      'channel',
      'width [MHz]',
      'level [dBm]',
      'SNR [dB]',
      'run',
      'down [Mb/s]',
      'up [Mb/s]',
      'sent again [%]',
    ],
    rows: testsBySpot(design, place.floor.id).flatMap((tests, spot) =>
      tests.flatMap((test) =>
        test.runs.map(({ downMbps, upMbps, retries }, run) => [
          spot + 1,
          round(test.xM),
          round(test.yM),
          test.at,
          test.name,
          test.apName,
          test.bssid,
          test.band,
          test.channel,
          test.widthMhz,
          test.rssiDbm,
          test.snrDb,
          run + 1,
          downMbps,
          upMbps,
          percentOf(retries),
        ]),
      ),
    ),
  }),
  fit: ({ design }) => {
    const { summary } = useLearned.getState();
    return summary === null
      ? null
      : {
          head: ['what', 'differs from the drawing by [dB, of the exponent 1]', 'deviation', 'deviation before'],
          rows: summary.learned.map((row) => [whatOf(row, design), round(row.estimate), round(row.sd), round(row.priorSd)]),
        };
  },
  models: ({ design }) => ({
    head: [
      'model',
      'of',
      'hang',
      'generation',
      ...BANDS.flatMap((band) => [`${band} GHz: highest power [dBm]`, `${band} GHz: widest channel [MHz]`, `${band} GHz: streams`]),
      'draws [W]',
      'hung at [m]',
    ],
    rows: allModels(design).map((model) => [
      model.name,
      whose(Object.hasOwn(design.apModels, model.id)),
      usesOfModel(design, model.id),
      model.generation,
      ...BANDS.flatMap((band) => {
        const radio = radioModelOf(model, band);
        return radio === null ? [null, null, null] : [radio.maxPowerDbm, radio.maxWidthMhz, radio.streams];
      }),
      model.poeW,
      model.defaultHeightM,
    ]),
  }),
  clients: ({ design, place }) => ({
    head: [
      'client',
      'of',
      'expected',
      'bands [GHz]',
      'takes',
      'generation',
      'streams',
      'width [MHz]',
      'gain [dBi]',
      'power [dBm]',
      'noise figure [dB]',
    ],
    rows: allClientTypes(design).map(({ id, name, bands, bandRule, equipment }) => [
      name,
      whose(Object.hasOwn(design.clientTypes, id)),
      place.project.clientTypes.includes(id) ? 'yes' : 'no',
      bands.join('; '),
      bands.length > 1 ? bandRuleWords(bandRule) : '',
      equipment.generation,
      equipment.streams,
      equipment.maxWidthMhz,
      equipment.gainDbi,
      equipment.txPowerDbm,
      equipment.noiseFigureDb,
    ]),
  }),
  materials: ({ design, place, materials }) => ({
    head: ['material', 'walls here', 'length [m]', ...BANDS.map((band) => `loss at ${band} GHz [dB]`)],
    rows: materials
      .filter(({ id }) => id !== OPEN_ID)
      .map((material) => {
        const own = onFloor(design, 'walls', place.floor.id).filter(({ materialId }) => materialId === material.id);
        const lengthM = own.reduce((sum, wall) => sum + wallLengthM(wall), 0);
        return [material.name, own.length, round(lengthM), ...BANDS.map((band) => round(lossDbOf(material, band)))];
      }),
  }),
};
