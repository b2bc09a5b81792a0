import { middlePowerDbm, type Channel } from '../../radio/channel';
import { placesFor, type Kernel } from './kernel';

/** Cells that are done at once: their losses of many radios stay near the processor. */
const BLOCK = 2048;

type Sent = Readonly<{ lossDb: Float32Array; txPowerDbm: number; channel: Channel }>;

/** As `topThree` of `../combine.ts`, by the kernel: the same levels and radios in every cell, into its three planes of each. */
export function kernelTopThree(
  kernel: Kernel,
  radios: readonly Sent[],
  cells: number,
  top: Readonly<{ level: Float32Array; radio: Int16Array }>,
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
