/**
 * An antenna as its two principal cuts. The horizontal cut is relative to the peak (0 dB and below), by degrees from the azimuth;
 * the vertical cut likewise by degrees from the horizon at the azimuth (negative is down). Values are given at even spacing.
 */
export type Antenna = Readonly<{
  peakDbi: number;
  /** 0..360 exclusive, evenly spaced, clockwise from the azimuth; a single value is an omni. */
  horizontalDb: readonly number[];
  /** -90..90 inclusive, evenly spaced. */
  verticalDb: readonly number[];
}>;

/** An antenna without direction. */
export const ISOTROPIC: Antenna = { peakDbi: 0, horizontalDb: [0], verticalDb: [0, 0, 0] };

const DEG = 180 / Math.PI;

/** Whether the gain depends on elevation alone: a horizontal cut of one value, or of equal ones. The one definition for fast and exact code. */
export const isOmni = (antenna: Antenna): boolean => antenna.horizontalDb.every((value) => value === antenna.horizontalDb[0]);

function cyclic(values: readonly number[], deg: number): number {
  const n = values.length;
  if (n === 1) return values[0]!;
  const position = ((((deg % 360) + 360) % 360) / 360) * n;
  const index = Math.floor(position) % n;
  const next = (index + 1) % n;
  return values[index]! + (values[next]! - values[index]!) * (position - Math.floor(position));
}

function clampedCut(values: readonly number[], deg: number): number {
  const position = ((Math.min(90, Math.max(-90, deg)) + 90) / 180) * (values.length - 1);
  const index = Math.min(values.length - 2, Math.floor(position));
  return values[index]! + (values[index + 1]! - values[index]!) * (position - index);
}

/**
 * Gain in dBi from angles. The two cuts are added, each weighted down the farther the direction is from where it was measured: the horizontal
 * one with elevation, the vertical one with the angle off the azimuth; there the lower of the two takes over. The vertical cut is known in front
 * only and is taken for behind as well. A weighting of our own in the manner of Gil et al., IEEE Antennas and Propagation Magazine 43(2), 2001. `facing` is the cosine of `offAxisDeg`;
 * tilt turns the pattern down by `tiltDeg` at the azimuth and up behind it.
 */
export function gainAtAnglesDbi(antenna: Antenna, tiltDeg: number, offAxisDeg: number, facing: number, elevationDeg: number): number {
  if (isOmni(antenna)) return antenna.peakDbi + antenna.horizontalDb[0]! + clampedCut(antenna.verticalDb, elevationDeg);
  const cutDeg = elevationDeg + tiltDeg * facing;
  const away = Math.abs(((((offAxisDeg + 180) % 360) + 360) % 360) - 180) / 180;
  const steep = Math.min(1, Math.abs(cutDeg) / 90);
  const horizontalDb = cyclic(antenna.horizontalDb, offAxisDeg);
  const verticalDb = clampedCut(antenna.verticalDb, cutDeg);
  return antenna.peakDbi + horizontalDb * (1 - steep) + verticalDb * (1 - away) + Math.min(horizontalDb, verticalDb) * away * steep;
}

/**
 * Gain in dBi toward a point given by its offset from the antenna.
 * @param eastM offset along x; @param southM offset along y (down the plan); @param upM offset in height.
 * Azimuth is a compass bearing on the plan: 0 is up, clockwise.
 */
export function gainDbi(antenna: Antenna, azimuthDeg: number, tiltDeg: number, eastM: number, southM: number, upM: number): number {
  const horizontalM = Math.sqrt(eastM * eastM + southM * southM);
  const offAxisDeg = Math.atan2(eastM, -southM) * DEG - azimuthDeg;
  return gainAtAnglesDbi(antenna, tiltDeg, offAxisDeg, Math.cos(offAxisDeg / DEG), Math.atan2(upM, horizontalM) * DEG);
}
