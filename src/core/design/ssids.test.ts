import { expect, test } from '@jest/globals';
import { museum } from '@demo/museum';
import { projectOf, type Design } from './design';
import { readRecord } from './registry';
import { addSsid, announce, announcedBy, editSsid, removeSsid, ssidsOf } from './ssids';
import { applyChanges } from './step';

const design = museum();
const [one, two] = Object.values(design.accessPoints);
const names = (of: Design, band: '2.4' | '5', ap = one!) => announcedBy(of, of.accessPoints[ap.id]!, band)?.map(({ name }) => name);

test('an access point announces the names of a band but for what it withholds', () => {
  expect(names(design, '2.4')).toHaveLength(6);
  // The scanners know only 2.4 GHz.
  expect(names(design, '5')).toEqual(['Quillhaven', 'Quillhaven Staff', 'Wardens', 'Audio guides', 'Lectures']);
  const quieter = applyChanges(design, announce(design, [one!.id], 'ssid-3', false));
  expect(names(quieter, '5')).toEqual(['Quillhaven', 'Quillhaven Staff', 'Audio guides', 'Lectures']);
  expect(names(quieter, '5', two)).toHaveLength(5);
  expect(names(applyChanges(quieter, announce(quieter, [one!.id, two!.id], 'ssid-3', true)), '5')).toHaveLength(5);
});

test('a name is added, renamed and deleted; after the last nobody has said any', () => {
  const more = ['x', 'y'].reduce((at, id) => applyChanges(at, addSsid(at, id)), design);
  expect(
    ssidsOf(more)
      .map(({ name }) => name)
      .slice(6),
  ).toEqual(['Network', 'Network 2']);
  const renamed = applyChanges(more, editSsid(more, 'x', { name: 'Lager', bands: ['5'] }));
  expect(ssidsOf(renamed).find(({ id }) => id === 'x')).toEqual({ id: 'x', name: 'Lager', bands: ['5'] });
  const none = ssidsOf(design).reduce((at, { id }) => applyChanges(at, removeSsid(at, id)), design);
  expect(projectOf(none)!.network.ssids).toBeNull();
  expect(announcedBy(none, one!, '5')).toBeNull();
  // A page that asks again and again must get the same list, or it draws itself without end.
  expect(ssidsOf(none)).toBe(ssidsOf(applyChanges(none, [])));
});

test('a name that is taken or longer than 32 octets is refused; what is gone is withheld no more', () => {
  expect(() => editSsid(design, 'ssid-1', { name: 'Wardens' })).toThrow(expect.objectContaining({ code: 'SSID_REFUSED' }));
  expect(() => editSsid(design, 'ssid-1', { name: 'å'.repeat(17) })).toThrow(expect.objectContaining({ code: 'SSID_REFUSED' }));
  expect(editSsid(design, 'ssid-1', { name: 'å'.repeat(16) })).toHaveLength(1);
  // Its own name is not taken by itself.
  expect(editSsid(design, 'ssid-1', { name: 'Quillhaven' })).toHaveLength(0);
  const withheld = applyChanges(design, announce(design, [one!.id], 'ssid-3', false));
  const gone = applyChanges(withheld, removeSsid(withheld, 'ssid-3'));
  expect(applyChanges(gone, announce(gone, [one!.id], 'ssid-2', false)).accessPoints[one!.id]!.withheldSsids).toEqual(['ssid-2']);
});

test('older records: a number of names becomes as many, and nothing was withheld', () => {
  const today = projectOf(design)!;
  const old = (ssids: number | null) => ({ ...today, network: { ...today.network, ssids } });
  expect(readRecord('project', 4, old(2)).network.ssids).toEqual([
    { id: 'ssid-1', name: 'Network 1', bands: ['2.4', '5', '6'] },
    { id: 'ssid-2', name: 'Network 2', bands: ['2.4', '5', '6'] },
  ]);
  expect(readRecord('project', 4, old(null)).network.ssids).toBeNull();
  expect(() => readRecord('project', 5, old(2))).toThrow();
  const { withheldSsids: _withheld, ...before } = one!;
  expect(readRecord('accessPoints', 3, before)).toEqual(one);
  const twice = { ...today, network: { ...today.network, ssids: [ssidsOf(design)[0]!, { ...ssidsOf(design)[0]!, id: 'other' }] } };
  expect(() => readRecord('project', 5, twice)).toThrow();
});
