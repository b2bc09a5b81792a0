import { expect, test } from '@jest/globals';
import { bandRuleText, bandRuleWords, bandTaken, type BandRule } from './bandRule';

const NOBODY = -Infinity;

// Levels of 2.4, 5 and 6 GHz; which of them is taken.
test.each<[BandRule['prefers'], number, number[], number]>([
  ['highest', -70, [-50, -69, -80], 1],
  ['highest', -70, [-50, -70, -70], 2],
  ['lowest', -70, [-69, -40, -40], 0],
  ['lowest', -70, [-71, -60, -40], 1],
  // Where none is as loud as is asked, the loudest; of equals the lower.
  ['highest', -70, [-80, -75, -90], 1],
  ['lowest', -70, [-80, -75, -71], 2],
  ['highest', -70, [-75, -75, NOBODY], 0],
  ['loudest', -70, [-60, -55, -65], 1],
  ['loudest', -70, [NOBODY, NOBODY, -95], 2],
  ['highest', -70, [NOBODY, NOBODY, NOBODY], 0],
  ['highest', -90, [-50], 0],
])('%s from %d dBm of %j: %d', (prefers, fromDbm, levels, taken) => {
  expect(bandTaken({ prefers, fromDbm }, levels)).toBe(taken);
});

test('the rule in words', () => {
  expect(bandRuleWords({ prefers: 'highest', fromDbm: -67 })).toBe('the highest band from −67 dBm');
  expect(bandRuleWords({ prefers: 'loudest', fromDbm: -67 })).toBe('the loudest band');
  expect(bandRuleText({ prefers: 'lowest', fromDbm: -70 })).toBe('lowest, −70 dBm');
  expect(bandRuleText({ prefers: 'loudest', fromDbm: -70 })).toBe('loudest');
});
