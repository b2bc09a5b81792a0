import { describe, expect, test } from '@jest/globals';
import { BANDS } from '../radio/band';
import type { Facts, RadioFacts } from './facts';
import { findingsOf, type Rule, type RuleSetting } from './finding';
import { RULES } from './rules';

const radio = (fields: Partial<RadioFacts> = {}): RadioFacts => ({
  apId: 'a',
  name: 'A',
  modelId: 'dunlin-c2',
  place: { floorId: 'f', xM: 1, yM: 2 },
  band: '5',
  channel: { band: '5', primary: 36, widthMhz: 20 },
  txPowerDbm: 12,
  minPowerDbm: 3,
  highestPowerDbm: 18,
  problem: null,
  dfs: false,
  servedM2: 100,
  people: 0,
  sharers: 0,
  who: [],
  ssids: null,
  overlap: null,
  touching: [],
  ...fields,
});
const facts = (fields: Partial<Facts> = {}): Facts => ({
  domain: 'EU',
  site: { basicMbps: { '2.4': null, '5': null, '6': null }, bandSteering: null, poeW: null },
  clients: [],
  lacking: { '2.4': [], '5': [], '6': [] },
  radios: [],
  aps: [],
  heard: [],
  zones: [],
  spectrum: [],
  others: null,
  ...fields,
});
const found = (of: Facts, settings: Readonly<Record<string, RuleSetting>> = {}) => findingsOf(RULES, of, (id) => settings[id] ?? null);
const idsOf = (of: Facts, settings = {}) => found(of, settings).map(({ ruleId }) => ruleId);
const ap = (fields: Partial<Facts['aps'][number]> = {}): Facts['aps'][number] => ({
  apId: 'a',
  name: 'A',
  modelName: 'Dunlin C2 ceiling',
  place: { floorId: 'f', xM: 1, yM: 2 },
  heightM: 3,
  outdoor: false,
  wallMounted: false,
  poeW: 12.9,
  clientsPerRadio: 128,
  people: 0,
  radiosOn: 2,
  nearestWallM: 4,
  nearestMetal: null,
  nearestElectronics: null,
  keepOut: null,
  clutter: null,
  ...fields,
});

test('a radio set as it should be, in a building nobody has said anything of, is found nothing against', () => {
  expect(found(facts({ radios: [radio()], aps: [ap()] }))).toEqual([]);
  expect(found(facts())).toEqual([]);
});

test('every rule has an id of its own, words, and a start within its limits', () => {
  expect(new Set(RULES.map(({ id }) => id)).size).toBe(RULES.length);
  for (const { label, help, threshold } of RULES) {
    expect(label.length * help.length).toBeGreaterThan(0);
    if (threshold !== null) expect(threshold.start >= threshold.least && threshold.start <= threshold.most).toBe(true);
  }
});

describe('how radios are set', () => {
  const wide24 = radio({ band: '2.4', channel: { band: '2.4', primary: 6, widthMhz: 40 } });
  test('40 MHz at 2.4 GHz, and channels between 1, 6 and 11, with the way to set them right', () => {
    expect(found(facts({ radios: [wide24] }))).toMatchObject([
      { ruleId: 'width-24', severity: 'mend', key: 'width-24:a/2.4', remedy: { radios: [{ apId: 'a', band: '2.4', fields: { widthMhz: 20 } }] } },
    ]);
    const on = (primary: number) => found(facts({ radios: [radio({ band: '2.4', channel: { band: '2.4', primary, widthMhz: 20 } })] }));
    for (const apart of [1, 6, 11]) expect(on(apart)).toEqual([]);
    expect(on(3)[0]).toMatchObject({ ruleId: 'apart-24', remedy: { radios: [{ fields: { channel: 1 } }] } });
    expect(on(8)[0]!.remedy!.radios[0]!.fields).toEqual({ channel: 6 });
    expect(on(13)[0]!.remedy!.radios[0]!.fields).toEqual({ channel: 11 });
  });

  test('what law does not allow stops, and power is set to what it leaves', () => {
    const problem = { kind: 'eirp', domain: 'EU', eirpDbm: 24, maxEirpDbm: 23 } as const;
    expect(found(facts({ radios: [radio({ txPowerDbm: 20, problem })] }))).toMatchObject([
      { ruleId: 'law', severity: 'stop', remedy: { label: 'Set 18 dBm', radios: [{ fields: { txPowerDbm: 18 } }] } },
    ]);
    // What cannot be mended by power has no such remedy, and headroom is no question then.
    expect(found(facts({ radios: [radio({ problem: { kind: 'band' }, txPowerDbm: 18 })] }))).toMatchObject([{ ruleId: 'law', remedy: null }]);
  });

  test('headroom, by the number that is set', () => {
    const near = facts({ radios: [radio({ txPowerDbm: 17.5 })] });
    expect(idsOf(near)).toEqual(['headroom']);
    expect(idsOf(facts({ radios: [radio({ txPowerDbm: 17 })] }))).toEqual([]);
    expect(idsOf(facts({ radios: [radio({ txPowerDbm: 17 })] }), { headroom: { on: true, note: '', threshold: 3 } })).toEqual(['headroom']);
    expect(idsOf(near, { headroom: { on: false, note: 'it is a small shop', threshold: null } })).toEqual([]);
  });

  test('louder than the weakest client that is expected in the band, not one of another', () => {
    const clients = [
      { name: 'Handset', bands: ['5'], txPowerDbm: 10 },
      { name: 'Laptop', bands: ['5'], txPowerDbm: 17 },
      { name: 'Tag', bands: ['2.4'], txPowerDbm: 4 },
    ] as const;
    expect(idsOf(facts({ clients, radios: [radio({ txPowerDbm: 16 })] }))).toEqual([]);
    const [finding] = found(facts({ clients, radios: [radio({ txPowerDbm: 16.5 })] }));
    expect(finding).toMatchObject({ ruleId: 'uplink', remedy: { radios: [{ fields: { txPowerDbm: 16 } }] } });
    expect(finding!.reason).toContain('Handset');
    expect(finding!.title).toContain('6.5 dB');
  });

  test('of neighbours the louder is told, and by how much', () => {
    const touching = [
      { apId: 'b', name: 'B', txPowerDbm: 5, dfs: false },
      { apId: 'c', name: 'C', txPowerDbm: 9, dfs: false },
    ];
    expect(found(facts({ radios: [radio({ txPowerDbm: 12, touching })] }))).toMatchObject([
      { ruleId: 'spread', title: 'A, 5 GHz: 7 dB louder than B' },
    ]);
    expect(idsOf(facts({ radios: [radio({ txPowerDbm: 11, touching })] }))).toEqual([]);
    expect(idsOf(facts({ radios: [radio({ txPowerDbm: 3, touching })] }))).toEqual([]);
  });

  test('a width that meets more others than it gains', () => {
    const with80 = (own: number, half: number) =>
      found(facts({ radios: [radio({ channel: { band: '5', primary: 36, widthMhz: 80 }, overlap: { own, half, halfMhz: 40 } })] }));
    // Twice the rate for a third of the time against a whole: 2/3, so a third less.
    expect(with80(2, 0)).toMatchObject([{ ruleId: 'wide', remedy: { radios: [{ fields: { widthMhz: 40 } }] } }]);
    expect(with80(2, 0)[0]!.reason).toContain('33 % less');
    // Half of the time at twice the rate is no loss.
    expect(with80(1, 0)).toEqual([]);
    expect(with80(2, 2)).toEqual([]);
  });
});

describe('how the air is used', () => {
  test('beacons: names times frame over interval, times those that share', () => {
    const site = { ...facts().site, basicMbps: { '2.4': null, '5': 6, '6': null } } as const;
    const met = (...ssids: Array<number | null>) => ({
      ssids: 4,
      sharers: ssids.length,
      who: ssids.map((of) => ({ name: 'X', share: 1, ssids: of })),
    });
    // 20 + 4 x ceil(2422 / 24) = 424 us of 102.4 ms: 1.66 % for four names, 4.97 % of three radios, 6.63 % of four.
    const three = facts({ site, radios: [radio(met(4, 4))] });
    expect(idsOf(three, { sharing: { on: false, note: 'x', threshold: null } })).toEqual(['basic-rate']);
    const four = found(facts({ site, radios: [radio(met(4, 4, 4))] })).find(({ ruleId }) => ruleId === 'beacons')!;
    expect(four.title).toBe('5 GHz: beacons take 6.6 % of the air at A');
    // Each by what it announces itself, in the share of the area where it is met: 4 + 12 / 2 + 6 names are 16, as four times four.
    const mixed = {
      ssids: 4,
      sharers: 1.5,
      who: [
        { name: 'X', share: 0.5, ssids: 12 },
        { name: 'Y', share: 1, ssids: 6 },
      ],
    };
    expect(found(facts({ site, radios: [radio(mixed)] })).find(({ ruleId }) => ruleId === 'beacons')!.title).toBe(four.title);
    // The worst is told, not the one with the most others beside it; and nothing of what nobody has said.
    const quiet = { ...met(1, 1, 1, 1), apId: 'q', name: 'Q', ssids: 1 };
    expect(found(facts({ site, radios: [radio(quiet), radio(met(4, 4, 4))] })).find(({ ruleId }) => ruleId === 'beacons')!.title).toBe(four.title);
    expect(idsOf(facts({ site, radios: [radio({ ...met(4, 4, 4), ssids: null })] }))).not.toContain('beacons');
    expect(idsOf(facts({ site: { ...site, basicMbps: { ...site.basicMbps, '5': 12 } }, radios: [radio({ ...met(4), sharers: 0 })] }))).toEqual([]);
  });

  test('sharing, and who; three alike of a band are told as one, the worst in full', () => {
    const share = (name: string, sharers: number, band: '2.4' | '5' = '5') =>
      radio({
        apId: name,
        name,
        band,
        channel: { band, primary: band === '5' ? 36 : 1, widthMhz: 20 },
        sharers,
        who: [{ name: 'X', share: 0.5, ssids: null }],
      });
    expect(idsOf(facts({ radios: [share('A', 1)] }))).toEqual([]);
    const [one, two] = found(facts({ radios: [share('A', 1.5), share('B', 2)] }));
    expect([one!.key, two!.key]).toEqual(['sharing:A/5', 'sharing:B/5']);
    expect(one!.reason).toContain('X in 50 % of it');
    expect(one!.reason).toContain('40 % of the time');
    const many = found(facts({ radios: [share('A', 1.5), share('B', 4), share('C', 2), share('D', 3, '2.4')] }));
    expect(many.map(({ key, title }) => [key, title])).toEqual([
      ['sharing:5', '3 radios at 5 GHz share their channel with too many'],
      ['sharing:D/2.4', 'D, 2.4 GHz: shares channel 1 with 3 others'],
    ]);
    expect(many[0]!.reason.startsWith('B, C, A. First of them, B: Over what it serves, 4 other')).toBe(true);
    expect(many[0]!.apIds).toEqual(['A', 'B', 'C']);
  });

  test('idle channels only where radios share, with the reasons that may hold', () => {
    const spectrum = [{ band: '5', allowed: [36, 40, 52], used: [36], dfs: [52], radios: 2, meanSharers: 0.5 }] as const;
    const [finding] = found(facts({ spectrum, radios: [radio()] }));
    expect(finding).toMatchObject({ ruleId: 'idle-channels', title: '5 GHz: 2 of 3 allowed channels lie idle' });
    expect(finding!.reason).toContain('40, 52 are used by none');
    expect(finding!.reason).toContain('1 of them need radar detection');
    expect(idsOf(facts({ spectrum: [{ ...spectrum[0], meanSharers: 0.3 }] }))).toEqual([]);
    // What others put on them, where it was measured.
    const reasonWith = (others: Facts['others']) => found(facts({ spectrum, radios: [radio()], others }))[0]!.reason;
    expect(reasonWith(null)).toContain('nobody has measured');
    expect(reasonWith([])).toContain('measured there is nobody');
    const network = { band: '5', channel: 44, widthMhz: 20, share: 0.9, levelDbm: -60 } as const;
    expect(reasonWith([network])).toContain('measured there is nobody');
    const wide = { ...network, channel: 36, widthMhz: 40, share: 0.25, levelDbm: -75.4 } as const;
    expect(reasonWith([wide, { ...network, channel: 52, share: 0.1 }, { ...wide, share: 0.2 }])).toContain(
      'others were measured on 40, 52, most of all on 40: in 25 % of the spots, at −75 dBm on average',
    );
  });

  test('radar channels all about; one neighbour elsewhere is a way out', () => {
    const touching = [{ apId: 'b', name: 'B', txPowerDbm: 12, dfs: true }];
    expect(idsOf(facts({ radios: [radio({ dfs: true, touching })] }))).toEqual(['dfs-only']);
    expect(idsOf(facts({ radios: [radio({ dfs: true, touching: [...touching, { apId: 'c', name: 'C', txPowerDbm: 12, dfs: false }] })] }))).toEqual(
      [],
    );
    expect(idsOf(facts({ radios: [radio({ dfs: false, touching })] }))).toEqual([]);
  });

  test('steering is said only where it is on and a client knows one band', () => {
    const clients = [{ name: 'Scanner', bands: ['2.4'], txPowerDbm: 15 }] as const;
    const site = { ...facts().site, bandSteering: true };
    expect(idsOf(facts({ site, clients }))).toEqual(['steering']);
    expect(idsOf(facts({ site: { ...site, bandSteering: false }, clients }))).toEqual([]);
    expect(idsOf(facts({ site, clients: [{ ...clients[0], bands: ['2.4', '5'] }] }))).toEqual([]);
  });
});

describe('where things hang, and what is owed', () => {
  test.each([
    ['keep-out', { keepOut: 'Vault' }, { keepOut: null }],
    ['clutter', { clutter: { name: 'Stacks', topM: 4 } }, { clutter: null }],
    ['electronics', { nearestElectronics: { name: 'Ovens', awayM: 1.9 } }, { nearestElectronics: { name: 'Ovens', awayM: 2 } }],
    ['metal', { nearestMetal: { material: 'Metal', awayM: 0.9 } }, { nearestMetal: { material: 'Metal', awayM: 1 } }],
    ['wall', { nearestWallM: 0.4 }, { nearestWallM: 0.5 }],
    ['low', { heightM: 0.9 }, { heightM: 1 }],
  ] as const)('%s', (id, bad, good) => {
    expect(idsOf(facts({ aps: [ap(bad)] }))).toEqual([id]);
    expect(idsOf(facts({ aps: [ap(good)] }))).toEqual([]);
  });

  test('a crowd is told by the people a radio, and stops where the model takes fewer', () => {
    const crowd = (people: number, fields: Partial<Facts['aps'][number]> = {}) => found(facts({ aps: [ap({ people, ...fields })] }));
    expect(crowd(100)).toEqual([]);
    expect(crowd(102)).toMatchObject([{ ruleId: 'people', severity: 'mend', title: 'A: about 51 people a radio' }]);
    expect(crowd(51, { radiosOn: 1 })).toMatchObject([{ severity: 'mend', reason: expect.stringContaining('its one radio') }]);
    expect(crowd(256)).toMatchObject([{ severity: 'mend' }]);
    expect(crowd(258)).toMatchObject([{ severity: 'stop', reason: expect.stringContaining('takes 128 clients a radio') }]);
    expect(crowd(100, { radiosOn: 0 })).toEqual([]);
  });

  test('a unit made for walls may hang on one; a port that is too weak stops, where it is known', () => {
    expect(idsOf(facts({ aps: [ap({ nearestWallM: 0, wallMounted: true })] }))).toEqual([]);
    const weak = (poeW: number | null) => found(facts({ site: { ...facts().site, poeW }, aps: [ap({ poeW: 25.5 })] }));
    expect(weak(15.4)).toMatchObject([{ ruleId: 'poe', severity: 'stop' }]);
    expect(weak(30)).toEqual([]);
    expect(weak(null)).toEqual([]);
  });

  test('a zone is judged on the band that does best, and what fails there is named, the least met first', () => {
    const shares = (all: number) => ({ all, each: [0.99, 1, 0.7, 1, all] });
    const zone = (owedShare: number) => ({
      zoneId: 'z',
      name: 'Hall',
      levelName: 'Voice',
      owedShare,
      bands: [
        { band: '2.4', shares: shares(0.3), asked: [true, false, true, false, true], worst: { floorId: 'f', xM: 1, yM: 1 } },
        { band: '5', shares: shares(0.6), asked: [true, false, true, false, true], worst: { floorId: 'f', xM: 7, yM: 8 } },
      ] as const,
    });
    expect(found(facts({ zones: [zone(0.95)] }))).toMatchObject([{ ruleId: 'level', severity: 'stop', place: { xM: 7, yM: 8 } }]);
    expect(found(facts({ zones: [zone(0.95)] }))[0]!.reason).toContain('radios sharing in 60 %, SNR in 70 %, signal in 99 %');
    expect(found(facts({ zones: [zone(0.6)] }))).toEqual([]);
  });

  test('a second access point and a crowd, by floor and band', () => {
    const heard = (fields: Partial<Facts['heard'][number]>) => [
      {
        floorId: 'f',
        floorName: 'Ground',
        band: '5' as const,
        radios: 3,
        secondShare: 0.9,
        meanHeard: 5,
        most: { floorId: 'f', xM: 3, yM: 4 },
        ...fields,
      },
    ];
    expect(idsOf(facts({ heard: heard({ secondShare: 0.79 }) }))).toEqual(['second']);
    expect(idsOf(facts({ heard: heard({ secondShare: 0.8 }) }))).toEqual([]);
    expect(idsOf(facts({ heard: heard({ secondShare: 0.1, radios: 1 }) }))).toEqual([]);
    expect(found(facts({ heard: heard({ meanHeard: 8.1 }) }))).toMatchObject([{ ruleId: 'crowd', place: { xM: 3, yM: 4 } }]);
  });
});

test('the gravest come first, and each as its rule is listed', () => {
  const of = facts({ aps: [ap({ keepOut: 'Vault', nearestWallM: 0.1, heightM: 0.2 })], radios: [radio({ txPowerDbm: 18 })] });
  expect(found(of).map(({ severity, ruleId }) => [severity, ruleId])).toEqual([
    ['stop', 'keep-out'],
    ['mend', 'low'],
    ['note', 'headroom'],
    ['note', 'wall'],
  ]);
});

test('remedies of many are one step, of each radio its own', () => {
  const loud = BANDS.slice(0, 1).flatMap(() =>
    ['A', 'B', 'C'].map((name, i) =>
      radio({
        apId: name,
        name,
        txPowerDbm: 20 + i,
        problem: { kind: 'eirp', domain: 'EU', eirpDbm: 24 + i, maxEirpDbm: 23 },
        highestPowerDbm: 18 - i,
      }),
    ),
  );
  const [finding] = findingsOf(RULES as readonly Rule[], facts({ radios: loud }), () => null);
  expect(finding!.remedy!.radios.map(({ apId, fields }) => [apId, fields.txPowerDbm])).toEqual([
    ['A', 18],
    ['B', 17],
    ['C', 16],
  ]);
  expect(finding!.title).toBe('3 radios at 5 GHz are set as model or law do not allow');
});
