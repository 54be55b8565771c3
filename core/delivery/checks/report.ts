import type { DeliverySettings, TextureFormat } from '../settings';
import type { Vec3 } from '../../math';
import type { Leak } from './leaks';
import type { Merging } from './merging';

/** What is asked of a delivery. */
export interface CheckHow {
  /** The last level of the halvings that has to be clean; 0 is the sheet itself. */
  readonly mips: number;
  /** Differences at borders up to this are none (CIEDE2000). */
  readonly limit: number;
  readonly halving: DeliverySettings['halving'];
  readonly format: TextureFormat;
  /** Lightness L* that an albedo may have. */
  readonly range: readonly [number, number];
  /** How many times denser the densest island may be than the sparsest, in texels a unit. */
  readonly densityFactor: number;
  /** Pixels over which the model stands in the game, and the least difference of parts there. */
  readonly gameSize: number;
  readonly mergeLimit: number;
}

export const USUAL_CHECK: CheckHow = {
  mips: 4,
  limit: 2,
  halving: 'linear',
  format: 'png',
  range: [0, 100],
  densityFactor: 4,
  gameSize: 128,
  mergeLimit: 2,
};

/** What can be wrong, in the order in which it is told. */
export const CHECKS = [
  'seams',
  'bleed',
  'gap',
  'unpainted',
  'stacked',
  'density',
  'ramps',
  'range',
  'banding',
  'merging',
  'compression',
] as const;
export type Check = (typeof CHECKS)[number];

/** Something that isn't as asked. */
export interface CheckFinding {
  readonly check: Check;
  /** `wrong` lets the delivery fail; `look` is for the eye to decide. */
  readonly weight: 'wrong' | 'look';
  /** What was found, where, and what would mend it. */
  readonly says: string;
  readonly sheet: number;
  /** A triangle at which it is; -1: no place of its own. */
  readonly face: number;
  /** Which seat on the ramp sheet it is about. */
  readonly seat?: number;
  /** The part that is better moved in value, and by how much: lightness (OKLab), down where negative. */
  readonly move?: { readonly part: string; readonly lightness: number };
}

export interface CheckedSheet {
  readonly seams: readonly (Pick<Leak, 'part' | 'mip' | 'length' | 'deltaE'> & { readonly place: Vec3 })[];
  readonly unpainted: number;
  /** Texels that colour reaches past the islands; null: everywhere. */
  readonly bleed: number | null;
  /** Texels between the nearest two islands; null: there is one. */
  readonly gap: number | null;
  readonly outside: number;
  readonly banded: number;
  /** ΔE of what is read from the file; null where nothing is lost, or it wasn't read. */
  readonly lost: { readonly mean: number; readonly p95: number } | null;
  /** In a graphics card with all levels, bytes. */
  readonly memory: number;
}

export interface CheckReport {
  readonly sheets: readonly CheckedSheet[];
  /** Densest beside sparsest island. */
  readonly density: number;
  /** Triangles that lie on another island that looks another way. */
  readonly stacked: number;
  readonly merging: readonly Merging[];
  /** Texels of the model's surface whose tone lies beyond their ramp, part of all on ramps. */
  readonly beyondRamps: number;
  readonly findings: readonly CheckFinding[];
  readonly ok: boolean;
}
