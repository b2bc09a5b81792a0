import { execFileSync } from 'node:child_process';
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { Channel } from '../../radio/channel';
import { topThree } from '../combine';
import { compiledKernel } from './kernel';

const kernel = compiledKernel()!;

test('what is compiled is what stands in assembly/', () => {
  expect(execFileSync(process.execPath, ['scripts/kernel.mjs', '--check'], { encoding: 'utf8' })).toMatch(/^\d+ bytes/);
});

test('the strongest three are those of the reference in every cell: equal levels, few radios, any number of cells', () => {
  const channel: Channel = { band: '5', primary: 36, widthMhz: 20 };
  // Few values, so that many levels are equal; a radio without power, and cells out of reach.
  const lossDb = fc.constantFrom(40, 52.3, 52.4, 60.05, 61, 75.5, Infinity, NaN);
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 11 }),
      fc.array(fc.tuple(fc.constantFrom(17, 12.3, 0.1, -Infinity), fc.array(lossDb, { minLength: 11, maxLength: 11 })), { maxLength: 9 }),
      (cells, radios) => {
        const lit = radios.map(([txPowerDbm, losses]) => ({ txPowerDbm, channel, lossDb: Float32Array.from(losses.slice(0, cells)) }));
        const [fast, slow] = [topThree(lit, cells, kernel), topThree(lit, cells, null)];
        expect([...fast.level]).toEqual([...slow.level]);
        expect([...fast.radio]).toEqual([...slow.radio]);
      },
    ),
    { numRuns: 400, seed: 20261129 },
  );
});

test('cells beyond one block are done as those of the first', () => {
  const channel: Channel = { band: '6', primary: 5, widthMhz: 80 };
  const cells = 5003;
  const lit = [11, 14, 17, 20].map((txPowerDbm, j) => ({
    txPowerDbm,
    channel,
    lossDb: Float32Array.from({ length: cells }, (_, i) => 60 + ((i * (j + 3)) % 47)),
  }));
  const [fast, slow] = [topThree(lit, cells, kernel), topThree(lit, cells, null)];
  expect(Buffer.from(fast.level.buffer).equals(Buffer.from(slow.level.buffer))).toBe(true);
  expect(Buffer.from(fast.radio.buffer).equals(Buffer.from(slow.radio.buffer))).toBe(true);
  expect(new Set(fast.radio.slice(0, cells)).size).toBe(4);
});
