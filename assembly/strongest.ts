// The strongest three radios of every cell, four cells at a time: `topThree` of `src/core/fields/combine.ts`.

/**
 * @param count cells, a multiple of four
 * @param losses a plane of `count` losses in dB per radio, one after another
 * @param powers power of each radio in dBm
 * @param level three planes of `pitch` bytes for the levels, strongest first; -Infinity where there are fewer radios
 * @param radio three planes of `pitch / 2` bytes for whose they are; -1 where none
 */
export function strongestThree(count: i32, radios: i32, losses: usize, powers: usize, level: usize, radio: usize, pitch: usize): void {
  const none = i32x4.splat(-1);
  const nothing = f32x4.splat(-Infinity);
  const plane: usize = count << 2;
  for (let i: usize = 0; i < plane; i += 16) {
    let l1 = nothing;
    let l2 = nothing;
    let l3 = nothing;
    let r1 = none;
    let r2 = none;
    let r3 = none;
    let at = losses + i;
    for (let j = 0; j < radios; j++, at += plane) {
      const v = f32x4.sub(v128.load32_splat(powers + (j << 2)), v128.load(at));
      const over3 = f32x4.gt(v, l3);
      if (!v128.any_true(over3)) continue;
      const own = i32x4.splat(j);
      const over1 = f32x4.gt(v, l1);
      const over2 = f32x4.gt(v, l2);
      l3 = v128.bitselect(l2, v128.bitselect(v, l3, over3), over2);
      r3 = v128.bitselect(r2, v128.bitselect(own, r3, over3), over2);
      l2 = v128.bitselect(l1, v128.bitselect(v, l2, over2), over1);
      r2 = v128.bitselect(r1, v128.bitselect(own, r2, over2), over1);
      l1 = v128.bitselect(v, l1, over1);
      r1 = v128.bitselect(own, r1, over1);
    }
    v128.store(level + i, l1);
    v128.store(level + pitch + i, l2);
    v128.store(level + 2 * pitch + i, l3);
    const half = radio + (i >> 1);
    v128.store64_lane(half, i16x8.narrow_i32x4_s(r1, r1), 0);
    v128.store64_lane(half + (pitch >> 1), i16x8.narrow_i32x4_s(r2, r2), 0);
    v128.store64_lane(half + pitch, i16x8.narrow_i32x4_s(r3, r3), 0);
  }
}
