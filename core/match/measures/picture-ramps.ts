import { oklabToHex, rgbToOklab, type Oklab, type Ramp } from '../../color';
import { clamp01, dot, normalize, type Vec3, upperMedian } from '../../math';
import { normalSeen } from '../camera/see-model';
import type { PreparedMatch } from './report';

/** A part's colours by how far it turns toward the light. */
export interface PictureRamp {
  readonly part: string;
  readonly ramp: Ramp;
}

/** Tones are told in so many steps, each from pixels enough. */
const STEPS = 14;
const LEAST = 12;

/** Neighbouring stops nearer than this are one, OKLab. */
const SAME = 0.012;

/**
 * Colour ramps of a model's parts as a reference has them: of each step of light the middle colour, so that lines and spots don't count.
 *
 * @param toward the light: tones are (1 + cos) / 2 of the angle to it, as the cue Facing has them
 * @param aligned the pixel of the reference for each; null: its own
 */
export function pictureRamps(
  { mesh, seen, reference }: PreparedMatch,
  toward: Vec3,
  aligned: Int32Array | null,
): PictureRamp[] {
  const light = normalize(toward);
  const steps = mesh.parts.map(() => Array.from({ length: STEPS }, (): { tone: number; lab: Oklab }[] => []));
  for (let i = 0; i < seen.faces.length; i++) {
    const f = seen.faces[i]!;
    const j = aligned?.[i] ?? i;
    if (f < 0 || reference[j * 4 + 3] === 0) continue;
    const tone = clamp01((1 + dot(normalSeen(mesh, seen, i), light)) / 2);
    const lab = rgbToOklab({ r: reference[j * 4]!, g: reference[j * 4 + 1]!, b: reference[j * 4 + 2]! });
    steps[mesh.faceParts[f]!]![Math.min(STEPS - 1, Math.floor(tone * STEPS))]!.push({ tone, lab });
  }
  return steps.flatMap((of, p): PictureRamp[] => {
    const stops = of.flatMap((pixels) => {
      if (pixels.length < LEAST) return [];
      const at = pixels.reduce((s, { tone }) => s + tone, 0) / pixels.length;
      return [{ at, lab: middleColor(pixels.map((q) => q.lab)) }];
    });
    const kept = stops.filter(
      ({ lab }, k) =>
        k === 0 ||
        k === stops.length - 1 ||
        apart(lab, stops[k - 1]!.lab) > SAME ||
        apart(lab, stops[k + 1]!.lab) > SAME,
    );
    if (kept.length === 0) return [];
    const ends =
      kept.length === 1
        ? [
            { ...kept[0]!, at: 0 },
            { ...kept[0]!, at: 1 },
          ]
        : kept;
    return [
      {
        part: mesh.parts[p]!,
        ramp: {
          stops: ends.map(({ at, lab }) => ({ at: Math.round(at * 1000) / 1000, color: oklabToHex(lab) })),
          mixing: 'oklab',
          hardness: 0,
        },
      },
    ];
  });
}

const apart = (a: Oklab, b: Oklab): number => Math.hypot(a.L - b.L, a.a - b.a, a.b - b.b);

/** The middle of each coordinate by itself. */
function middleColor(labs: readonly Oklab[]): Oklab {
  const middle = (of: (lab: Oklab) => number): number => upperMedian(labs.map(of));
  return { L: middle((l) => l.L), a: middle((l) => l.a), b: middle((l) => l.b) };
}
