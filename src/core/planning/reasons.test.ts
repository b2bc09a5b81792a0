import { modelOf } from '../radio/catalogue';
import { expect, test } from '@jest/globals';
import { DEFAULT_RULES, type PlanRadio, type PlanRules, type Setting } from './problem';
import { BARRED_WORDS, whyOf } from './reasons';

const rules: PlanRules = { ...DEFAULT_RULES, domain: 'EU' };
const before: Setting = { on: true, channel: 36, widthMhz: 40, txPowerDbm: 18 };
// Heron C4 at 5 GHz: 4.8 dBi, 23 dBm; EU leaves 23 dBm EIRP on 36 and 30 dBm on 100.
const radio: PlanRadio = {
  apId: 'a',
  name: 'A-01',
  model: modelOf('heron-c4'),
  band: '5',
  locked: false,
  forbidden: [],
  before,
  lossDb: new Float32Array(0),
  cellLossDb: new Float32Array(0),
  lossToRadioDb: new Float32Array(0),
};
const nothing = { takers: [], barredBy: null, othersBefore: 0, capDbm: 30, cause: null };
const why = (after: Partial<Setting>, found: Partial<Parameters<typeof whyOf>[3]> = {}, of: Partial<PlanRadio> = {}, by: Partial<PlanRules> = {}) =>
  whyOf({ ...radio, ...of }, { ...(of.before ?? before), ...after }, { ...rules, ...by }, { ...nothing, ...found });

test.each<[string, string, string]>([
  ['nothing changed', why({}), 'Stays: no change saves more than the change penalty.'],
  ['locked', why({}, {}, { locked: true }), 'Locked: left as it is.'],
  ['off', why({ on: false }), 'Off: coverage at −67 dBm is kept without it, and its channel is free for the others.'],
  ['shared', why({ channel: 44 }, { takers: ['B', 'C', 'D', 'E', 'F'] }), '36 was shared with B, C, D and 2 more.'],
  ['others', why({ channel: 44 }, { othersBefore: 0.3 }), '36 is used by networks of others.'],
  ['not chosen', why({ channel: 44 }, { takers: ['B'] }, {}, { channels: { ...rules.channels, '5': [44] } }), '36 is not among the channels chosen.'],
  ['forbidden', why({ channel: 44 }, { takers: ['B'] }, { forbidden: [36] }), '36 is forbidden for it.'],
  ['not allowed', why({ channel: 44 }, {}, { before: { ...before, channel: 149 } }), '149/40 is not allowed in EU.'],
  ['radar', why({ channel: 44 }, {}, { before: { ...before, channel: 52 } }, { dfs: 'never' }), '52 needs radar detection, which is not to be used.'],
  ['room', why({ channel: 44 }), 'Makes room for the others.'],
  ['narrower, a choice', why({ widthMhz: 20 }), 'Narrower: 40 MHz would meet more than they are worth.'],
  [
    'narrower, not chosen',
    why({ widthMhz: 20 }, {}, {}, { widthsMhz: { ...rules.widthsMhz, '5': [20] } }),
    'Narrower: 40 MHz is not among the widths chosen.',
  ],
  ['wider', why({ widthMhz: 80 }), 'Wider: 80 MHz costs less than it is worth.'],
  [
    'quieter for the others',
    why({ txPowerDbm: 12.3 }, { cause: { part: 'contention', much: 0.123 } }),
    '5.7 dB less: it is heard less elsewhere, 0.12 radios sharing airtime fewer in the mean.',
  ],
  [
    'louder for coverage',
    why({ txPowerDbm: 19 }, { cause: { part: 'coverage', much: 0.0123 } }),
    '1 dB more: 1.2 % of the area would else fall below −67 dBm.',
  ],
  [
    'quieter beside its neighbours',
    why({ txPowerDbm: 12 }, { cause: { part: 'spread', much: 0.2 } }),
    '6 dB less: neighbours differ by 6 dB at the most.',
  ],
  [
    'louder: a small cell',
    why({ txPowerDbm: 20 }, { cause: { part: 'unequal', much: 0.2 } }),
    '2 dB more: its cell was much smaller than the others.',
  ],
  ['quieter for nothing', why({ txPowerDbm: 12 }), '6 dB less: nothing is lost by it, beside the other changes.'],
  // 23 - 4.8 = 18.2, whole decibels 18, less 1 dB headroom.
  ['capped by law', why({ txPowerDbm: 17 }, { capDbm: 17 }), 'Capped at 17 dBm by the law of EU, 23 dBm EIRP, less 1 dB headroom.'],
  [
    'capped by the model',
    why({ channel: 100, txPowerDbm: 22 }, { capDbm: 22 }, { before: { ...before, channel: 100, txPowerDbm: 23 } }, { maxPowerDbm: 30 }),
    'Capped at 22 dBm by its model, 23 dBm, less 1 dB headroom.',
  ],
  [
    'capped by the engineer',
    why({ txPowerDbm: 10 }, { capDbm: 10 }, {}, { maxPowerDbm: 10, headroomDb: 0 }),
    'Capped at 10 dBm by the maximum power chosen.',
  ],
])('the true cause: %s', (_name, said, expected) => expect(said).toBe(expected));

test('a radio without a channel says which rule took the last one, and what helps', () => {
  for (const rule of Object.keys(BARRED_WORDS) as Array<keyof typeof BARRED_WORDS>)
    expect(why({}, { barredBy: rule })).toBe(`Left as it is: ${BARRED_WORDS[rule](radio, rules)}`);
  expect(why({}, { barredBy: 'outdoor' })).toContain('EU allows these 5 GHz channels indoors only: choose another model');
});
