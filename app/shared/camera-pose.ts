/** A camera that can be kept and come back to. */
export interface CameraPose {
  readonly target: readonly [number, number, number];
  /** Unit quaternion xyzw. */
  readonly turn: readonly [number, number, number, number];
  readonly distance: number;
  /** Without perspective. */
  readonly flat: boolean;
  /** mm on a sensor of 36 x 24. */
  readonly focal: number;
  /** The picture is moved by this part of its height, to the right and up. */
  readonly shift: readonly [number, number];
}
