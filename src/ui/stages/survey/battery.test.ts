import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { rememberBattery } from './battery';
import { useWalker } from './walker';

const kept = new Map<string, string>();
let writes = 0;
beforeEach(() => {
  kept.clear();
  writes = 0;
  useWalker.setState({ battery: 1 });
  Object.defineProperty(globalThis, 'sessionStorage', {
    configurable: true,
    value: {
      getItem: (key: string) => kept.get(key) ?? null,
      setItem: (key: string, text: string) => {
        writes++;
        kept.set(key, text);
      },
    },
  });
});
afterEach(() => void Reflect.deleteProperty(globalThis, 'sessionStorage'));

/** As a page that is loaded anew. */
function reload(stop: () => void): () => void {
  stop();
  useWalker.setState({ battery: 1 });
  return rememberBattery();
}

test('after a reload the battery is as it was left: nearly used up, empty, or changed', () => {
  let stop = rememberBattery();
  for (const battery of [0.42, 0, 1]) {
    useWalker.setState({ battery });
    stop = reload(stop);
    expect(useWalker.getState().battery).toBe(battery);
  }
  stop();
});

test('the last of it counts, and it is not written at every step', () => {
  let stop = rememberBattery();
  for (let battery = 1; battery > 0.9; battery -= 0.0001) useWalker.setState({ battery });
  expect(writes).toBeGreaterThan(10);
  expect(writes).toBeLessThan(30);
  useWalker.setState({ battery: 0.001 });
  useWalker.setState({ battery: 0 });
  stop = reload(stop);
  expect(useWalker.getState().battery).toBe(0);
  stop();
});

test.each(['', '{', '"full"', '-1', '7', 'null'])('what nobody can use (%s) is a full one', (text) => {
  kept.set('upper-room.receiver.battery', text);
  rememberBattery()();
  expect(useWalker.getState().battery).toBe(1);
});
