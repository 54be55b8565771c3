import { hexToRgb } from '../color';
import { lightAt, prepareLight, type LightPlan } from '../light';
import { clamp01 } from '../math';
import { NO_PART, TILE_BYTES, TILE_TEXELS, type SurfaceMap } from '../surface';
import type { LocalLayer, WashLayer } from './document';

/** Makes one tile of a derived layer: straight-alpha RGBA8 in tile order, transparent where nothing lies. */
export type TilePainter = (tile: number) => Uint8Array;

/** A colour as one little-endian RGBA word with full alpha. */
function packColor(hex: string): number {
  const { r, g, b } = hexToRgb(hex);
  return (r | (g << 8) | (b << 16) | 0xff000000) >>> 0;
}

export function localPainter(map: SurfaceMap, parts: readonly string[], layer: LocalLayer): TilePainter {
  const words = Uint32Array.from(parts, (name) => packColor(layer.colors[name] ?? layer.fallback));
  return (tile) => {
    const out = new Uint32Array(TILE_TEXELS);
    for (let i = 0, t = tile * TILE_TEXELS; i < TILE_TEXELS; i++, t++) {
      const part = map.part[t]!;
      if (part !== NO_PART) out[i] = words[part]!;
    }
    return new Uint8Array(out.buffer);
  };
}

/** Alpha 0..255 for each of the 65,536 values of a cue. */
export function washCurve({ levels, invert }: Pick<WashLayer, 'levels' | 'invert'>): Uint8Array {
  const { low, high, gamma } = levels;
  return Uint8Array.from({ length: 65536 }, (_, i) => {
    const x = i / 65535;
    const t = high > low ? clamp01((x - low) / (high - low)) : x >= low ? 1 : 0;
    const y = t ** (1 / gamma);
    return Math.floor((invert ? 1 - y : y) * 255 + 0.5);
  });
}

/** @param cue 0..65535 a texel; null while it isn't measured, which leaves the layer empty */
export function washPainter(map: SurfaceMap, cue: Uint16Array | null, layer: WashLayer): TilePainter {
  if (!cue) return () => new Uint8Array(TILE_BYTES);
  const rgb = packColor(layer.color) & 0xffffff;
  const curve = washCurve(layer);
  return (tile) => {
    const out = new Uint32Array(TILE_TEXELS);
    for (let i = 0, t = tile * TILE_TEXELS; i < TILE_TEXELS; i++, t++) {
      if (map.part[t] !== NO_PART) out[i] = (rgb | (curve[cue[t]!]! << 24)) >>> 0;
    }
    return new Uint8Array(out.buffer);
  };
}

export function lightPainter(map: SurfaceMap, plan: LightPlan): TilePainter {
  const light = prepareLight(plan);
  return (tile) => {
    const out = new Uint8Array(TILE_BYTES);
    for (let i = 0, t = tile * TILE_TEXELS; i < TILE_TEXELS; i++, t++) {
      if (map.part[t] === NO_PART) continue;
      lightAt(light, map.nx[t]! / 32767, map.ny[t]! / 32767, map.nz[t]! / 32767, out, i * 4);
      out[i * 4 + 3] = 255;
    }
    return out;
  };
}
