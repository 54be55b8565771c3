import { ciede2000, hexToRgb, paletteOf, rgbToCielab, type PaletteColor } from '../../color';
import type { UvMesh } from '../../mesh';
import { adviceOf } from './advice';
import { bendsOf } from '../bend/bend';
import type { MatchReport, NamedArea, PalettePair, PartLight } from './match-report';
import { colorRange, type ColorRange } from './color-range';
import { measureEdges, type EdgeMeasures } from './edge-measures';
import { maskFromGround, type Rows } from '../mask/ground-mask';
import { differenceField, labRows, type LabRows } from './lab-rows';
import { alignedPixels, localShifts } from './local-shift';
import type { MatchCamera, PointPair, Span } from '../camera/on-picture';
import { cheapestPairs } from './pair-colors';
import { degreesBetween, paintedLights, type PaintedLight } from './painted-light';
import { agreedLight, disagreeing, pictureLight, SURE, type PictureLight } from './picture-light';
import { seeModel, seenColors, type Albedo, type AssignedPaint, type SeenModel } from '../camera/see-model';
import { compareSilhouettes } from '../camera/silhouette';
import { outlinePlaces, partSilhouettes } from '../camera/silhouette-places';
import { compareSpans, type SpanMatch } from './spans';
import { compareArea } from './tones-seen';
import { mergingParts, valueGroups, valuesOf, type ValueGroup } from './value-groups';

/** A region by what of its triangles it holds. */
export interface RegionArea {
  readonly name: string;
  /** 1 a triangle that belongs to it. */
  readonly faces: Uint8Array;
}

/** What a comparison is made from besides the paint. */
export interface MatchInput {
  readonly mesh: UvMesh;
  readonly camera: MatchCamera;
  /** Of the camera's size. */
  readonly picture: Rows;
  /** 1 a pixel that belongs to the model. */
  readonly mask: Uint8Array;
  /** 1 a pixel that is compared at all; null: all are. */
  readonly within?: Uint8Array | null;
  /** Number of the part that a pixel of the picture was told to show; negative elsewhere. */
  readonly partMask?: Int16Array | null;
  readonly regions?: readonly RegionArea[];
  readonly spans?: readonly Span[];
  /** Pairs of places, if the picture was drawn freely: then what it bends is told, too. */
  readonly drawn?: readonly PointPair[] | null;
}

/** A reference ready to be compared with whatever is painted. */
export interface PreparedMatch extends MatchInput {
  readonly seen: SeenModel;
  readonly reference: Uint8Array;
  readonly referenceLab: LabRows;
  readonly silhouette: MatchReport['silhouette'];
  readonly lights: readonly (PaintedLight | null)[];
  readonly light: PictureLight | null;
  readonly palette: readonly PaletteColor[];
  readonly values: readonly number[];
  readonly groups: readonly ValueGroup[];
  readonly colors: ColorRange;
  readonly edges: EdgeMeasures;
  readonly spansSeen: readonly SpanMatch[];
  readonly bends: MatchReport['bends'];
}

/** A report, and the pictures that it was made from. */
export interface Matched {
  readonly report: MatchReport;
  /** The model as its camera sees it, RGBA rows. */
  readonly painted: Uint8Array;
  /** The pixel of the reference that each is compared with. */
  readonly aligned: Int32Array;
  /** CIEDE2000 a pixel; NaN where it isn't told. */
  readonly field: Float32Array;
}

const PALETTE_COLORS = 10;

/** What can be told of a reference before anything is painted. */
export function prepareMatch(input: MatchInput): PreparedMatch {
  const { mesh, camera, picture, mask, within = null, partMask = null, spans = [], drawn = null } = input;
  const { width, height } = camera;
  const whole = seeModel(mesh, camera);
  const seen = within ? { ...whole, faces: whole.faces.map((f, i) => (within[i] ? f : -1)) } : whole;
  const own = within ? mask.map((m, i) => (m && within[i] ? 1 : 0)) : mask;
  const reference = picture.rgba.slice();
  own.forEach((m, i) => {
    if (!m) reference.fill(0, i * 4, i * 4 + 4);
  });
  const referenceLab = labRows(reference);
  const outline = Uint8Array.from(seen.faces, (f) => (f >= 0 ? 1 : 0));
  const lights = paintedLights(mesh, seen, reference);
  const agreed = agreedLight(lights, pixelsByPart(mesh, seen));
  return {
    ...input,
    mask: own,
    seen,
    reference,
    referenceLab,
    silhouette: {
      ...compareSilhouettes(own, outline, width, height),
      places: outlinePlaces(mesh, seen, own, width, height),
      parts: partMask ? partSilhouettes(mesh, seen, partMask) : [],
    },
    lights,
    light: agreed && pictureLight(mesh, seen, reference, agreed),
    palette: paletteOf(reference, PALETTE_COLORS),
    values: valuesOf(referenceLab),
    groups: valueGroups(referenceLab),
    colors: colorRange(referenceLab),
    edges: measureEdges(referenceLab, width, height),
    spansSeen: compareSpans(spans, camera),
    bends: drawn ? bendsOf({ mesh, camera, seen, mask: own, partMask, pairs: drawn }) : [],
  };
}

/** Compares paint with a reference, from where that was drawn. @param ramps what lies on a ramp sheet has its colours from there */
export function reportOn(
  prepared: PreparedMatch,
  sheets: readonly Albedo[],
  ramps: AssignedPaint | null = null,
): Matched {
  const { mesh, seen, camera, referenceLab, silhouette } = prepared;
  const { width, height } = camera;
  const painted = seenColors(mesh, seen, sheets, ramps);
  const paintedLab = labRows(painted);
  const aligned = alignedPixels(
    localShifts(referenceLab, paintedLab, width, height),
    referenceLab,
    width,
    height,
  );
  const field = differenceField(referenceLab, paintedLab, aligned);
  const areas = areasOf(prepared, painted, aligned, field);
  const parts = areas.filter((a) => a.of === 'part');
  const lights = paintedLights(mesh, seen, painted);
  const agreed = agreedLight(lights, pixelsByPart(mesh, seen));
  const values = (side: 'reference' | 'model') =>
    new Map(parts.map((a) => [mesh.parts.indexOf(a.part), rgbToCielab(a[side]).L]));
  const partOf = Int32Array.from(seen.faces, (f) => (f < 0 ? -1 : mesh.faceParts[f]!));
  const told = {
    silhouette,
    deltaE: spreadOf(field),
    parts,
    regions: areas.filter((a) => a.of === 'region'),
    palette: pairPalettes(prepared.palette, paletteOf(painted, PALETTE_COLORS)),
    values: { reference: prepared.values, model: valuesOf(paintedLab) },
    groups: { reference: prepared.groups, model: valueGroups(paintedLab) },
    merging: mergingParts(partOf, width, height, values('reference'), values('model')).map((m) => ({
      ...m,
      parts: [mesh.parts[m.parts[0]]!, mesh.parts[m.parts[1]]!] as const,
    })),
    colors: { reference: prepared.colors, model: colorRange(paintedLab) },
    light: lights.flatMap((is, p): PartLight[] => {
      if (!is) return [];
      const want = prepared.lights[p];
      const degrees = want && want.certainty >= SURE ? degreesBetween(is.direction, want.direction) : null;
      return [{ part: mesh.parts[p]!, ...is, degrees }];
    }),
    lightAll: {
      model: agreed,
      reference: prepared.light,
      degrees: agreed && prepared.light ? degreesBetween(agreed.direction, prepared.light.direction) : null,
      disagree: agreed
        ? disagreeing(lights, agreed.direction).map(({ part, degrees }) => ({
            part: mesh.parts[part]!,
            degrees,
          }))
        : [],
    },
    edges: { reference: prepared.edges, model: measureEdges(paintedLab, width, height) },
    spans: prepared.spansSeen,
    bends: prepared.bends,
  };
  return { report: { ...told, advice: adviceOf(told) }, painted, aligned, field };
}

/**
 * The two steps in one.
 *
 * @param mask null: told by the ground
 * @throws CoreError `bad-argument` if no mask is given and the ground tells none
 */
export function matchModel(
  mesh: UvMesh,
  sheets: readonly Albedo[],
  camera: MatchCamera,
  picture: Rows,
  mask: Uint8Array | null,
): Matched {
  return reportOn(prepareMatch({ mesh, camera, picture, mask: mask ?? maskFromGround(picture) }), sheets);
}

function pixelsByPart(mesh: UvMesh, { faces }: SeenModel): number[] {
  const out = mesh.parts.map(() => 0);
  for (const f of faces) if (f >= 0) out[mesh.faceParts[f]!]!++;
  return out;
}

function spreadOf(field: Float32Array): MatchReport['deltaE'] {
  const sorted = field.filter((d) => !Number.isNaN(d)).sort();
  const at = (share: number): number =>
    sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0;
  const mean = sorted.length > 0 ? sorted.reduce((a, b) => a + b, 0) / sorted.length : 0;
  return { mean, p50: at(0.5), p95: at(0.95) };
}

/** Parts and regions by their pixels that both show. */
function areasOf(
  { mesh, seen, reference, regions = [], camera }: PreparedMatch,
  painted: Uint8Array,
  aligned: Int32Array,
  field: Float32Array,
): NamedArea[] {
  const byPart = mesh.parts.map((): number[] => []);
  const byRegion = regions.map((): number[] => []);
  for (let i = 0; i < field.length; i++) {
    if (Number.isNaN(field[i]!)) continue;
    const f = seen.faces[i]!;
    byPart[mesh.faceParts[f]!]!.push(i);
    regions.forEach(({ faces }, r) => {
      if (faces[f]) byRegion[r]!.push(i);
    });
  }
  const tell = (of: NamedArea['of'], part: string, pixels: readonly number[]): NamedArea[] => {
    const area = compareArea(reference, painted, Int32Array.from(pixels), aligned, field, camera.width);
    return area ? [{ of, part, ...area }] : [];
  };
  return [
    ...byPart.flatMap((pixels, p) => tell('part', mesh.parts[p]!, pixels)),
    ...byRegion.flatMap((pixels, r) => tell('region', regions[r]!.name, pixels)),
  ];
}

/** Colours of two pictures, paired so that they differ least in sum. */
export function pairPalettes(a: readonly PaletteColor[], b: readonly PaletteColor[]): PalettePair[] {
  const isSwapped = a.length > b.length;
  const [few, many] = isSwapped ? [b, a] : [a, b];
  if (few.length === 0) return [];
  const labOf = ({ hex }: PaletteColor) => rgbToCielab(hexToRgb(hex));
  const cost = few.map((p) => many.map((q) => ciede2000(labOf(p), labOf(q)).deltaE));
  return cheapestPairs(cost)
    .map((column, row) => {
      const [p, q] = [few[row]!, many[column]!];
      const deltaE = cost[row]![column]!;
      return isSwapped ? { reference: q, model: p, deltaE } : { reference: p, model: q, deltaE };
    })
    .sort((x, y) => y.reference.share - x.reference.share);
}
