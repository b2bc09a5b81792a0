import { describe, expect, test } from '@jest/globals';
import { clientTypesOf, serviceLevelOf, variantsOf } from '@/core/design/design';
import { LENSES } from '@/core/fields/lenses';
import { BANDS, type Band } from '@/core/radio/band';
import { COMMON_TYPE } from '@/core/radio/clientTypes';
import { design, floor, lensResult, sceneRadios } from '@/engine/museum.testing';
import type { LensResult } from '@/engine/protocol';
import { emittersOf, floorScene } from '@/engine/scene';
import { bandsAsked, bandWords, takesBand } from '../state/bandsAsked';
import { placeOf } from '../state/selectors';
import { heardHere } from './heardHere';
import { lensHere } from './lensHere';

const place = placeOf(design, floor.id, variantsOf(design).at(-1)!.id)!;
// A phone knows all three bands and takes the highest from -70 dBm.
const client = clientTypesOf(design)('phone');
const scene = floorScene(design, floor, client);
const zones = scene.zones.map(({ zone, mask }) => ({ id: zone.id, mask, level: serviceLevelOf(design, zone) }));
const radiosOf = (bands: readonly Band[]) => bands.flatMap((band) => sceneRadios(emittersOf(design, place.around, [band]), scene));
const byBand = BANDS.map((band) => radiosOf([band]));
const all = byBand.flat();
const mapOf = (fields: Parameters<typeof lensResult>[0]): LensResult => lensResult({ scene, mask: scene.mask, zones, widthMhz: 40, ...fields });

/** By hand, from the maps of the bands: the highest at -70 dBm or more, else the loudest. */
const levels = byBand.map((radios) => mapOf({ radios, ignoreBelowDbm: -200 }).values);
const takenAt = (i: number): number => {
  for (let b = 2; b >= 0; b--) if (levels[b]![i]! >= -70) return b;
  return levels.reduce((best, of, b) => ((Number.isNaN(of[i]!) ? -Infinity : of[i]!) > (levels[best]![i] ?? -Infinity) ? b : best), 0);
};

describe('a map of the band that the client takes', () => {
  test('every lens: at each cell what the map of that band shows there', () => {
    const cellsOf = new Map<number, number>();
    for (const { id, measuredOnly, kindsOf } of LENSES) {
      if (measuredOnly) continue;
      const mine = mapOf({ lens: id, radios: all, bandRule: client.bandRule });
      const single = byBand.map((radios) => mapOf({ lens: id, radios }));
      let different = 0;
      for (let i = 0; i < mine.values.length; i++) {
        const b = takenAt(i);
        cellsOf.set(b, (cellsOf.get(b) ?? 0) + 1);
        const [is, was] = [mine.values[i]!, single[b]!.values[i]!];
        const same =
          kindsOf === null || Number.isNaN(is) || Number.isNaN(was) ? Object.is(is, was) : mine.kinds[is]!.id === single[b]!.kinds[was]!.id;
        if (!same) different++;
      }
      expect([id, different]).toEqual([id, 0]);
    }
    // All three are taken somewhere, or nothing was shown.
    expect([...cellsOf.keys()].sort()).toEqual([0, 1, 2]);
  });

  test('what each radio serves is its own of the cells of its band; who shares is counted there', () => {
    const mine = mapOf({ lens: 'contention', radios: all, bandRule: client.bandRule });
    const servedM2 = new Array<number>(all.length).fill(0);
    const shared = new Array<number>(all.length).fill(0);
    const single = byBand.map((radios) => mapOf({ lens: 'contention', radios }));
    const firstOf = byBand.map((_, b) => byBand.slice(0, b).reduce((sum, radios) => sum + radios.length, 0));
    for (let i = 0; i < mine.values.length; i++) {
      const b = takenAt(i);
      const radio = single[b]!.serving[i]!;
      expect(mine.serving[i]).toBe(radio < 0 ? -1 : firstOf[b]! + radio);
      if (scene.mask[i] === 0 || radio < 0) continue;
      servedM2[firstOf[b]! + radio]! += scene.grid.cellM ** 2;
      shared[firstOf[b]! + radio]! += single[b]!.values[i]! * scene.grid.cellM ** 2;
    }
    all.forEach((_, r) => {
      expect(mine.served[r]!.areaM2).toBeCloseTo(servedM2[r]!, 6);
      if (servedM2[r]! > 0) expect(mine.sharers![r]!.mean).toBeCloseTo(shared[r]! / servedM2[r]!, 6);
      // Nobody shares with a radio of another band.
      for (const { radio } of mine.sharers![r]!.who) expect(all[radio]!.channel.band).toBe(all[r]!.channel.band);
    });
  });

  test('service levels are judged by the band that is taken', () => {
    const mine = mapOf({ lens: 'service', radios: all, bandRule: client.bandRule });
    const owed = mine.zones.find(({ owed: of }) => of !== null)!;
    const zone = zones.find(({ id }) => id === owed.zoneId)!;
    let [cells, met] = [0, 0];
    for (let i = 0; i < mine.values.length; i++) {
      if (zone.mask[i] === 0) continue;
      cells++;
      if (mine.kinds[mine.values[i]!]!.id === 'met') met++;
    }
    expect(owed.owed!.all).toBeCloseTo(met / cells, 9);
    expect(met).toBeGreaterThan(0);
    expect(met).toBeLessThan(cells);
    // Each requirement by the lens of its name.
    const level = { signalDbm: -62, secondDbm: -72, snrDb: 28, rateMbps: 250, sharersMost: 1 };
    const asked = mapOf({ lens: 'service', radios: all, bandRule: client.bandRule, zones: [{ id: 'all', mask: scene.mask, level }] });
    const shareOf = (fields: Partial<Parameters<typeof lensResult>[0]>, holds: (value: number) => boolean): number => {
      const { values } = mapOf({ radios: all, bandRule: client.bandRule, ...fields });
      return values.filter((value, i) => scene.mask[i] === 1 && holds(value)).length / scene.mask.filter((inside) => inside === 1).length;
    };
    const each = [
      shareOf({ lens: 'signal' }, (dbm) => dbm >= -62),
      shareOf({ lens: 'signal', rank: 1 }, (dbm) => dbm >= -72),
      shareOf({ lens: 'snr' }, (db) => db >= 28),
      shareOf({ lens: 'rate' }, (mbps) => mbps >= 250),
      shareOf({ lens: 'contention' }, (sharers) => sharers <= 1),
    ];
    each.forEach((share, k) => expect([k, asked.zones[0]!.owed!.each[k]]).toEqual([k, expect.closeTo(share, 6)]));
    for (const share of each) expect(share > 0 && share < 1).toBe(true);
  });

  test('the readout takes the same band as the map, and says of it the same level and lens', () => {
    const asked = {
      countEmitters: false,
      band: '2.4',
      byClient: true,
      source: 'predicted',
      heardFrom: null,
      clientId: client.id,
      ignoreBelowDbm: -90,
    } as const;
    const signal = mapOf({ radios: all, bandRule: client.bandRule });
    const snr = mapOf({ lens: 'snr', radios: all, bandRule: client.bandRule });
    const { grid } = scene;
    const seen = new Set<Band>();
    for (let cell = 5; cell < signal.values.length; cell += 401) {
      const at = { xM: grid.originXM + (cell % grid.cols) * grid.cellM, yM: grid.originYM + Math.floor(cell / grid.cols) * grid.cellM };
      const lines = heardHere(design, place, at, asked);
      if (Number.isNaN(signal.values[cell]!)) continue;
      seen.add(lines[0]!.channel.band);
      expect(lines[0]!.channel.band).toBe(BANDS[takenAt(cell)]);
      expect(lines.every(({ channel: { band } }) => band === lines[0]!.channel.band)).toBe(true);
      expect(lines[0]!.rssiDbm).toBeCloseTo(signal.values[cell]!, 2);
      const words = lensHere(design, place, at, { ...asked, lens: 'snr', rank: 0, widthMhz: 20, direction: 'down' });
      expect(Number(words.match(/SNR (−?[\d.]+)/)![1]!.replace('−', '-'))).toBeCloseTo(snr.values[cell]!, 0);
    }
    expect(seen.size).toBeGreaterThan(1);
  });
});

test('Contention at a spot: how many, as on the map, and what an even share leaves', () => {
  const radios = radiosOf(['2.4']);
  const { values } = mapOf({ lens: 'contention', radios });
  const { grid } = scene;
  const asked = {
    countEmitters: false,
    band: '2.4',
    byClient: false,
    source: 'predicted',
    heardFrom: null,
    clientId: client.id,
    ignoreBelowDbm: -90,
  } as const;
  const said = new Map<number, string>();
  for (let cell = 0; cell < values.length; cell += 97) {
    if (Number.isNaN(values[cell]!)) continue;
    const at = { xM: grid.originXM + (cell % grid.cols) * grid.cellM, yM: grid.originYM + Math.floor(cell / grid.cols) * grid.cellM };
    said.set(values[cell]!, lensHere(design, place, at, { ...asked, lens: 'contention', rank: 0, widthMhz: 20, direction: 'down' }));
  }
  expect(said.size).toBeGreaterThan(2);
  for (const [count, words] of said)
    expect(words).toBe(
      `Contention ${count} radio${count === 1 ? '' : 's'}: an even share leaves ${[100, 50, 33, 25, 20, 17, 14, 13, 11, 10, 9][count]} % of the airtime`,
    );
});

test('which bands are asked: the one that is chosen, or all that the client knows; a measured map is of one', () => {
  const asked = {
    countEmitters: false,
    band: '5',
    byClient: true,
    source: 'predicted',
  } as const;
  expect(bandsAsked(asked, COMMON_TYPE)).toEqual(['2.4', '5', '6']);
  expect(bandsAsked(asked, clientTypesOf(design)('handset'))).toEqual(['2.4', '5']);
  expect(bandsAsked({ ...asked, byClient: false }, COMMON_TYPE)).toEqual(['5']);
  expect(bandsAsked({ ...asked, byClient: false }, clientTypesOf(design)('scanner'))).toEqual([]);
  expect(bandsAsked({ ...asked, source: 'measured' }, COMMON_TYPE)).toEqual(['5']);
  expect(takesBand({ ...asked, source: 'measured' })).toBe(false);
  expect(bandWords({ band: '5', byClient: false })).toBe('5 GHz');
});
