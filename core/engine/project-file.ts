import { strFromU8, strToU8, unzipSync, zipSync, type Zippable } from 'fflate';
import { z } from 'zod';
import { base64ToBytes, bytesToBase64 } from '../base64';
import { CoreError } from '../errors';
import { decodePng, encodePng, pictureKind } from '../formats';
import { checkMesh, meshHash, requireUvs, sheetCount, type UvMesh } from '../mesh';
import { strokeSchema, type Stroke } from '../paint';
import { fromRows, sheetSpans, TILE_BYTES, tileCount, toRows, type SheetSpan } from '../surface';
import { parseDocument, type ProjectDocument } from './document';
import type { TileState } from './tile-pack';

/** All that makes up a project: what the file holds and what storage holds. */
export interface ProjectData {
  readonly document: ProjectDocument;
  readonly mesh: UvMesh;
  readonly pixels: readonly TileState[];
  readonly strokes: ReadonlyMap<number, readonly Stroke[]>;
  /** Reference pictures as they were brought in, by id. */
  readonly pictures: ReadonlyMap<number, Uint8Array>;
}

const numbers = z.string().regex(/^[A-Za-z0-9+/]*=*$/, 'base64 is expected');

const modelSchema = z.strictObject({
  /** Little-endian arrays in base64: 32-bit floats, then 32-bit and 16-bit whole numbers. */
  positions: numbers,
  normals: numbers,
  uvs: numbers,
  indices: numbers,
  faceParts: numbers,
  parts: z.array(z.string()),
  polygons: numbers.optional(),
  partSheets: z.array(z.int().nonnegative()).optional(),
});

const manifestSchema = z.strictObject({
  format: z.literal('zanahoria-project'),
  version: z.literal(1),
  /** Checked by itself: it may be of an older form. */
  document: z.unknown(),
});

/**
 * A project as one zip: `project.json`, `model.json`, `layers/ID.png` and `strokes/ID.json` a paint layer (`layers/ID-N.png` for
 * each further sheet N from 1 on), and the reference pictures. Reading it back gives the same project to the last texel.
 */
export function writeProjectFile(data: ProjectData): Uint8Array {
  const files: Zippable = {
    'project.json': json({ format: 'zanahoria-project', version: 1, document: data.document }),
    'model.json': json(modelToJson(data.mesh)),
  };
  const spans = sheetSpans(data.document.sheets.map((s) => s.size));
  for (const layer of data.document.layers) {
    if (layer.kind !== 'paint') continue;
    spans.forEach((span, sheet) => {
      // Already deflated: storing is enough.
      files[layerFile(layer.id, sheet)] = [layerPng(data.pixels, layer.id, span), { level: 0 }];
    });
    files[`strokes/${layer.id}.json`] = json(data.strokes.get(layer.id) ?? []);
  }
  for (const reference of data.document.references) {
    const bytes = data.pictures.get(reference.id);
    if (bytes) files[`references/${reference.id}.${pictureEnding(bytes)}`] = [bytes, { level: 0 }];
  }
  return zipSync(files, { level: 6, mtime: ZIP_TIME });
}

const layerFile = (layer: number, sheet: number): string =>
  sheet === 0 ? `layers/${layer}.png` : `layers/${layer}-${sheet}.png`;

function layerPng(pixels: readonly TileState[], layer: number, { size, firstTile }: SheetSpan): Uint8Array {
  const tiled = new Uint8Array(size * size * 4);
  for (const { layer: id, tile, bytes } of pixels) {
    const own = tile - firstTile;
    if (id === layer && bytes && own >= 0 && own < tileCount(size)) tiled.set(bytes, own * TILE_BYTES);
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
 * @throws CoreError `file-empty`, `file-not-a-project`, `document-invalid`, `storage-damaged` or a `model-` code
 */
export function readProjectFile(bytes: Uint8Array): ProjectData {
  if (bytes.length === 0)
    throw new CoreError('file-empty', 'The project file is empty (0 bytes). Copy it again.');
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes);
  } catch (cause) {
    throw new CoreError(
      'file-not-a-project',
      'That is not a whole project file: its zip can’t be opened. Copy or export it again.',
      { cause },
    );
  }
  const manifest = manifestSchema.safeParse(parseJson(files, 'project.json'));
  if (!manifest.success) {
    throw new CoreError(
      'file-not-a-project',
      'The zip holds no Zanahoria project of version 1. Choose a file that was saved with “Project file”.',
      { cause: manifest.error },
    );
  }
  const mesh = modelFromJson(parseJson(files, 'model.json'));
  const document = { ...parseDocument(manifest.data.document), model: meshHash(mesh) };
  if (sheetCount(mesh) > document.sheets.length) {
    throw new CoreError(
      'storage-damaged',
      `The model lies on ${sheetCount(mesh)} sheets, but the project file names ${document.sheets.length}. Copy it again.`,
    );
  }
  const pixels: TileState[] = [];
  const strokes = new Map<number, readonly Stroke[]>();
  for (const layer of document.layers) {
    if (layer.kind !== 'paint') continue;
    sheetSpans(document.sheets.map((s) => s.size)).forEach((span, sheet) => {
      pixels.push(...readLayer(files, layer.id, sheet, span));
    });
    const list = z.array(strokeSchema).safeParse(parseJson(files, `strokes/${layer.id}.json`));
    if (!list.success) {
      throw new CoreError(
        'storage-damaged',
        `The strokes of “${layer.name}” can't be read. Copy the project file again.`,
        {
          cause: list.error,
        },
      );
    }
    strokes.set(layer.id, list.data);
  }
  const pictures = new Map<number, Uint8Array>();
  for (const { id } of document.references) {
    const name = Object.keys(files).find((f) => f.startsWith(`references/${id}.`));
    if (name) pictures.set(id, files[name]!);
  }
  return { document, mesh, pixels, strokes, pictures };
}

function parseJson(files: Record<string, Uint8Array>, name: string): unknown {
  const file = files[name];
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

function readLayer(
  files: Record<string, Uint8Array>,
  layer: number,
  sheet: number,
  { size, firstTile }: SheetSpan,
): TileState[] {
  const file = files[layerFile(layer, sheet)];
  if (!file)
    throw new CoreError(
      'storage-damaged',
      `The project file lacks the pixels of layer ${layer}. Copy it again.`,
    );
  const picture = decodePng(file);
  if (picture.width !== size || picture.height !== size) {
    throw new CoreError(
      'storage-damaged',
      `Layer ${layer} is ${picture.width} x ${picture.height}, but the sheet is ${size} x ${size}. Copy the project file again.`,
    );
  }
  const tiled = new Uint8Array(picture.rgba.length);
  fromRows(size, new Uint32Array(picture.rgba.buffer), new Uint32Array(tiled.buffer));
  const out: TileState[] = [];
  for (let tile = 0; tile < tileCount(size); tile++) {
    const bytes = tiled.slice(tile * TILE_BYTES, (tile + 1) * TILE_BYTES);
    if (bytes.some((b) => b !== 0)) out.push({ layer, tile: firstTile + tile, bytes });
  }
  return out;
}

function modelToJson(mesh: UvMesh): z.infer<typeof modelSchema> {
  const text = (a: Float32Array | Uint32Array | Uint16Array): string =>
    bytesToBase64(new Uint8Array(a.buffer, a.byteOffset, a.byteLength));
  return {
    positions: text(mesh.positions),
    normals: text(mesh.normals),
    uvs: text(mesh.uvs),
    indices: text(mesh.indices),
    faceParts: text(mesh.faceParts),
    parts: [...mesh.parts],
    ...(mesh.polygons ? { polygons: text(mesh.polygons) } : {}),
    ...(mesh.partSheets ? { partSheets: [...mesh.partSheets] } : {}),
  };
}

function modelFromJson(data: unknown): UvMesh {
  const parsed = modelSchema.safeParse(data);
  if (!parsed.success) {
    throw new CoreError('storage-damaged', 'The model in the project file is damaged. Copy the file again.', {
      cause: parsed.error,
    });
  }
  const { positions, normals, uvs, indices, faceParts, parts, polygons, partSheets } = parsed.data;
  const buffer = (text: string): ArrayBuffer => base64ToBytes(text).buffer as ArrayBuffer;
  return requireUvs(
    checkMesh({
      positions: new Float32Array(buffer(positions)),
      normals: new Float32Array(buffer(normals)),
      uvs: new Float32Array(buffer(uvs)),
      indices: new Uint32Array(buffer(indices)),
      faceParts: new Uint16Array(buffer(faceParts)),
      parts,
      ...(polygons ? { polygons: new Uint32Array(buffer(polygons)) } : {}),
      ...(partSheets ? { partSheets } : {}),
    }),
  );
}
