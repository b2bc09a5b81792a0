import { expect, test } from '@jest/globals';
import { museum } from '@demo/museum';
import { remove } from './commands';
import { KINDS } from './registry';
import { applyChanges } from './step';
import { keepSignals, signalsOn, type SignalReading } from './surveyCommands';

const design = museum();
const floorId = Object.keys(design.floors)[0]!;
const reading = (fields: Partial<SignalReading> = {}): SignalReading => ({
  id: 'r1',
  floorId,
  signal: 'oven',
  atMs: 4.4e7,
  xM: 3,
  yM: 4,
  centreMhz: 2458,
  levelDbm: -50,
  likelihood: 0.98,
  ...fields,
});

test('readings are kept by floor and kind; a newer one at the same spot takes the place of the older', () => {
  const first = applyChanges(design, keepSignals(design, [reading(), reading({ id: 'r2', signal: 'carrier' })]));
  expect([...signalsOn(first, floorId).keys()]).toEqual(['oven', 'carrier']);
  const again = applyChanges(first, keepSignals(first, [reading({ id: 'r3', xM: 3.5, levelDbm: -48 }), reading({ id: 'r4', xM: 5 })]));
  expect(
    signalsOn(again, floorId)
      .get('oven')!
      .map(({ id }) => id),
  ).toEqual(['r3', 'r4']);
  expect(signalsOn(again, floorId).get('carrier')).toHaveLength(1);
  expect(signalsOn(again, 'elsewhere').size).toBe(0);
});

test('they go with their floor, and what is no signal is refused', () => {
  const kept = applyChanges(design, keepSignals(design, [reading()]));
  const gone = remove(kept, 'floors', [floorId]).map(({ table }) => table);
  expect(gone).toContain('signalReadings');
  expect(KINDS.signalReadings.schema.safeParse(reading()).success).toBe(true);
  expect(KINDS.signalReadings.schema.safeParse({ ...reading(), signal: 'constructor' }).success).toBe(false);
  expect(KINDS.signalReadings.schema.safeParse(reading({ levelDbm: 99 })).success).toBe(false);
});
