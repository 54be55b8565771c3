import {
  compositeDetail,
  compositeSheet,
  compositeSheetDeep,
  layeredPicture,
  type Engine,
} from '../../engine';
import { recipeFromDocument } from '../../document';
import { writeProjectFile } from '../../project-file';
import { RampAssignments } from '../../ramps';
import type { DeliverySource } from './export-maker';

/** A project whose engine is here. */
export function engineSource(engine: Engine): DeliverySource {
  const { document, mesh, surface } = engine;
  const { ramps, regions } = document;
  const facesOf = (id: number): readonly number[] => regions.find((r) => r.id === id)?.faces ?? [];
  return {
    document,
    mesh,
    seated: ramps && ramps.seats.length > 0 ? new RampAssignments(mesh).reckon(ramps, facesOf) : null,
    file: (id) => Promise.resolve(engine.file(id)),
    surface: () => surface,
    rows: (sheet) => Promise.resolve(compositeSheet(engine, sheet)),
    deepRows: (sheet) => Promise.resolve(compositeSheetDeep(engine, sheet)),
    detailRows: (sheet) => Promise.resolve(compositeDetail(engine, sheet)),
    layered: (sheet) => Promise.resolve(layeredPicture(engine, sheet)),
    projectFile: () => Promise.resolve(writeProjectFile({ document, mesh, ...engine.everything() })),
    recipe: () => Promise.resolve(recipeFromDocument(document, engine.everything().files)),
  };
}
