import type { Command } from '../../../core/commands';
import { faceRuns, sheetOfFace, type UvMesh } from '../../../core/mesh';
import { copiesOf } from '../../../core/paint';
import { placed, type Placing } from '../../../core/math';
import { placeNear } from '../../../core/region';
import { texelOnSheet, type SurfaceMap } from '../../../core/surface';
import { sentenceOf } from '../../../core/errors';
import { hiddenParts, useProject, type Session } from '../../project';
import { wholeIslands, wholeComponents } from '../../shared/layout-store';
import { notify } from '../../shared/notify';
import { rememberColor, useUi } from '../../shared/ui-store';
import {
  DrawnLine,
  enclosedByCopies,
  enclosedOnSheet,
  lineGesture,
  showSheetOf,
  type EnclosedFaces,
  type Hit,
  type StageView,
  type ToolMaker,
} from '../../viewport';
import { usePaint, type FillScope } from '../paint-store';
import { symmetryFor } from '../symmetry';
import { areaStroke, targetOrTold } from './stroke-style';

/** Covers what was pressed: a part, a shell, an island, a region, or what looks alike. */
export const fillTool =
  (session: Session): ToolMaker =>
  () => ({
    name: 'fill',
    cursor: 'crosshair',
    press: (_, hit) => {
      if (!hit) return null;
      showSheetOf(hit);
      void fill(session, hit);
      return 'done';
    },
    leave: layDown,
  });

/** Covers what a line encloses. */
export const lineTool =
  (session: Session): ToolMaker =>
  (view) => ({
    name: 'line',
    cursor: 'crosshair',
    press: (at, hit) => {
      const { tool } = usePaint.getState();
      if (tool !== 'lasso' && tool !== 'rectangle' && tool !== 'ellipse') return null;
      const begunOn = hit && partOf(hit);
      return lineGesture(
        tool,
        at,
        (line) => usePaint.setState({ line }),
        ({ pane, points }) => {
          const { mesh } = useProject.getState();
          if (!mesh) return;
          const how = { through: usePaint.getState().behind, cutsThrough: true, takesOff: false };
          const area =
            pane === 'model'
              ? enclosedByCopies(view, mesh, points, how, copiesFor(mesh, begunOn))
              : enclosedOnSheet(view, mesh, points, how);
          // Copies may lie on other parts.
          const isHeld = !usePaint.getState().symmetry.on;
          void cover(session, area, isHeld ? begunOn : null, 'Nothing of the model lies within that line.');
        },
        true,
      );
    },
    leave: layDown,
    overlay: () => <PaintLine view={view} />,
  });

function PaintLine({ view }: { readonly view: StageView }) {
  return <DrawnLine view={view} line={usePaint((s) => s.line)} />;
}

/** Where an area is covered too. */
function copiesFor(mesh: UvMesh, part: string | null): readonly Placing[] {
  const { symmetry } = usePaint.getState();
  return copiesOf(symmetryFor(symmetry, mesh, part === null ? null : mesh.parts.indexOf(part)) ?? undefined);
}

function layDown(): boolean {
  usePaint.setState({ tool: 'brush' });
  return true;
}

const partOf = (hit: Hit): string | null => useProject.getState().mesh?.parts[hit.part] ?? null;

async function fill(session: Session, hit: Hit): Promise<void> {
  const { scope } = usePaint.getState();
  if (scope === 'like') return await flood(session, hit);
  const areas = facesUnder(hit).map((face) => facesOf(scope, face));
  const found = areas.filter((area) => area !== null);
  if (found.length === 0) {
    notify('No region lies there. Keep some faces as a region in Block in first.');
    return;
  }
  const area = { faces: found.flatMap(({ faces }) => faces), cuts: found.flatMap(({ cuts }) => cuts) };
  await cover(session, area, null, '');
}

/** The triangle that was pressed, and those where the symmetry presses too. */
function facesUnder({
  face,
  rest: {
    point: { x, y, z },
  },
}: Hit): number[] {
  const { mesh } = useProject.getState();
  if (!mesh) return [face];
  const copies = copiesFor(mesh, mesh.parts[mesh.faceParts[face]!]!).slice(1);
  const others = copies.map((copy) => placeNear(mesh, ...placed([x, y, z], copy)).face);
  return [...new Set([face, ...others])];
}

function facesOf(scope: Exclude<FillScope, 'like'>, face: number): EnclosedFaces | null {
  const { mesh, document } = useProject.getState();
  if (!mesh || !document) return null;
  const plain = (faces: Iterable<number>): EnclosedFaces => ({ faces: [...faces], cuts: [] });
  switch (scope) {
    case 'part':
      return plain([...mesh.faceParts.keys()].filter((f) => mesh.faceParts[f] === mesh.faceParts[face]));
    case 'shell':
      return plain(wholeComponents(mesh, [face]));
    case 'island':
      return plain(wholeIslands(mesh, [face]));
    case 'region':
      return document.regions.findLast((r) => r.faces.includes(face)) ?? null;
  }
}

/** @param part where it was begun: what holds strokes holds areas too */
async function cover(
  session: Session,
  { faces, cuts }: EnclosedFaces,
  part: string | null,
  nothing: string,
): Promise<void> {
  const { mesh } = useProject.getState();
  const target = targetOrTold();
  if (!target || !mesh) return;
  if (faces.length === 0 && cuts.length === 0) {
    notify(nothing);
    return;
  }
  const inside = new Set(faces);
  try {
    const { color } = useUi.getState();
    const area = { faces: faceRuns(mesh.faceParts.length, (f) => inside.has(f)), cuts: [...cuts] };
    await session.command(areaStroke(target, area, part));
    if (target.channel === 'pixels') rememberColor(color);
  } catch (error) {
    notify(sentenceOf(error));
  }
}

async function flood(session: Session, hit: Hit): Promise<void> {
  const { surface, mesh } = useProject.getState();
  const target = targetOrTold();
  if (!surface || !mesh || !target) return;
  const { color } = useUi.getState();
  const { tolerance } = usePaint.getState();
  const { x, y, z } = hit.rest.point;
  const copies = copiesFor(mesh, mesh.parts[mesh.faceParts[hit.face]!]!).slice(1);
  const places = [
    texelAt(surface, hit.sheet, hit.u, hit.v),
    ...copies.map((copy) => {
      const { face, w0, w1, w2 } = placeNear(mesh, ...placed([x, y, z], copy));
      const [u, v] = [0, 1].map((k) =>
        [w0, w1, w2].reduce((sum, w, c) => sum + mesh.uvs[mesh.indices[face * 3 + c]! * 2 + k]! * w, 0),
      ) as [number, number];
      return texelAt(surface, sheetOfFace(mesh, face), u, v);
    }),
  ];
  const commands = [...new Set(places)].map((texel): Extract<Command, { do: 'flood' }> => ({
    do: 'flood',
    ...target,
    color,
    texel,
    tolerance,
    everywhere: false,
    except: hiddenParts(),
  }));
  const [only] = commands;
  const done = await session.command(
    commands.length === 1 && only ? only : { do: 'several', label: 'Fill like colours', commands },
  );
  if (done && target.channel === 'pixels') rememberColor(color);
}

/** A place of a sheet by the number of its texel among all. */
function texelAt(surface: SurfaceMap, number: number, u: number, v: number): number {
  const sheet = surface.sheets[number]!;
  const on = (at: number): number => Math.min(sheet.size - 1, Math.floor((at - Math.floor(at)) * sheet.size));
  return texelOnSheet(sheet, on(u), on(1 - v));
}
