import { middlePowerDbm } from '../../radio/channel';
import type { LitRadio, TopThree } from '../combine';
import { placesFor, type Kernel } from './kernel';

/** Cells that are done at once: their losses of many radios stay near the processor. */
const BLOCK = 2048;

/** As `topThree`, by the kernel: the same levels and radios in every cell. */
export function kernelTopThree(
  kernel: Kernel,
  radios: readonly Pick<LitRadio, 'lossDb' | 'txPowerDbm' | 'channel'>[],
  cells: number,
  top: TopThree,
): void {
  const pitch = BLOCK * 4;
  const [powers, losses, level, radio] = placesFor(kernel, kernel.base, [radios.length * 4, radios.length * pitch, 3 * pitch, (3 * pitch) / 2]) as [
    number,
    number,
    number,
    number,
  ];
  const { buffer } = kernel.memory;
  new Float32Array(buffer, powers).set(radios.map(middlePowerDbm));
  for (let from = 0; from < cells; from += BLOCK) {
    const some = Math.min(BLOCK, cells - from);
    const count = (some + 3) & ~3;
    radios.forEach(({ lossDb }, j) => new Float32Array(buffer, losses + j * count * 4, some).set(lossDb.subarray(from, from + some)));
    kernel.run.strongestThree(count, radios.length, losses, powers, level, radio, pitch);
    for (let rank = 0; rank < 3; rank++) {
      top.level.set(new Float32Array(buffer, level + rank * pitch, some), rank * cells + from);
      top.radio.set(new Int16Array(buffer, radio + (rank * pitch) / 2, some), rank * cells + from);
    }
  }
}
