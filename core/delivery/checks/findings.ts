import { textureEnding, type TextureFormat } from '../settings';
import type { Leak } from './leaks';
import type { Owners } from './owners';
import type { Check, CheckedSheet, CheckFinding, CheckHow } from './report';
import type { Gap, PartTexels } from './texels';

/** What was measured of one sheet. */
export interface MeasuredSheet {
  readonly owners: Owners;
  readonly leaks: readonly Leak[];
  readonly bleed: number;
  readonly gap: Gap | null;
  readonly unpainted: readonly PartTexels[];
  readonly outside: readonly PartTexels[];
  readonly banded: readonly PartTexels[];
  readonly lost: { readonly mean: number; readonly p95: number } | null;
  readonly covered: number;
}

export const round = (x: number): number => Math.round(x * 10) / 10;
const total = (parts: readonly PartTexels[]): number => parts.reduce((sum, p) => sum + p.texels, 0);

/**
 * Texels that colour has to reach past a border so that no lookup at the last level meets another: two texels of that level are mixed, of
 * which the farther one ends one and a half of them from where is looked.
 */
export const bleedNeeded = (mips: number): number => Math.ceil(1.5 * 2 ** mips);

/** A few names, and how many more. */
function namesOf(parts: readonly string[]): string {
  const [a, b] = parts.map((part) => `“${part}”`);
  if (parts.length < 3) return parts.length === 1 ? a! : `${a} and ${b}`;
  return `${a}, ${b} and ${parts.length - 2} more`;
}

/** Part of the covered texels up to which a few of them are let pass. */
const FEW = 0.002;
/** Part of the covered texels that may lie in steps before it is told. */
const BANDED = 0.05;
/** ΔE up to which a compressed picture counts as the same; twice the least that is seen. */
const LOST = 2;

/** What of a sheet isn't as asked, in sentences. */
export function findingsOf(told: MeasuredSheet, sheet: number, how: CheckHow): CheckFinding[] {
  const { leaks, bleed, gap, unpainted, outside, banded, lost, covered } = told;
  const out: CheckFinding[] = [];
  const tell = (check: Check, weight: CheckFinding['weight'], face: number, says: string): void =>
    void out.push({ check, weight, says, sheet, face });
  const [worst] = leaks;
  if (worst) {
    const first = Math.min(...leaks.map((l) => l.mip));
    tell(
      'seams',
      'wrong',
      worst.face,
      `Other colours show along borders of ${namesOf([...new Set(leaks.map((l) => l.part))])} from mip ${first} on (at worst ΔE ${round(worst.deltaE)} at mip ${worst.mip}, ${how.limit} allowed). ${
        bleed < bleedNeeded(how.mips)
          ? 'Let the bleed reach farther.'
          : 'Pack the islands farther apart, or ask for fewer mips.'
      }`,
    );
  }
  if (bleed < bleedNeeded(how.mips)) {
    tell(
      'bleed',
      'wrong',
      -1,
      `Colour reaches ${bleed} texels past the islands; ${how.mips} mips need ${bleedNeeded(how.mips)}. Let the bleed reach farther.`,
    );
  }
  if (gap && gap.texels < 2 * bleedNeeded(how.mips)) {
    tell(
      'gap',
      'look',
      gap.faces[0],
      `The nearest islands are ${gap.texels} texels apart; ${how.mips} mips ask for ${2 * bleedNeeded(how.mips)}. Pack them with a larger margin at Unwrap.`,
    );
  }
  if (unpainted.length > 0) {
    const [most] = unpainted;
    tell(
      'unpainted',
      'wrong',
      most!.face,
      `${total(unpainted)} texels have no full colour, most of them on “${most!.part}”. Lay a colour under everything.`,
    );
  }
  if (total(outside) > covered * FEW) {
    const [most] = outside;
    tell(
      'range',
      'look',
      most!.face,
      `${Math.round((100 * total(outside)) / covered)} % of the texels are darker or lighter than an albedo may be (L* ${how.range[0]} to ${how.range[1]}), most on “${most!.part}”.`,
    );
  }
  if (total(banded) > covered * BANDED) {
    const [most] = banded;
    tell(
      'banding',
      'look',
      most!.face,
      `${Math.round((100 * total(banded)) / covered)} % of the texels lie in steps of a slope that 8 bit can’t hold, most on “${most!.part}”. Deliver dithered, or with 16 bit.`,
    );
  }
  if (lost && lost.p95 > LOST) {
    tell(
      'compression',
      'look',
      -1,
      `The ${textureEnding(how.format).slice(1).toUpperCase()} loses ΔE ${round(lost.p95)} at its worst twentieth (${round(lost.mean)} in the mean). Choose a finer quality.`,
    );
  }
  return out;
}

/** Bytes a texel in a graphics card: Basis Universal becomes BC7 or ASTC 4 x 4, all others stay RGBA. */
const BYTES: Readonly<Record<TextureFormat, number>> = {
  png: 4,
  'png-dithered': 4,
  'png-16': 8,
  webp: 4,
  'webp-small': 4,
  ktx2: 1,
};

/** A square texture with all its halvings in a graphics card, bytes. */
export const textureMemory = (size: number, format: TextureFormat): number =>
  Math.round((size * size * BYTES[format] * 4) / 3);

export function figuresOf(told: MeasuredSheet, size: number, format: TextureFormat): CheckedSheet {
  return {
    seams: told.leaks.map(({ part, mip, length, deltaE, place }) => ({ part, mip, length, deltaE, place })),
    unpainted: total(told.unpainted),
    bleed: Number.isFinite(told.bleed) ? told.bleed : null,
    gap: told.gap?.texels ?? null,
    outside: total(told.outside),
    banded: total(told.banded),
    lost: told.lost,
    memory: textureMemory(size, format),
  };
}
