import { compositeSheet, Engine, projectionLayer, projectionStroke } from '../core/engine';
import { layerFromRamps } from '../core/proposals';
import type { Command } from '../core/commands';
import { measureCue, ownCueSurface } from '../core/cues';
import { encodePng } from '../core/formats';
import {
  findBySilhouette,
  maskFromGround,
  NO_MATCH,
  pictureRamps,
  prepareMatch,
  reportOn,
  seeModel,
  withoutPockets,
  type Matched,
  type MatchReport,
  type PreparedMatch,
  type Rows,
} from '../core/match';
import type { UvMesh } from '../core/mesh';

/** Height of a look's picture, pixels. */
const LOOK = 320;

/** When its first look is kept, and how long it is to the next: a fixed evening, so that the demo is the same wherever it is made. */
const EVENING = Date.UTC(2026, 9, 3, 18, 30);
const HALF_HOUR = 30 * 60_000;

/** What the paint comes to beside the reference. */
export interface Measured {
  readonly name: string;
  readonly report: MatchReport;
}

/**
 * Brings the otter to its reference with the proposals that the Match stage makes, and nothing else: its camera by the
 * silhouettes, ramps of its parts, then the picture itself on what it sees. Each state is kept as a look.
 *
 * @param engine holds the painted otter; it is changed
 * @param picture the reference, and the file that holds it
 */
export function bringToReference(
  engine: Engine,
  mesh: UvMesh,
  picture: Rows & { readonly png: Uint8Array },
): Measured[] {
  const { width, height } = picture;
  const reference = engine.document.references[0]!;
  const ground = maskFromGround(picture);
  const { camera } = findBySilhouette(mesh, ground, { width, height });
  engine.apply({
    do: 'patch-reference',
    reference: reference.id,
    patch: { match: { ...NO_MATCH, camera } },
  });
  const covered = Uint8Array.from(seeModel(mesh, camera).faces, (f) => (f >= 0 ? 1 : 0));
  const prepared = prepareMatch({ mesh, camera, picture, mask: withoutPockets(picture, ground, covered) });
  const measured: Measured[] = [];
  const measure = (): Matched => {
    for (const spec of engine.missingCues())
      engine.setCue(
        spec,
        measureCue(engine.surface, spec, { ground: ownCueSurface(engine.surface, engine.localColors()) }),
      );
    return reportOn(prepared, albedosOf(engine));
  };
  const keep = (name: string): Matched => {
    const matched = measure();
    const { report, painted } = matched;
    const { mean, p95 } = report.deltaE;
    measured.push({ name, report });
    engine.attach(
      {
        do: 'add-look',
        look: {
          name,
          time: EVENING + (measured.length - 1) * HALF_HOUR,
          match: { reference: reference.id, mean, p95, iou: report.silhouette.iou },
        },
      },
      encodePng(smaller({ rgba: painted, width, height })),
    );
    return matched;
  };
  const { aligned } = keep('As it was painted');
  const toward = prepared.light?.direction ?? [0, 1, 0];
  const ramps = pictureRamps(prepared, toward, aligned);
  engine.apply({ do: 'add-layer', layer: layerFromRamps(ramps, toward, 'Tones of the reference'), at: 2 });
  keep('Ramps of its parts');
  project(engine, mesh, prepared, picture);
  keep('Painted through it');
  return measured;
}

/** The picture on what it sees, over all that is painted. */
function project(
  engine: Engine,
  mesh: UvMesh,
  { camera }: PreparedMatch,
  { png, width, height }: Rows & { readonly png: Uint8Array },
): void {
  const [picture] = engine.attach(
    { do: 'add-pattern', pattern: { name: 'Through: Otter at the stall', width, height, listed: false } },
    png,
  ).ids;
  const at = engine.document.layers.length;
  const layer = { ...projectionLayer(mesh, camera, 'Projected: Otter at the stall') };
  const [id] = engine.apply({ do: 'add-layer', layer, at } as Command).ids;
  engine.apply(projectionStroke(id!, { id: picture!, width, height }, camera, false));
}

const albedosOf = (engine: Engine) =>
  engine.surface.sheets.map(({ size }, sheet) => ({
    width: size,
    height: size,
    rgba: compositeSheet(engine, sheet),
  }));

function smaller({ rgba, width, height }: Rows): Rows {
  const [w, h] = [Math.round((width * LOOK) / height), LOOK];
  const out = new Uint8Array(w * h * 4);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const o = (Math.floor(((y + 0.5) * height) / h) * width + Math.floor(((x + 0.5) * width) / w)) * 4;
      out.set(rgba.subarray(o, o + 4), (y * w + x) * 4);
    }
  }
  return { rgba: out, width: w, height: h };
}
