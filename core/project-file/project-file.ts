import { strFromU8, strToU8, zipSync, type Zippable } from 'fflate';
import { z } from 'zod';
import { CoreError } from '../errors';
import {
  checkAgainstModel,
  documentSchema,
  parseDocument,
  todaysStroke,
  type ProjectDocument,
  planesOf,
} from '../document';
import { decodePng, encodePng, pictureKind, readPngHeader, readZip } from '../formats';
import { baseOf, ownerOfChannel } from '../layers';
import { meshHash, sheetCount, type UvMesh } from '../mesh';
import { EMPTY_TILE, strokeSchema, type Stroke } from '../paint';
import { isEmptyTile, type TileState } from '../pixels';
import {
  fromRows,
  sheetSpans,
  spannedTiles,
  TILE_BYTES,
  tileCount,
  toRows,
  type SheetSpan,
} from '../surface';
import { modelFromJson, modelToJson } from './model-json';

/** All that makes up a project: what the file holds and what storage holds. */
export interface ProjectData {
  readonly document: ProjectDocument;
  readonly mesh: UvMesh;
  /** Tiles of all planes, bases among them. */
  readonly pixels: readonly TileState[];
  /** By plane. */
  readonly strokes: ReadonlyMap<number, readonly Stroke[]>;
  /** References, patterns and denser models as they were brought in, by id. */
  readonly files: ReadonlyMap<number, Uint8Array>;
}

const manifestSchema = z.strictObject({
  format: z.literal('zanahoria-project'),
  version: z.literal(1),
  /** Checked by itself: it may be of an older form. */
  document: z.unknown(),
});

/** A picture file is deflated; its own header says what it unpacks to. */
const LARGEST_PICTURE = 512e6;
const LARGEST_MODEL = 400e6;
/** A model of 500 MB may come with companions. */
const LARGEST_MODEL_FILE = 1e9;
const LARGEST_TEXT = 256e6;
const LARGEST_TOTAL = 3e9;

/**
 * A project as one zip: `project.json`, `model.json`, and a painted plane its pixels `layers/NAME.png` (`layers/NAME-N.png` for each
 * further sheet N from 1 on), its strokes `strokes/NAME.json`, and what they lie on `bases/NAME.png`, where NAME is the layer's id, with
 * `-mask` for what is painted on its mask; and what came as files: `references`, `looks`, `patterns`, `dense` and the model's own file in `model`, each by its id. Reading it back gives the same project to the last texel.
 */
export function writeProjectFile(data: ProjectData): Uint8Array {
  // In the schema's order, so that the same project gives the same file; as it is if anything is wrong with it.
  const ordered = documentSchema.safeParse(data.document);
  const document = ordered.success ? ordered.data : data.document;
  const files: Zippable = {
    'project.json': json({ format: 'zanahoria-project', version: 1, document }),
    'model.json': json(modelToJson(data.mesh)),
  };
  const spans = sheetSpans(data.document.sheets.map((s) => s.size));
  const tilesOf = tilesByChannel(data.pixels);
  for (const plane of planesOf(data.document)) {
    const name = planeName(plane);
    const tiles = tilesOf(plane);
    const bases = tilesOf(baseOf(plane));
    spans.forEach((span, sheet) => {
      // Already deflated: storing is enough.
      files[`layers/${sheetName(name, sheet)}`] = [planePng(tiles, span), { level: 0 }];
      if (bases.size > 0) {
        const whole = new Map([...tiles, ...bases]);
        files[`bases/${sheetName(name, sheet)}`] = [planePng(whole, span), { level: 0 }];
      }
    });
    files[`strokes/${name}.json`] = json(data.strokes.get(plane) ?? []);
  }
  for (const [folder, ids] of attachedOf(data.document)) {
    for (const id of ids) {
      const bytes = data.files.get(id);
      if (bytes)
        files[`${folder}/${id}.${FILE_ENDINGS[folder] ?? pictureEnding(bytes)}`] = [bytes, { level: 0 }];
    }
  }
  return zipSync(files, { level: 6, mtime: ZIP_TIME });
}

function tilesByChannel(pixels: readonly TileState[]): (plane: number) => Map<number, Uint8Array> {
  const planes = new Map<number, Map<number, Uint8Array>>();
  for (const { plane, tile, bytes } of pixels) {
    if (!bytes) continue;
    const tiles = planes.get(plane);
    if (tiles) tiles.set(tile, bytes);
    else planes.set(plane, new Map([[tile, bytes]]));
  }
  return (plane) => planes.get(plane) ?? new Map<number, Uint8Array>();
}

function planeName(plane: number): string {
  const { layer, channel } = ownerOfChannel(plane);
  return channel === 'mask' ? `${layer}-mask` : String(layer);
}

const sheetName = (name: string, sheet: number): string =>
  sheet === 0 ? `${name}.png` : `${name}-${sheet}.png`;

function planePng(tiles: ReadonlyMap<number, Uint8Array>, { size, firstTile }: SheetSpan): Uint8Array {
  const tiled = new Uint8Array(size * size * 4);
  for (let own = 0; own < tileCount(size); own++) {
    const bytes = tiles.get(firstTile + own);
    if (bytes) tiled.set(bytes, own * TILE_BYTES);
  }
  const rows = new Uint8Array(tiled.length);
  toRows(size, new Uint32Array(tiled.buffer), new Uint32Array(rows.buffer));
  return encodePng({ width: size, height: size, rgba: rows });
}

/** Zip entries need a time; one that never changes keeps the file the same for the same project. */
const ZIP_TIME = new Date(2020, 0, 1);

const json = (value: unknown): Uint8Array => strToU8(JSON.stringify(value));

const pictureEnding = (bytes: Uint8Array): string =>
  ({ PNG: 'png', JPEG: 'jpg', WebP: 'webp', GIF: 'gif', BMP: 'bmp' })[pictureKind(bytes) ?? 'PNG'];

/**
 * @param onMissing told in a sentence what can't be read; the rest is given then. Left out: nothing may be missing
 * @throws CoreError `file-empty`, `file-not-a-project`, `document-invalid`, `document-newer`, `storage-damaged` or a `model-` code
 */
export function readProjectFile(bytes: Uint8Array, onMissing?: (says: string) => void): ProjectData {
  if (bytes.length === 0)
    throw new CoreError('file-empty', 'The project file is empty (0 bytes). Copy it again.');
  const limits = { entry: largestEntry, total: LARGEST_TOTAL };
  const files = readZip(
    bytes,
    limits,
    undefined,
    onMissing && (() => onMissing('The file is cut off or damaged; what is whole of it was opened.')),
  );
  const manifest = manifestSchema.safeParse(parseJson(files, 'project.json'));
  if (!manifest.success) {
    throw new CoreError(
      'file-not-a-project',
      'The zip holds no Zanahoria project. Choose a file that was saved with “Project file”.',
      { cause: manifest.error },
    );
  }
  const mesh = modelFromJson(parseJson(files, 'model.json'));
  /** Does without what can't be read, where that is allowed. */
  const orElse = <T>(read: () => T, without: T): T => {
    try {
      return read();
    } catch (error) {
      if (!onMissing || !(error instanceof CoreError)) throw error;
      onMissing(withoutRemedy(error.message));
      return without;
    }
  };
  const lostStrokes: number[] = [];
  const strokes = readStrokes(files, (plane, read) => {
    const list = orElse<readonly Stroke[] | null>(read, null);
    if (!list) lostStrokes.push(plane);
    return list ?? [];
  });
  const counts = new Map([...strokes].map(([plane, list]) => [plane, list.length]));
  const parsed = { ...parseDocument(manifest.data.document, { strokes: counts }), model: meshHash(mesh) };
  // Where strokes are lost the pixels are all that is known.
  const sound = parsed.bases.filter(({ plane }) => !lostStrokes.includes(plane));
  const bases = [...sound, ...lostStrokes.map((plane) => ({ plane, strokes: 0 }))];
  const document = lostStrokes.length > 0 ? { ...parsed, bases } : parsed;
  if (sheetCount(mesh) > document.sheets.length) {
    throw new CoreError(
      'storage-damaged',
      `The model lies on ${sheetCount(mesh)} sheets, but the project file names ${document.sheets.length}. Copy it again.`,
    );
  }
  checkAgainstModel(document, mesh.faceParts.length);
  const planes = planesOf(document);
  const spans = sheetSpans(document.sheets.map((s) => s.size));
  const pixels = planes.flatMap((plane) => orElse(() => readChannel(files, document, plane, spans), []));
  const attached = new Map<number, Uint8Array>();
  for (const [folder, ids] of attachedOf(document)) {
    for (const id of ids) {
      const name = [...files.keys()].find((f) => f.startsWith(`${folder}/${id}.`));
      if (name) attached.set(id, files.get(name)!);
      else onMissing?.(`A file of ${folder} is missing.`);
    }
  }
  return {
    document,
    mesh,
    pixels,
    strokes: new Map([...strokes].filter(([plane]) => planes.includes(plane))),
    files: attached,
  };
}

/** Endings of files that aren't pictures, by their folder. */
const FILE_ENDINGS: Readonly<Record<string, string>> = { dense: 'zip', model: 'glb' };

/** What of a project came as files: ids by the folder in which they lie. */
const attachedOf = ({
  references,
  looks,
  patterns,
  dense,
  modelFile,
}: ProjectDocument): [folder: string, ids: number[]][] => [
  ['references', references.map((r) => r.id)],
  ['looks', looks.map((l) => l.id)],
  ['patterns', patterns.map((p) => p.id)],
  ['dense', dense ? [dense.id] : []],
  ['model', modelFile ? [modelFile.id] : []],
];

/** Only what a project file has is unpacked at all. */
function largestEntry(name: string): number {
  if (name === 'project.json') return LARGEST_TEXT;
  if (name === 'model.json') return LARGEST_MODEL;
  if (/^strokes\/\d{1,9}(-mask)?\.json$/.test(name)) return LARGEST_TEXT;
  if (/^(layers|bases)\/\d{1,9}(-mask)?(-\d)?\.png$/.test(name)) return LARGEST_PICTURE;
  if (/^(references|looks|patterns)\/\d{1,9}\.[a-z]{3,4}$/.test(name)) return LARGEST_PICTURE;
  if (/^dense\/\d{1,9}\.zip$/.test(name)) return LARGEST_MODEL;
  if (/^model\/\d{1,9}\.glb$/.test(name)) return LARGEST_MODEL_FILE;
  return 0;
}

function parseJson(files: ReadonlyMap<string, Uint8Array>, name: string): unknown {
  const file = files.get(name);
  if (!file) {
    throw new CoreError(
      'file-not-a-project',
      `The project file lacks “${name}”. Choose another one, or export it again.`,
    );
  }
  try {
    return JSON.parse(strFromU8(file));
  } catch (cause) {
    throw new CoreError('storage-damaged', `“${name}” in the project file is damaged. Copy the file again.`, {
      cause,
    });
  }
}

/** Sentences of errors end with what to do; where the rest is opened there is nothing to do. */
const withoutRemedy = (says: string): string => says.replace(/ (Copy|Choose) [^.]*\.$/, '');

/** @param given whatever a plane's strokes are taken as, by how they are read */
function readStrokes(
  files: ReadonlyMap<string, Uint8Array>,
  given: (plane: number, read: () => readonly Stroke[]) => readonly Stroke[],
): Map<number, readonly Stroke[]> {
  const out = new Map<number, readonly Stroke[]>();
  for (const name of files.keys()) {
    const found = /^strokes\/(\d+)(-mask)?\.json$/.exec(name);
    if (!found) continue;
    const layer = Number(found[1]);
    const plane = found[2] ? -1 - layer : layer;
    out.set(
      plane,
      given(plane, () => strokesIn(files, name, layer)),
    );
  }
  return out;
}

function strokesIn(files: ReadonlyMap<string, Uint8Array>, name: string, layer: number): readonly Stroke[] {
  const data = parseJson(files, name);
  const list = z.array(strokeSchema).safeParse(Array.isArray(data) ? data.map(todaysStroke) : data);
  if (list.success) return list.data;
  throw new CoreError(
    'storage-damaged',
    `The strokes of layer ${layer} can't be read. Copy the project file again.`,
    { cause: list.error },
  );
}

function readChannel(
  files: ReadonlyMap<string, Uint8Array>,
  document: ProjectDocument,
  plane: number,
  spans: readonly SheetSpan[],
): TileState[] {
  const name = planeName(plane);
  const tiles = new Map<number, Uint8Array>();
  const base = new Map<number, Uint8Array>();
  let hasBase = false;
  spans.forEach((span, sheet) => {
    const file = files.get(`layers/${sheetName(name, sheet)}`);
    if (!file) {
      throw new CoreError(
        'storage-damaged',
        `The project file lacks the pixels of layer ${ownerOfChannel(plane).layer}. Copy it again.`,
      );
    }
    readTiles(file, plane, span, tiles);
    const under = files.get(`bases/${sheetName(name, sheet)}`);
    if (!under || !document.bases.some((b) => b.plane === plane)) return;
    hasBase = true;
    readTiles(under, plane, span, base);
  });
  const states = [...tiles].map(([tile, bytes]): TileState => ({ plane, tile, bytes }));
  if (!hasBase) return states;
  for (let tile = 0; tile < spannedTiles(spans); tile++) {
    const [now, was] = [tiles.get(tile) ?? EMPTY_TILE, base.get(tile) ?? EMPTY_TILE];
    if (!now.every((b, i) => b === was[i])) states.push({ plane: baseOf(plane), tile, bytes: was });
  }
  return states;
}

function readTiles(
  file: Uint8Array,
  plane: number,
  { size, firstTile }: SheetSpan,
  out: Map<number, Uint8Array>,
): void {
  const { width, height } = readPngHeader(file);
  if (width !== size || height !== size) {
    throw new CoreError(
      'storage-damaged',
      `Layer ${ownerOfChannel(plane).layer} is ${width} x ${height}, but the sheet is ${size} x ${size}. Copy the project file again.`,
    );
  }
  const { rgba } = decodePng(file);
  const tiled = new Uint8Array(rgba.length);
  fromRows(size, new Uint32Array(rgba.buffer), new Uint32Array(tiled.buffer));
  for (let tile = 0; tile < tileCount(size); tile++) {
    const bytes = tiled.slice(tile * TILE_BYTES, (tile + 1) * TILE_BYTES);
    if (!isEmptyTile(bytes)) out.set(firstTile + tile, bytes);
  }
}
