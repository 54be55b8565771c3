import { codesOfTile, layersOfTile, TILE_TEXELS } from '../surface';
import { applyLevels, type Levels } from './levels';
import type { Join, MaskStep } from './mask-steps';
import type { InputNames, LayerInputs } from './layer-kind';
import { patternNames, patternOver } from './pattern';
import { planeOf } from './planes';

/** Names all that a mask is made from but what is painted on it. */
export function maskInputs(mask: readonly MaskStep[], names: InputNames): string {
  return mask
    .map((step) => {
      switch (step.from) {
        case 'painted':
          return `painted ${shapeName(step)}`;
        case 'cue':
          return `${names.cue(step.cue)} ${shapeName(step)}`;
        case 'region':
          return `${names.region(step.region)} ${shapeName(step)}`;
        case 'parts':
          return `parts ${names.surface} ${JSON.stringify(step.parts)} ${shapeName(step)}`;
        case 'pattern':
          return `${patternNames(step.tiled, names)} ${shapeName(step)}`;
        case 'layer':
          return `of ${step.layer} (${maskInputs(names.maskOf(step.layer), names)}) ${shapeName(step)}`;
      }
    })
    .join(', ');
}

const shapeName = ({
  join = 'over',
  levels,
  invert,
}: {
  join?: Join | 'over';
  levels: Levels;
  invert: boolean;
}): string => `${join} ${levels.low} ${levels.high} ${levels.gamma} ${invert}`;

/** Layers whose masks a mask is made from, directly or through others. */
export function masksUnder(
  mask: readonly MaskStep[],
  maskOf: (layer: number) => readonly MaskStep[],
  found = new Set<number>(),
): Set<number> {
  for (const step of mask) {
    if (step.from !== 'layer' || found.has(step.layer)) continue;
    found.add(step.layer);
    masksUnder(maskOf(step.layer), maskOf, found);
  }
  return found;
}

/** The steps of a mask that have crisp borders: regions, parts and what was painted. The others are measured. */
export const crispSteps = (mask: readonly MaskStep[]): MaskStep[] =>
  mask.filter((step) => step.from === 'region' || step.from === 'parts' || step.from === 'painted');

/** A mask's values on a tile: 0..65535 a texel, 0 where no surface is; null where it covers all of a full tile. */
export type MaskPainter = (tile: number) => Uint16Array | null;

/** Evaluates the mask of a layer. @param layer the id under which what is painted on it stands */
export function maskPainter(layer: number, mask: readonly MaskStep[], inputs: LayerInputs): MaskPainter {
  const values = new Float32Array(TILE_TEXELS);
  const steps = mask.map((step) => stepPainter(layer, step, inputs));
  return (tile) => {
    const codes = codesOfTile(inputs.surface, tile);
    if (!codes) return NOTHING;
    values.fill(1);
    steps.forEach((paint, i) => paint(tile, codes, values, i === 0));
    const out = new Uint16Array(TILE_TEXELS);
    let full = true;
    for (let i = 0; i < TILE_TEXELS; i++) {
      const v = codes[i]! < 0 ? 0 : Math.floor(values[i]! * 65535 + 0.5);
      out[i] = v;
      if (v !== 65535) full = false;
    }
    return full ? null : out;
  };
}

const NOTHING = new Uint16Array(TILE_TEXELS);

type StepPainter = (tile: number, codes: Int32Array, values: Float32Array, first: boolean) => void;

function stepPainter(layer: number, step: MaskStep, inputs: LayerInputs): StepPainter {
  switch (step.from) {
    case 'cue': {
      const cue = inputs.cue(step.cue);
      const curve = curveOf(step);
      const { slotOfTile } = inputs.surface;
      return (tile, _codes, values, first) => {
        const base = slotOfTile[tile]! * TILE_TEXELS;
        // A cue that isn't measured yet covers nothing.
        joinInto(values, first ? 'multiply' : step.join, (i) => (cue ? curve[cue[base + i]!]! : 0));
      };
    }
    case 'region': {
      const shape = inputs.region(step.region);
      const of = Float32Array.from({ length: 256 }, (_, covered) => shaped(step, covered / 255));
      return (tile, codes, values, first) =>
        joinInto(values, first ? 'multiply' : step.join, (i) => of[shape?.at(tile, i, codes[i]!) ?? 0]!);
    }
    case 'parts': {
      const { surface } = inputs;
      const { parts, faceParts } = surface.mesh;
      const named = new Set(step.parts);
      const inside = Uint8Array.from(parts, (name) => (named.has(name) ? 1 : 0));
      const of = [0, 1].map((x) => shaped(step, x)) as [number, number];
      const isIn = (code: number): boolean => code >= 0 && inside[faceParts[code >> 2]!] === 1;
      return (tile, codes, values, first) => {
        // A texel belongs to every part that shows it.
        const layers = layersOfTile(surface, tile).map((layer) => codesOfTile(surface, layer)!);
        joinInto(values, first ? 'multiply' : step.join, (i) =>
          codes[i]! >= 0 ? of[layers.some((own) => isIn(own[i]!)) ? 1 : 0] : 0,
        );
      };
    }
    case 'pattern': {
      const paint = patternOver(step.tiled, 'grey', inputs);
      return (tile, _codes, values, first) => {
        const greys = paint?.(tile);
        // One whose picture isn't there covers nothing.
        joinInto(values, first ? 'multiply' : step.join, (i) => (greys ? shaped(step, greys[i]!) : 0));
      };
    }
    case 'layer': {
      const other = maskPainter(step.layer, inputs.maskOf(step.layer), inputs);
      return (tile, _codes, values, first) => {
        const mask = other(tile);
        joinInto(values, first ? 'multiply' : step.join, (i) => shaped(step, mask ? mask[i]! / 65535 : 1));
      };
    }
    case 'painted': {
      const greys = Float32Array.from({ length: 256 }, (_, grey) => shaped(step, grey / 255));
      return (tile, _codes, values) => {
        const paint = inputs.pixels(planeOf(layer, 'mask'), tile);
        if (!paint) return;
        for (let i = 0; i < TILE_TEXELS; i++) {
          const a = paint[i * 4 + 3]! / 255;
          values[i] = values[i]! * (1 - a) + greys[paint[i * 4]!]! * a;
        }
      };
    }
  }
}

const shaped = ({ levels, invert }: { levels: Levels; invert: boolean }, x: number): number => {
  const y = applyLevels(levels, x);
  return invert ? 1 - y : y;
};

/** What a step makes of each of the 65,536 values of a cue. */
const curveOf = (step: { levels: Levels; invert: boolean }): Float32Array =>
  Float32Array.from({ length: 65536 }, (_, i) => shaped(step, i / 65535));

function joinInto(values: Float32Array, join: Join, of: (texel: number) => number): void {
  for (let i = 0; i < TILE_TEXELS; i++) {
    const a = values[i]!;
    const b = of(i);
    switch (join) {
      case 'multiply':
        values[i] = a * b;
        break;
      case 'lighten':
        values[i] = Math.max(a, b);
        break;
      case 'darken':
        values[i] = Math.min(a, b);
        break;
      case 'add':
        values[i] = Math.min(1, a + b);
        break;
      case 'subtract':
        values[i] = Math.max(0, a - b);
    }
  }
}
