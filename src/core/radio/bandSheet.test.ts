import { describe, expect, test } from '@jest/globals';
import { bandSheet, cellWords, marksOf } from './bandSheet';

describe('the sheet of a band', () => {
  const numbers = (domain: 'US' | 'EU' | 'UK', band: '2.4' | '5' | '6') =>
    bandSheet(domain, band).map(({ name, cells }) => [name, cells.map(({ number }) => number)]);
  test('5 GHz in the UK: every channel once, in order, in stretches of one rule', () => {
    const groups = bandSheet('UK', '5');
    const all = groups.flatMap(({ cells }) => cells.map(({ number }) => number));
    expect(all).toEqual([
      36, 40, 44, 48, 52, 56, 60, 64, 100, 104, 108, 112, 116, 120, 124, 128, 132, 136, 140, 144, 149, 153, 157, 161, 165, 169, 173, 177,
    ]);
    expect(groups[0]!.cells.map(({ number }) => number)).toEqual([36, 40, 44, 48]);
    // 144 is not allowed in the UK, nor what lies above 165.
    expect(groups.filter(({ name }) => name === null).flatMap(({ cells }) => cells.map(({ number }) => number))).toEqual([144, 169, 173, 177]);
  });
  test('2.4 GHz: 12 to 14 stand apart in the US, 14 alone in the EU', () => {
    expect(numbers('US', '2.4')[1]).toEqual([null, [12, 13, 14]]);
    expect(numbers('EU', '2.4')[1]).toEqual([null, [14]]);
  });
  const cellOf = (domain: 'EU' | 'UK', band: '5' | '6', number: number) =>
    bandSheet(domain, band)
      .flatMap(({ cells }) => cells)
      .find((cell) => cell.number === number)!;
  test.each([
    ['UK', '5', 36, 'I', '36, indoors only, 23 dBm EIRP at 20 MHz'],
    ['EU', '5', 60, 'DI', '60, radar detection, listens 60 s before it sends, indoors only, 23 dBm EIRP at 20 MHz'],
    ['EU', '5', 120, 'W', '120, weather radar, listens 600 s before it sends, 30 dBm EIRP at 20 MHz'],
    ['EU', '5', 144, '', '144, not allowed in EU'],
    ['EU', '6', 5, 'PI', '5, preferred scanning channel, indoors only, 23 dBm EIRP at 20 MHz'],
    ['EU', '6', 9, 'I', '9, indoors only, 23 dBm EIRP at 20 MHz'],
  ] as const)('%s, %s GHz, %d', (domain, band, number, marks, words) => {
    expect([marksOf(cellOf(domain, band, number)), cellWords(cellOf(domain, band, number), domain)]).toEqual([marks, words]);
  });
});
