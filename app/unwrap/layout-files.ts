import { create } from 'zustand';
import type { ProjectDocument } from '../../core/document';
import { sentenceOf } from '../../core/errors';
import { layoutSvg, writeObj } from '../../core/formats';
import { pieceOnSheet, type UvMesh } from '../../core/mesh';
import { activeSheet, subjectNow, useProject, type Session } from '../project';
import { download, fileNameOf } from '../shared/files';
import { notify } from '../shared/notify';
import { deliverPool, jobPool } from '../shared/platform';

/** How the drawing of a layout looks. */
interface DrawingHow {
  readonly lines: boolean;
  readonly fill: boolean;
  readonly byPart: boolean;
}

export const useDrawing = create<DrawingHow>(() => ({ lines: true, fill: true, byPart: true }));

/** Apart in lightness as well as in hue. */
const PART_COLORS = ['#d9a36a', '#5f8f8c', '#e6d3b1', '#8a5a44', '#b7c4c9', '#c96f4a', '#6c6f86', '#a9b887'];

interface Drawn {
  readonly mesh: UvMesh;
  /** Only what lies on the sheet in hand. */
  readonly piece: UvMesh;
  readonly project: string;
  readonly modelFile: ProjectDocument['modelFile'];
  /** Name of the file without its ending. */
  readonly model: string;
  readonly drawing: string;
  readonly style: Parameters<typeof layoutSvg>[1];
}

/** Does something with the layout as it is now; what goes wrong is told. */
async function withLayout(work: (drawn: Drawn) => Promise<void> | void): Promise<void> {
  const { document } = useProject.getState();
  const mesh = subjectNow();
  const sheet = activeSheet();
  if (!mesh || !document || !sheet) return;
  const { lines, fill, byPart } = useDrawing.getState();
  const model = fileNameOf(document.name);
  const colors = byPart
    ? mesh.parts.map((part, i) => [part, PART_COLORS[i % PART_COLORS.length]!] as const)
    : [];
  try {
    await work({
      mesh,
      piece: pieceOnSheet(mesh, sheet.index).mesh,
      project: document.name,
      modelFile: document.modelFile,
      model,
      drawing: `${document.sheets.length > 1 ? `${model}-${fileNameOf(sheet.name)}` : model}-layout`,
      style: { size: sheet.size, lines, fill, colors: new Map(colors) },
    });
  } catch (error) {
    notify(sentenceOf(error));
  }
}

export const saveLayoutSvg = (): Promise<void> =>
  withLayout(({ piece, style, drawing }) =>
    download(`${drawing}.svg`, layoutSvg(piece, style), 'image/svg+xml'),
  );

export const saveLayoutPng = (): Promise<void> =>
  withLayout(async ({ piece, style, drawing }) =>
    download(`${drawing}.png`, await jobPool.run('layoutPng', { mesh: piece, style }), 'image/png'),
  );

/** The file that the model came in with this layout; its other textures are read by the UVs that they were made for. */
export const saveLayoutGlb = (session: Session): Promise<void> =>
  withLayout(async ({ mesh, project, model, modelFile }) => {
    const bytes = modelFile && (await session.file(modelFile.id));
    const file = bytes && { bytes, placing: modelFile.placing };
    const glb = await deliverPool.run('glb', { mesh, name: project, textures: [], file, material: 'kept' });
    download(`${model}.glb`, glb, 'model/gltf-binary');
  });

export const saveLayoutObj = (): Promise<void> =>
  withLayout(({ mesh, project, model }) => download(`${model}.obj`, writeObj(mesh, project), 'model/obj'));
