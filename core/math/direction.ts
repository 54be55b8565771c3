import type { Vec3 } from './vec3';

/** Where a direction points, radians. */
export interface Bearing {
  /** Round the upright axis: 0 to the front (+z), a quarter turn to +x. */
  readonly azimuth: number;
  /** Above the level plane. */
  readonly elevation: number;
}

/** @param direction of any length but 0 */
export function bearingOf([x, y, z]: Vec3): Bearing {
  return { azimuth: Math.atan2(x, z), elevation: Math.atan2(y, Math.hypot(x, z)) };
}

/** The unit vector that points there. */
export function directionOf({ azimuth, elevation }: Bearing): Vec3 {
  const level = Math.cos(elevation);
  return [Math.sin(azimuth) * level, Math.sin(elevation), Math.cos(azimuth) * level];
}
