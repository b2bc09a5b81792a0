import { BANDS } from '@/core/radio/band';
import { modelKey, type ApModel } from '@/core/radio/catalogue';
import { centresOf, type Channel } from '@/core/radio/channel';
import type { Pose } from '@/core/propagation/crossing';
import type { EnginePool } from './pool';
import type { Scene } from './protocol';

/** Bytes of fields kept. The least recently used go first. */
const MAX_BYTES = 400e6;

/**
 * Loss fields by what they depend on: plan, model, grid, pose, antenna model, frequencies of the channels. Power is not in the key:
 * changing it computes no rays.
 */
export class FieldCache {
  private readonly fields = new Map<string, { lossDb: Promise<Float32Array[]>; bytes: number }>();
  private bytes = 0;

  constructor(private readonly pool: Pick<EnginePool, 'call'>) {}

  static key(scene: Scene, model: ApModel, pose: Pose, channels: readonly Channel[]): string {
    return [scene.key, modelKey(model), pose.xM, pose.yM, pose.zM, pose.azimuthDeg, pose.tiltDeg, ...centresOf(channels)].join('|');
  }

  /** The three bands' loss fields of one access point on these channels, computed or remembered; at the band's middle where it has none. */
  get(scene: Scene, model: ApModel, pose: Pose, channels: readonly Channel[] = []): Promise<Float32Array[]> {
    const key = FieldCache.key(scene, model, pose, channels);
    const known = this.fields.get(key);
    if (known !== undefined) {
      this.fields.delete(key);
      this.fields.set(key, known);
      return known.lossDb;
    }
    const bytes = scene.grid.cols * scene.grid.rows * 4 * BANDS.length;
    const lossDb = this.pool.call('lossField', { scene, model, pose, channels }).then((result) => result.lossDb);
    this.fields.set(key, { lossDb, bytes });
    this.bytes += bytes;
    lossDb.catch(() => {
      if (this.fields.delete(key)) this.bytes -= bytes;
    });
    for (const [oldKey, old] of this.fields) {
      if (this.bytes <= MAX_BYTES || oldKey === key) break;
      this.fields.delete(oldKey);
      this.bytes -= old.bytes;
    }
    return lossDb;
  }
}
