import { useEffect, useMemo, useState } from 'react';
import { Form } from 'react-bootstrap';
import { CoreError, sentenceOf } from '../../../core/errors';
import type { ImportedPaint } from '../../../core/formats';
import { isIdentity } from '../../../core/math';
import {
  placeMesh,
  placingOf,
  requireUvs,
  roomlessShare,
  sheetCount,
  triangleCount,
  type Axis,
  type Mesh,
  sheetsOfPictures,
  type UvMesh,
} from '../../../core/mesh';
import { SHEET_SIZES, type SheetSize } from '../../../core/surface';
import { DEFAULT_MARGIN } from '../../../core/unwrap';
import { AxisChoice } from '../../shared/AxisChoice';
import { Chip } from '../../shared/Chip';
import { FormDialog } from '../../shared/FormDialog';
import { jobPool } from '../../shared/platform';
import { useTasks, withTask } from '../../shared/tasks';
import { layOut, MOST_ROOMLESS, projectOfModel, storeProject, withModelFile } from '../start/new-project';
import { TaskList } from '../frame/TaskList';

/** From here on the dialog offers a new layout: less is most often a deliberate mirror or a stray triangle. */
const BAD_OVERLAP = 0.1;

/** Texels a side at which overlaps are looked for. */
const LOOK_SIZE = 512;

/**
 * The part of the covered texels that is covered more than once, over all sheets that the model would get; null while that is looked
 * for, 0 without UVs.
 */
function useOverlap(mesh: Mesh, paint: ImportedPaint): { readonly overlap: number | null; skip(): void } {
  const [overlap, setOverlap] = useState<number | null>(mesh.uvs ? null : 0);
  const [stop] = useState(() => new AbortController());
  useEffect(() => {
    if (!mesh.uvs) return;
    const own = sheetsOfPictures(requireUvs(mesh), paint.pictures);
    const look = withTask('Looking at the UVs', (signal) =>
      Promise.all(
        Array.from({ length: sheetCount(own) }, (_, sheet) =>
          jobPool.run(
            'measureLayout',
            { mesh: own, sheet, size: LOOK_SIZE },
            { signal: AbortSignal.any([signal, stop.signal]) },
          ),
        ),
      ),
    );
    look
      .then((sheets) => {
        const covered = sheets.reduce((sum, { whole }) => sum + whole.fill * LOOK_SIZE ** 2, 0);
        const twice = sheets.reduce((sum, { whole }) => sum + whole.overlappedTexels, 0);
        setOverlap(twice / (covered || 1));
      })
      // Without an answer the dialog is as it is for sound UVs; the Model stage lists what is wrong.
      .catch(() => setOverlap(0));
    return () => stop.abort();
  }, [mesh, paint, stop]);
  return { overlap, skip: () => stop.abort() };
}

/** All islands of a model that came with several pictures, on one sheet. */
async function onOneSheet(mesh: Mesh, paint: ImportedPaint, size: SheetSize): Promise<UvMesh> {
  const own = sheetsOfPictures(requireUvs(mesh), paint.pictures);
  const how = { size, margin: DEFAULT_MARGIN, weights: new Map<string, number>() };
  return withTask('Packing', (signal) =>
    jobPool.run('editLayout', { mesh: own, edit: { do: 'join', how } }, { signal }),
  );
}

const overlapWords = (part: number): string =>
  part > 0.99 ? 'all of the sheet' : `${Math.round(part * 100)} % of the sheet`;

const roomlessWords = (part: number): string =>
  part > 0.99
    ? 'Its UVs lie on points or lines: they take no room'
    : `On ${Math.max(1, Math.round(part * 100))} % of its surface its UVs take no room`;

/** Asks for what a new project needs before it is begun. */
export function NewProjectDialog({
  mesh,
  paint,
  name,
  file,
  onClose,
  onMade,
  onProblem,
}: {
  readonly mesh: Mesh;
  readonly paint: ImportedPaint;
  readonly name: string;
  /** The model as one GLB. */
  readonly file?: Uint8Array | undefined;
  readonly onClose: () => void;
  readonly onMade: (id: string) => void;
  readonly onProblem: (sentence: string) => void;
}) {
  const [title, setTitle] = useState(name);
  const [size, setSize] = useState<SheetSize>(1024);
  const [busy, setBusy] = useState(false);
  const { overlap: found, skip } = useOverlap(mesh, paint);
  const isLooking = found === null;
  const overlap = found ?? 0;
  const [axes, setAxes] = useState<{ readonly up: Axis; readonly front: Axis }>({ up: '+y', front: '+z' });
  const isFlat = axes.up[1] === axes.front[1];
  const hasPictures = paint.pictures.some(Boolean);
  // Until it is chosen, sound UVs are kept, and those that a picture was made for: they may overlap on purpose.
  const [kept, setKept] = useState<boolean | null>(null);
  const roomless = useMemo(() => (mesh.uvs ? roomlessShare(requireUvs(mesh)) : 0), [mesh]);
  const isRoomless = roomless > MOST_ROOMLESS;
  const keepsUvs = mesh.uvs !== null && (kept ?? (!isRoomless && (overlap < BAD_OVERLAP || hasPictures)));
  const [isOne, setIsOne] = useState(false);
  const sheets = useMemo(
    () => (mesh.uvs ? sheetCount(sheetsOfPictures(requireUvs(mesh), paint.pictures)) : 1),
    [mesh, paint],
  );
  const begin = async (): Promise<void> => {
    setBusy(true);
    try {
      const placed = placeMesh(mesh, axes);
      const onSheets = keepsUvs && isOne ? await onOneSheet(placed, paint, size) : placed;
      const ready = keepsUvs ? onSheets : await layOut(placed, size);
      const data = await projectOfModel(ready, paint, title.trim() || name, size, placed);
      const placing = placingOf(axes);
      const kept = file && { name, bytes: file, placing: isIdentity(placing) ? null : placing };
      onMade(await storeProject(kept ? withModelFile(data, kept) : data));
    } catch (error) {
      setBusy(false);
      // Stopped by hand: the dialog is there again as it was.
      if (!(error instanceof CoreError && error.code === 'cancelled')) onProblem(sentenceOf(error));
    }
  };
  const cancel = (): void => {
    for (const task of useTasks.getState().tasks) task.stop?.();
    onClose();
  };
  return (
    <FormDialog
      title="New project"
      submit={keepsUvs ? 'Begin' : 'Lay out and begin'}
      disabled={busy || isLooking || isFlat}
      busy={isLooking}
      onSubmit={() => void begin()}
      onClose={cancel}
    >
      <p>
        {triangleCount(mesh).toLocaleString('en')} triangles in {mesh.parts.length}{' '}
        {mesh.parts.length === 1 ? 'part' : 'parts'}.
      </p>
      {!mesh.uvs && (
        <p className="notice">
          The model has no UVs, so there is no sheet to paint on yet. Zanahoria lays it out, so that work can
          start; the Unwrap stage can change that at any time, with the paint.
        </p>
      )}
      {isLooking && (
        <p className="notice looking" role="status">
          Looking whether its UVs lie over one another…
          <Chip title="Begin with the UVs as they are" onClick={skip}>
            Don’t look
          </Chip>
        </p>
      )}
      {mesh.uvs && (isRoomless || overlap >= BAD_OVERLAP) && (
        <div className="notice">
          <p>
            {isRoomless
              ? `${roomlessWords(roomless)} on a sheet, so nothing can be painted there.`
              : `Its UVs lie over one another on ${overlapWords(overlap)} that they use: a stroke there shows in several places at once.`}
          </p>
          <div className="row" role="group" aria-label="UVs">
            <Chip on={!keepsUvs} onClick={() => setKept(false)}>
              Lay it out anew
            </Chip>
            <Chip on={keepsUvs} onClick={() => setKept(true)}>
              Keep its own UVs
            </Chip>
          </div>
          {hasPictures && !keepsUvs && <p>Its picture is carried over to the new layout.</p>}
        </div>
      )}
      <label className="field">
        Name
        <Form.Control size="sm" value={title} maxLength={120} onChange={(e) => setTitle(e.target.value)} />
      </label>
      <label className="field">
        Sheet
        <Form.Select size="sm" value={size} onChange={(e) => setSize(Number(e.target.value) as SheetSize)}>
          {SHEET_SIZES.filter((s) => s >= 256).map((s) => (
            <option key={s} value={s}>
              {s} × {s} texels
            </option>
          ))}
        </Form.Select>
      </label>
      {keepsUvs && sheets > 1 && (
        <div className="row" role="group" aria-label="Its pictures">
          <Chip
            on={!isOne}
            title="Each picture is the ground of a sheet of its own"
            onClick={() => setIsOne(false)}
          >
            {sheets} sheets
          </Chip>
          <Chip
            on={isOne}
            title="All islands on one sheet, packed evenly, with what the pictures show there"
            onClick={() => setIsOne(true)}
          >
            One sheet
          </Chip>
        </div>
      )}
      <div className="row" role="group" aria-label="How it stands">
        <AxisChoice label="Up" value={axes.up} onChange={(up) => setAxes({ ...axes, up })} />
        <AxisChoice label="Front" value={axes.front} onChange={(front) => setAxes({ ...axes, front })} />
      </div>
      {isFlat && (
        <p className="hint-line" role="alert">
          Up and front lie along one axis. Choose two different ones.
        </p>
      )}
      {busy && <TaskList />}
    </FormDialog>
  );
}
