import { measureCue, ownCueSurface, type CueSpec, type GroundColors } from '../../cues';
import { documentFromRecipe, filesOfRecipe, type Recipe } from '../../document';
import type { Picture } from '../../formats';
import { createWasmKernels } from '../../kernels';
import { sheetCount, type UvMesh } from '../../mesh';
import { measureSurface, type SheetSize } from '../../surface';
import { drawModel } from './draw-model';
import { Engine } from '../engine';
import { flattenAlbedo } from './flatten';

/** Texels a side of the sheets on which a picture is painted, and rays a texel: enough for a thumb's width. */
const SHEET: SheetSize = 256;
const RAYS = 12;

/** Makes ready to paint pictures of recipes on a model. */
export function recipePictures(mesh: UvMesh): (recipe: Recipe, size: number) => Picture {
  const sheets = Array.from({ length: sheetCount(mesh) }, (_, i) => ({
    name: `Sheet ${i + 1}`,
    size: SHEET,
  }));
  const surface = measureSurface(
    mesh,
    sheets.map((s) => s.size),
  );
  const ground = ownCueSurface(surface);
  // What several recipes ask for is measured once.
  const known = new Map<string, Uint16Array>();
  const measured = (spec: CueSpec, colors: GroundColors | null): Uint16Array => {
    const quick = spec.cue === 'occlusion' ? { ...spec, rays: Math.min(spec.rays, RAYS) } : spec;
    const key = JSON.stringify(quick);
    const values = known.get(key) ?? measureCue(surface, quick, { ground: { ...ground, colors } });
    known.set(key, values);
    return values;
  };
  return (recipe, size) => {
    const engine = new Engine({
      surface,
      kernels: createWasmKernels(),
      document: { ...documentFromRecipe(recipe, SHEET), sheets },
      files: filesOfRecipe(recipe),
    });
    for (const spec of engine.missingCues()) engine.setCue(spec, measured(spec, engine.localColors()));
    return drawModel(
      mesh,
      sheets.map((_, sheet) => flattenAlbedo(engine, { size: SHEET, bleed: 8 }, sheet)),
      size,
    );
  };
}
