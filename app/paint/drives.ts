import { STRAIGHT, type DriveCurve, type Drives } from '../../core/paint';
import { brushInHand, changeShape, useUi } from '../shared/ui-store';

export type Driver = 'pressure' | 'tilt' | 'speed';

/** What drives a brush, and what it drives, in words. */
export const DRIVER_WORDS: Readonly<Record<Driver, string>> = {
  pressure: 'Pressure',
  tilt: 'Tilt',
  speed: 'Speed',
};
export const DRIVEN_WORDS: Readonly<Record<keyof Drives, string>> = {
  size: 'Size',
  opacity: 'Opacity',
  edge: 'Softness',
  angle: 'Turn',
};

/** Sets the curve by which something drives the brush in hand; null: not at all. */
export function setDrive(driver: Driver, of: keyof Drives, curve: DriveCurve | null): void {
  const { shape } = brushInHand(useUi.getState());
  changeShape({ [driver]: { ...shape[driver], [of]: curve } });
}

export function togglePressure(of: keyof Drives): void {
  const { pressure } = brushInHand(useUi.getState()).shape;
  setDrive('pressure', of, pressure[of] ? null : STRAIGHT);
}
