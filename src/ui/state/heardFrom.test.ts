import { expect, test } from '@jest/globals';
import { museum } from '@demo/museum';
import { floorsOf, variantsOf, type Design } from '@/core/design/design';
import { announce, removeSsid, ssidsOf } from '@/core/design/ssids';
import { applyChanges } from '@/core/design/step';
import type { Band } from '@/core/radio/band';
import { apsHeard, counterpart, heardWords, measuredOf, primariesOf, standingChoice, type HeardFrom } from './heardFrom';
import { placeOf } from './selectors';

const design = museum();
const floor = floorsOf(design)[0]!;
const [asFound, proposed] = variantsOf(design);
const place = placeOf(design, floor.id, proposed!.id)!;
const names = (aps: ReadonlyArray<{ name: string }>) => aps.map(({ name }) => name);

test('of all, of some, or of those on a channel of the band that is shown', () => {
  const [one, two] = place.around;
  expect(apsHeard(null, design, place.around, '5')).toBe(place.around);
  expect(names(apsHeard({ by: 'aps', ids: [two!.id] }, design, place.around, '5'))).toEqual([two!.name]);
  const primary = primariesOf(place.around, '5')[0]!;
  const on = apsHeard({ by: 'channel', band: '5', primary }, design, place.around, '5');
  expect(on.length).toBeGreaterThan(0);
  expect(on.length).toBeLessThan(place.around.length);
  expect(on.every(({ radios }) => radios.some((radio) => radio.band === '5' && radio.on && radio.channel === primary))).toBe(true);
  // A channel of another band says nothing here.
  expect(apsHeard({ by: 'channel', band: '2.4', primary: 1 }, design, place.around, '5')).toHaveLength(place.around.length);
  expect(measuredOf({ by: 'channel', band: '2.4', primary: 1 }, design, place.around, '5')).toBeNull();
  expect([...measuredOf({ by: 'aps', ids: [one!.id] }, design, place.around, '5')!]).toEqual([one!.id]);
  expect(heardWords({ by: 'channel', band: '5', primary }, design, '5')).toBe(`channel ${primary} alone`);
  expect(heardWords({ by: 'aps', ids: [one!.id, two!.id] }, design, '5')).toBe('2 access points alone');
});

test('by a network name: of those that announce it in the band, of nobody where none does, and of all once the name is gone', () => {
  const [scanners, staff] = [ssidsOf(design).find(({ bands }) => bands.length === 1)!, ssidsOf(design)[1]!];
  const heard = (id: string, band: Band, of = design) => names(apsHeard({ by: 'ssid', id }, of, place.around, band));
  expect(heard(scanners.id, '2.4')).toEqual(names(place.around));
  expect(heard(scanners.id, '5')).toEqual([]);
  const [one] = place.around;
  const withheld = applyChanges(design, announce(design, [one!.id], staff.id, false));
  const around = placeOf(withheld, floor.id, proposed!.id)!.around;
  expect(names(apsHeard({ by: 'ssid', id: staff.id }, withheld, around, '5'))).toEqual(names(place.around.slice(1)));
  expect(heardWords({ by: 'ssid', id: staff.id }, design, '5')).toBe('network “Quillhaven Staff” alone');
  expect(standingChoice({ by: 'ssid', id: staff.id }, applyChanges(design, removeSsid(design, staff.id)))).toBeNull();
  expect(counterpart({ by: 'ssid', id: staff.id }, design, place.around)).toEqual({ by: 'ssid', id: staff.id });
  expect(measuredOf({ by: 'ssid', id: scanners.id }, design, place.around, '5')).toEqual(new Set());
});

test('what is gone is left out, and of nothing left it is of all again', () => {
  const [one, two] = place.around;
  const from: HeardFrom = { by: 'aps', ids: [one!.id, 'constructor', two!.id] };
  expect(standingChoice(from, design)).toEqual({ by: 'aps', ids: [one!.id, two!.id] });
  expect(standingChoice({ by: 'aps', ids: ['gone'] }, design)).toBeNull();
  expect(heardWords({ by: 'aps', ids: ['gone'] }, design, '5')).toBe('');
});

test('in another variant it is those of the same names; nobody, where there are none', () => {
  const found = placeOf(design, floor.id, asFound!.id)!;
  const shared = place.around.find(({ name }) => found.around.some((ap) => ap.name === name));
  const missing = place.around.find(({ name }) => !found.around.some((ap) => ap.name === name));
  if (shared !== undefined) {
    const there = counterpart({ by: 'aps', ids: [shared.id] }, design, found.around);
    expect(names(apsHeard(there, design, found.around, '5'))).toEqual([shared.name]);
  }
  const renamed: Design = {
    ...design,
    accessPoints: { ...design.accessPoints, [place.around[0]!.id]: { ...design.accessPoints[place.around[0]!.id]!, name: 'nowhere else' } },
  };
  expect(counterpart({ by: 'aps', ids: [place.around[0]!.id] }, renamed, found.around)).toEqual({ by: 'aps', ids: [] });
  if (missing !== undefined) expect(counterpart({ by: 'aps', ids: [missing.id] }, design, found.around)).toEqual({ by: 'aps', ids: [] });
  expect(counterpart({ by: 'channel', band: '5', primary: 36 }, design, found.around)).toEqual({ by: 'channel', band: '5', primary: 36 });
});
