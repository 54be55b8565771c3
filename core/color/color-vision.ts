import { linearToSrgb, srgbToLinear } from './srgb';

/** Kinds of colour blindness, by the cones that are missing: red, green, blue. */
export const COLOR_VISIONS = ['protan', 'deutan', 'tritan'] as const;
export type ColorVision = (typeof COLOR_VISIONS)[number];

/**
 * What linear-light sRGB becomes where one kind of cone is missing altogether, row by row (G. Machado, M. Oliveira, L. Fernandes, "A
 * physiologically-based model for simulation of color vision deficiency", IEEE Transactions on Visualization and Computer Graphics 15(6),
 * 2009, severity 1.0).
 */
export const VISION_MATRICES: Readonly<Record<ColorVision, readonly number[]>> = {
  protan: [0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998],
  deutan: [0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.01182, 0.04294, 0.968881],
  tritan: [1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.3039],
};

const LINEAR = /* @__PURE__ */ Float64Array.from({ length: 256 }, (_, v) => srgbToLinear(v / 255));
const BYTE = /* @__PURE__ */ Uint8Array.from({ length: 4097 }, (_, v) =>
  Math.round(linearToSrgb(v / 4096) * 255),
);

/** Pixels as someone of that vision sees them. @param rgba straight alpha, which stays */
export function seenWith(vision: ColorVision, rgba: Uint8Array): Uint8Array {
  const m = VISION_MATRICES[vision];
  const out = rgba.slice();
  const byte = (x: number): number => BYTE[Math.min(4096, Math.max(0, Math.round(x * 4096)))]!;
  for (let i = 0; i < rgba.length; i += 4) {
    const r = LINEAR[rgba[i]!]!;
    const g = LINEAR[rgba[i + 1]!]!;
    const b = LINEAR[rgba[i + 2]!]!;
    out[i] = byte(m[0]! * r + m[1]! * g + m[2]! * b);
    out[i + 1] = byte(m[3]! * r + m[4]! * g + m[5]! * b);
    out[i + 2] = byte(m[6]! * r + m[7]! * g + m[8]! * b);
  }
  return out;
}
