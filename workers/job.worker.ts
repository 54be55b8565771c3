import {
  casterFor,
  CUE_KINDS,
  cueKey,
  finishCast,
  groundsFor,
  measureCue,
  occlusionAgainst,
  requireMet,
  stretchIn,
  type CueSurface,
  type CueSpec,
  type DenseCueSurface,
  type TileCaster,
} from '../core/cues';
import { basePaintTiles, carryPaint, vertexColorTiles } from '../core/model';
import { brushPicture, recipePictures, scratchPicture } from '../core/engine';
import { MAX_PATTERN_SIDE } from '../core/pattern';
import { packModel, readMeasured, readProjectFile, unpackModel } from '../core/project-file';
import { paletteOf } from '../core/color';
import { noLarger } from '../core/picture';
import { CoreError } from '../core/errors';
import {
  decodePng,
  encodePng,
  importModel,
  layoutPicture,
  paletteStrip,
  pictureKind,
  readFileMotion,
  type Picture,
} from '../core/formats';
import { plannedNormals } from '../core/light';
import { keptTip } from '../core/paint';
import { fitAlbedo, paintedPlaces, rampsFromPaint } from '../core/ramps';
import { meshHash, pieceOnSheet, placedMesh, triangleCount, type UvMesh } from '../core/mesh';
import { sheetSpans, measureSurface, type SheetSize, TILE_TEXELS, type SurfaceMap } from '../core/surface';
import {
  doComponentJob,
  editingLayout,
  layoutHeat,
  measureIslands,
  measureLayout,
  modelHealth,
  planningLayout,
  suggestingSeams,
  unwrapping,
} from '../core/unwrap';
import { onePose } from '../core/motion';
import { createPlainKernels, createWasmKernels } from '../core/kernels';
import type { CastJob, CueJob, JobEvents, JobMethods } from './job-protocol';
import { decodePicture } from './decode-picture';
import { cueMapKey, keepMap, loadMap, ProjectStore } from '../storage';
import { SeamPathfinder } from './seam-pathfinder';
import { withHelpers } from './unwrap-pool';
import { shareSurface } from './share-surface';
import { handOver, serve, type Emit, type Handlers } from './rpc';
import './draco-module';

/** Tiles whose values are sent together: all of a first look comes at once, fine values as they are made. */
const COARSE_TILES_A_MESSAGE = 16;
const FINE_TILES_A_MESSAGE = 4;

/** A surface map is written down when the first cues have been measured. */
const KEEP_AFTER_MS = 4000;

const store = new ProjectStore();

/** A worker like this one, ended with it. */
const makeHelper = (): Worker => new Worker(self.location.href, { type: 'module' });

let roads: SeamPathfinder | null = null;

let lastCaster: { readonly scene: string; readonly caster: TileCaster } | null = null;

/** What poses were last compared with. */
let compared: { readonly key: string; readonly against: ReturnType<typeof occlusionAgainst> } | null = null;

let pictures: { readonly key: string; readonly draw: ReturnType<typeof recipePictures> } | null = null;

/** Made ready for one model, for all the pictures of it. */
function painterOf(mesh: UvMesh): ReturnType<typeof recipePictures> {
  const key = meshHash(mesh);
  if (pictures?.key !== key) pictures = { key, draw: recipePictures(mesh) };
  return pictures.draw;
}

/** What cues are measured on, by name; the newest last. */
const grounds = new Map<string, Promise<(spec: CueSpec) => CueSurface>>();
const MOST_GROUNDS = 3;

/** What jobs are measured on, made once for all cues of a model. */
function groundsOf(job: Omit<CueJob, 'spec'>): Promise<(spec: CueSpec) => CueSurface> {
  const { ground: name } = job;
  const groundFor = grounds.get(name) ?? makeGrounds(job);
  grounds.delete(name);
  grounds.set(name, groundFor);
  if (grounds.size > MOST_GROUNDS) grounds.delete([...grounds.keys()][0]!);
  return groundFor;
}

const groundOf = async (job: Omit<CueJob, 'spec'>, spec: CueSpec): Promise<CueSurface> =>
  (await groundsOf(job))(spec);

async function makeGrounds({ surface, dense, colors, moves }: Omit<CueJob, 'spec'>) {
  // Texts aren't read out of shared memory.
  const motion = moves && (await readFileMotion(moves.file.slice()));
  return groundsFor(surface, {
    dense: dense && {
      mesh: placedMesh(unpackModel(dense.file), dense.placing),
      distance: dense.distance,
    },
    colors,
    moves: motion && { motion, placing: moves.placing },
  });
}

async function casterOf(job: CastJob): Promise<TileCaster> {
  const { spec } = job;
  const scene = `${job.ground} ${cueKey(spec)}`;
  if (lastCaster?.scene !== scene) lastCaster = { scene, caster: casterFor(await groundOf(job, spec), spec) };
  return lastCaster.caster;
}

async function castTiles(job: CastJob, emit: Emit<JobEvents>): Promise<void> {
  const { tiles, coarse } = job;
  const caster = await casterOf(job);
  const together = coarse ? COARSE_TILES_A_MESSAGE : FINE_TILES_A_MESSAGE;
  for (let i = 0; i < tiles.length; i += together) {
    const group = tiles.slice(i, i + together);
    const values = new Uint16Array(group.length * TILE_TEXELS);
    group.forEach((tile, k) => values.set(caster.tile(tile, coarse), k * TILE_TEXELS));
    emit('cueTiles', { tiles: group, values }, [values.buffer]);
    emit('progress', (i + group.length) / tiles.length);
  }
}

async function measure(
  { mesh, modelHash, sizes, shared }: JobMethods['measure']['params'],
  emit: Emit<JobEvents>,
): Promise<SurfaceMap> {
  const key = `places 2 ${modelHash} ${sizes.join('+')}`;
  const known = (await loadMap(store, key).catch(() => null)) as SurfaceMap | null;
  if (known) return shared ? shareSurface(known) : known;
  const map = measureSurface(mesh, sizes, { onProgress: (done) => emit('progress', done) });
  const result = shared ? shareSurface(map) : map;
  // Not waited for: keeping it took five times as long as measuring it.
  setTimeout(
    () => void keepMap(store, key, map, map.codes.byteLength + map.subBounds.byteLength),
    KEEP_AFTER_MS,
  );
  return result;
}

function handlers(emit: Emit<JobEvents>): Handlers<JobMethods> {
  return {
    readModel: ({ name, bytes, companions }) => importModel(name, bytes, companions),
    basePaint: async ({ mesh, sizes, paint, pictureUvs }) => {
      const pictures = await Promise.all(paint.pictures.map((file) => (file ? decodePicture(file) : null)));
      const surface = measureSurface(mesh, sizes);
      const came = { ...paint, pictures, pictureUvs };
      const listed = (tiles: ReadonlyMap<number, Uint8Array>) =>
        [...tiles].map(([tile, bytes]) => ({ tile, bytes }));
      return {
        base: listed(basePaintTiles(surface, came)),
        vertices: listed(vertexColorTiles(surface, came)),
      };
    },
    unwrap: ({ mesh, how }) =>
      withHelpers(unwrapping(mesh, { ...how, onProgress: (done) => emit('progress', done) }), makeHelper),
    editLayout: ({ mesh, edit }) =>
      withHelpers(
        editingLayout(mesh, edit, (done) => emit('progress', done)),
        makeHelper,
      ),
    workOnComponent: ({ job }) => doComponentJob(job, (done) => emit('progress', done)),
    measureLayout: ({ mesh, sheet, size }) => {
      const { mesh: piece, faces } = pieceOnSheet(mesh, sheet);
      return {
        whole: measureLayout(piece, size),
        islands: measureIslands(piece, size).map((island) => ({
          ...island,
          faces: island.faces.map((f) => faces[f]!),
        })),
      };
    },
    layoutHeat: ({ mesh, kind, sizes }) => layoutHeat(mesh, kind, sizes),
    meshHash: ({ mesh }) => meshHash(mesh),
    openPathfinder: ({ name, mesh }) => {
      roads = new SeamPathfinder(name, mesh);
      return null;
    },
    findRoad: ({ name, from, to, seams }) => (roads?.name === name ? roads.find(from, to, seams) : null),
    slideSeam: ({ name, at, to, seams, points }) =>
      roads?.name === name ? roads.slide(at, to, seams, points) : 'unknown',
    planLayout: ({ mesh, sheet, ...how }) =>
      withHelpers(
        planningLayout(mesh, sheet, { ...how, onProgress: (done) => emit('progress', done) }),
        makeHelper,
      ),
    health: ({ mesh, sizes }) => modelHealth(mesh, sizes),
    suggestSeams: ({ mesh, faces }) =>
      withHelpers(
        suggestingSeams(mesh, faces, (done) => emit('progress', done)),
        makeHelper,
      ),
    carryPaint: (params) =>
      carryPaint({
        ...params,
        kernels: createWasmKernels(),
        onProgress: (done) => emit('progress', done),
      }),
    measure: (params) => measure(params, emit),
    castTiles: async (params) => {
      await castTiles(params, emit);
      return null;
    },
    placedCue: async (job) =>
      handOver(measureCue(job.surface, job.spec, { ground: await groundOf(job, job.spec) })),
    finishCast: async (job) => handOver(finishCast(await groundOf(job, job.spec), job.spec, job.values)),
    poseMap: async ({ map, pose, painted, ...job }) => {
      const groundFor = await groundsOf(job);
      const told = (done: number): void => emit('progress', done);
      if (map === 'occlusion') {
        const key = `${job.ground} ${cueKey(painted)}`;
        if (compared?.key !== key) compared = { key, against: occlusionAgainst(groundFor, painted) };
        return handOver(compared.against(pose, told));
      }
      return handOver(stretchIn(groundFor({ ...painted, poses: onePose(pose) })));
    },
    denseModel: async ({ name, bytes, companions }) => {
      const { mesh } = await importModel(name, bytes, companions);
      return { packed: packModel(mesh), triangles: triangleCount(mesh) };
    },
    meetDense: async (job) => {
      const met = ((await groundOf(job, CUE_KINDS.height.usual)) as DenseCueSurface).met();
      requireMet(met);
      return met;
    },
    paletteOf: ({ rgba, count }) => paletteOf(rgba, count),
    patternPng: async ({ file }) => {
      const picture = await requirePicture(file);
      const small = noLarger(picture, MAX_PATTERN_SIDE);
      return { png: encodePng(small), width: small.width, height: small.height };
    },
    tipPng: async ({ file }) =>
      handOver(encodePng(keptTip(noLarger(await requirePicture(file), MAX_PATTERN_SIDE)))),
    scratchPicture: ({ strokes }) => handOver(encodePng(scratchPicture(strokes, createPlainKernels()))),
    brushPicture: (shown) => handOver(encodePng(brushPicture(shown, createPlainKernels()))),
    recipePicture: ({ mesh, recipe, size }) => handOver(encodePng(painterOf(mesh)(recipe, size))),
    loadMap: ({ key }) => loadMap(store, key),
    keepMeasured: async ({ bytes }) => {
      const { model, sizes, cues } = readMeasured(bytes);
      for (const { spec, values } of cues) {
        const key = cueMapKey(model, sheetSpans(sizes as SheetSize[]), spec);
        await keepMap(store, key, values, values.byteLength);
      }
      return null;
    },
    keepMap: async ({ key, data, bytes }) => {
      await keepMap(store, key, data, bytes);
      return null;
    },
    plannedNormals: ({ mesh, plan, regions }) => {
      const faces = new Map(regions);
      return plannedNormals(mesh, plan, (region) => faces.get(region) ?? []);
    },
    rampsFromPaint: ({ surface, rows, most }) => {
      const places = paintedPlaces(surface, rows);
      return rampsFromPaint(
        surface.mesh.parts.map((name, i) => ({ name, places: places[i]! })),
        most,
      );
    },
    fitToRamps: ({ surface, rows, ramps }) =>
      fitAlbedo(surface, rows, ramps, (done) => emit('progress', done)),
    layoutPng: ({ mesh, style }) => handOver(encodePng(layoutPicture(mesh, style))),
    palettePng: ({ colors }) => handOver(paletteStrip(colors)),
    readProject: ({ bytes }) => {
      const missing: string[] = [];
      return { data: readProjectFile(bytes, (says) => missing.push(says)), missing };
    },
  };
}

/** @throws CoreError `file-not-a-picture` if it can't be read, `file-unsupported` if it is too large */
async function requirePicture(file: Uint8Array): Promise<Picture> {
  if (pictureKind(file) === 'PNG') return decodePng(file);
  const picture = await decodePicture(file);
  if (picture) return picture;
  throw new CoreError(
    'file-not-a-picture',
    'That is not a picture that can be read, or it is cut off. Use PNG, JPEG or WebP.',
  );
}

serve<JobMethods, JobEvents>(self, handlers);
