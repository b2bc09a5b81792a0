import { expect, test } from '@jest/globals';
import { channelsOf, channelsText } from './channelText';

test.each([
  ['36–48', '5', [36, 40, 44, 48]],
  ['36-48, 100; 149 to 157', '5', [36, 40, 44, 48, 100, 149, 153, 157]],
  ['1-13', '2.4', [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13]],
  ['100, 36, 36', '5', [36, 100]],
  ['5', '6', [5]],
] as const)('%s at %s GHz', (text, band, channels) => {
  expect(channelsOf(text, band)).toEqual(channels);
  expect(channelsOf(channelsText(channels, band), band)).toEqual(channels);
});

test.each([
  ['37', '5'],
  ['', '5'],
  ['48-36', '5'],
  ['one', '6'],
  ['1-999999999', '2.4'],
  ['36', '2.4'],
] as const)('%s are no channels of %s GHz', (text, band) => expect(channelsOf(text, band)).toBeNull());

test('what follows each other is read as from–to', () => {
  expect(channelsText([36, 40, 44, 48, 100, 149, 153], '5')).toBe('36–48, 100, 149–153');
  expect(channelsText([1, 6, 11, 12], '2.4')).toBe('1, 6, 11–12');
});
