import { ClosestPoint, type SurfacePoint, type UvMesh } from '../../mesh';
import { projection } from '../camera/camera';
import { solve } from '../camera/levenberg';
import type { MatchCamera, PointPair } from '../camera/on-picture';
import type { SeenModel } from '../camera/see-model';
import {
  type Outlines,
  outlinesOf,
  ownOutlines,
  placesOf,
  thinned,
  borderLength,
  LEAST_PLACES,
  facing,
} from './bend-outlines';

/** Where something of the model is seen, and where the drawing has it, pixels. */
export interface BendArrow {
  readonly from: readonly [x: number, y: number];
  readonly to: readonly [x: number, y: number];
}

/** What a drawing does to a part, beside the model from where it was drawn. */
export interface PartBend {
  readonly part: string;
  /** The part's middle moved, to the right and up, percent of the picture's height. */
  readonly move: readonly [right: number, up: number];
  /** Turned against the clock, degrees. */
  readonly turn: number;
  /** Percent. */
  readonly wider: number;
  readonly taller: number;
  readonly arrows: readonly BendArrow[];
}

/** What bends are told from. */
export interface BendInput {
  readonly mesh: UvMesh;
  readonly camera: MatchCamera;
  readonly seen: SeenModel;
  /** 1 a pixel of the picture that belongs to the model. */
  readonly mask: Uint8Array;
  /** Number of the part that a pixel of the picture was told to show; negative elsewhere. */
  readonly partMask: Int16Array | null;
  /** In pixels of this picture. */
  readonly pairs: readonly PointPair[];
}

/** How far off things are expected to be, parts of the picture's height: what a drawing moves, a pair that was set, an outline. */
const [MOVED, SET, DRAWN] = [0.06, 0.002, 0.004];

/** By how much of itself a part is expected to be turned or stretched. */
const STRETCHED = 0.12;

/** A part is slanted by so many times less than it is turned. */
const SLANT = 4;

/** Outlines farther apart than this don't show the same, parts of the height; at first, and when they have come nearer. */
const REACH = [0.1, 0.06, 0.04, 0.04] as const;

/** Of a part's border at least so much is outline, or that tells nothing of the part. */
const LEAST_SHARE = 0.2;

/** From one arrow to the next, parts of the height. */
const ARROW_STEP = 1 / 18;

/**
 * What a drawing bends: for each part the affine move, turn and stretch that carries it from where the camera sees it to where the picture
 * has it, by its pairs and its outline (of outlines only what lies square to them tells anything), held toward none at all; as a field of
 * arrows over the part. Outlines are paired with the nearest that runs the same way, anew each time they have come nearer (P. Besl and
 * N. McKay, "A method for registration of 3-D shapes", 1992; Y. Chen and G. Medioni, 1991, for the distance square to them).
 *
 * @returns parts of which something is told, those that are bent most first
 */
export function bendsOf(input: BendInput): PartBend[] {
  const { mesh, seen, camera } = input;
  const { width, height } = camera;
  const partOf = Int16Array.from(seen.faces, (f) => (f >= 0 ? mesh.faceParts[f]! : -1));
  const whole = outlinesOf(
    partOf.map((p) => (p >= 0 ? 1 : 0)),
    input.mask,
    width,
    height,
  );
  const pairsOf = pairsByPart(input);
  return mesh.parts
    .flatMap((name, part): PartBend[] => {
      const own = ownOutlines(partOf, input.partMask, part, width, height);
      const outlines = own ?? whole;
      const all = placesOf(outlines.model, partOf, part);
      const isOutlined = all.length >= LEAST_SHARE * borderLength(partOf, part, width);
      const places = isOutlined ? thinned(all) : [];
      const frame = frameOf(partOf, part, width);
      const field = frame && fitField(frame, pairsOf[part] ?? [], places, outlines, width, height);
      return field ? [tellBend(name, part, partOf, frame, field, width, height)] : [];
    })
    .sort((a, b) => lengthOf(b) - lengthOf(a));
}

/** In words, what is bent by more than a hair; empty where nothing is. */
export function bendWords({ move: [right, up], turn, wider, taller }: PartBend): string {
  const percent = (x: number): string => `${Math.abs(x).toFixed(Math.abs(x) < 9.5 ? 1 : 0)} %`;
  const words: string[] = [];
  if (Math.abs(wider) >= 2) words.push(`${percent(wider)} ${wider > 0 ? 'wider' : 'narrower'}`);
  if (Math.abs(taller) >= 2) words.push(`${percent(taller)} ${taller > 0 ? 'taller' : 'shorter'}`);
  if (Math.abs(right) >= 0.5) words.push(`${percent(right)} to the ${right > 0 ? 'right' : 'left'}`);
  if (Math.abs(up) >= 0.5) words.push(`${percent(up)} ${up > 0 ? 'higher' : 'lower'}`);
  if (Math.abs(turn) >= 1.5)
    words.push(`turned ${Math.abs(turn).toFixed(0)}° ${turn > 0 ? 'against' : 'with'} the clock`);
  return words.join(', ');
}

/** The longest arrow, pixels. */
const lengthOf = ({ arrows }: PartBend): number =>
  arrows.reduce((most, { from, to }) => Math.max(most, Math.hypot(to[0] - from[0], to[1] - from[1])), 0);

/** A part in the picture: its middle and half of its larger side. */
interface PartFrame {
  readonly x: number;
  readonly y: number;
  readonly reach: number;
}

function frameOf(partOf: Int16Array, part: number, width: number): PartFrame | null {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  partOf.forEach((p, i) => {
    if (p !== part) return;
    const [x, y] = [i % width, Math.floor(i / width)];
    x0 = Math.min(x0, x);
    x1 = Math.max(x1, x + 1);
    y0 = Math.min(y0, y);
    y1 = Math.max(y1, y + 1);
  });
  if (!(x1 > x0)) return null;
  return { x: (x0 + x1) / 2, y: (y0 + y1) / 2, reach: Math.max(x1 - x0, y1 - y0, 4) / 2 };
}

interface SeenPair {
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
}

/** Each pair goes with the part on whose surface its place is. */
function pairsByPart({ mesh, camera, pairs }: BendInput): SeenPair[][] {
  const out = mesh.parts.map((): SeenPair[] => []);
  if (pairs.length === 0) return out;
  const faces = Uint32Array.from({ length: mesh.indices.length / 3 }, (_, f) => f);
  const finder = new ClosestPoint(mesh.positions, mesh.indices, faces);
  const place: SurfacePoint = { face: 0, w0: 1, w1: 0, w2: 0, distance: 0 };
  const see = projection(camera);
  for (const { model, picture } of pairs) {
    finder.find(...model, place);
    const { x, y, depth } = see(model);
    if (depth > 0) out[mesh.faceParts[place.face]!]!.push({ from: [x, y], to: picture });
  }
  return out;
}

/** Moved by (0, 1), and by so much more a reach to the right (2, 3) and down (4, 5); pixels. */
type Field = Float64Array;

const UNKNOWNS = 6;

const movedBy = (field: Field, { x, y, reach }: PartFrame, px: number, py: number): [number, number] => {
  const [u, v] = [(px - x) / reach, (py - y) / reach];
  return [field[0]! + field[2]! * u + field[4]! * v, field[1]! + field[3]! * u + field[5]! * v];
};

/** @returns null where too little is told */
function fitField(
  frame: PartFrame,
  pairs: readonly SeenPair[],
  places: readonly number[],
  outlines: Outlines,
  width: number,
  height: number,
): Field | null {
  let field: Field = new Float64Array(UNKNOWNS);
  let told = 0;
  const { model, picture } = outlines.smooth;
  const sums = new Sums(frame, MOVED * height);
  for (const far of REACH) {
    // What is farther off than a part is large is hardly its own outline.
    const reach = Math.min(far * height, frame.reach);
    sums.clear();
    told = 0;
    for (const { from, to } of pairs) {
      sums.add(from[0], from[1], 1, 0, to[0] - from[0], 1 / (SET * height));
      sums.add(from[0], from[1], 0, 1, to[1] - from[1], 1 / (SET * height));
    }
    // However long an outline is, it counts no more than its bends can tell.
    const share = Math.min(1, Math.sqrt(60 / Math.max(1, places.length)));
    for (const i of places) {
      const [px, py] = [(i % width) + 0.5, Math.floor(i / width) + 0.5];
      const [mx, my] = movedBy(field, frame, px, py);
      const [ax, ay] = [Math.floor(px + mx), Math.floor(py + my)];
      if (ax < 0 || ay < 0 || ax >= width || ay >= height) continue;
      const j = outlines.nearest[ay * width + ax]!;
      if (j < 0) continue;
      const [qx, qy] = [(j % width) + 0.5, Math.floor(j / width) + 0.5];
      if (Math.hypot(qx - px - mx, qy - py - my) > reach) continue;
      const [nx, ny] = facing(picture, j, width, height);
      const [ox, oy] = facing(model, i, width, height);
      if (nx * ox + ny * oy < 0.5) continue;
      const off = nx * (qx - px) + ny * (qy - py);
      const left = Math.abs(off - nx * mx - ny * my);
      // Huber: what is far off pulls no harder than what is near.
      const weight = share * Math.sqrt(Math.min(1, (2 * DRAWN * height) / Math.max(left, 1e-9)));
      sums.add(px, py, nx, ny, off, weight / (DRAWN * height));
      told++;
    }
    field = sums.solved() ?? field;
  }
  return pairs.length > 0 || told >= LEAST_PLACES ? field : null;
}

/** Least squares over a part's field, held toward none. */
class Sums {
  private readonly normal = new Float64Array(UNKNOWNS * UNKNOWNS);
  private readonly right = new Float64Array(UNKNOWNS);
  private readonly frame: PartFrame;
  private readonly expected: number;

  /** @param expected pixels that a part is moved by, usually */
  constructor(frame: PartFrame, expected: number) {
    this.frame = frame;
    this.expected = expected;
  }

  clear(): void {
    this.normal.fill(0);
    this.right.fill(0);
    const s = 1 / (STRETCHED * this.frame.reach) ** 2;
    for (let k = 0; k < UNKNOWNS; k++) this.normal[k * (UNKNOWNS + 1)] = k < 2 ? 1 / this.expected ** 2 : s;
    // Parts are turned rather than slanted: on a round outline the two look nearly the same.
    for (const a of [3, 4]) for (const b of [3, 4]) this.normal[a * UNKNOWNS + b]! += s * SLANT ** 2;
  }

  /** At a place, the field along (nx, ny) is so many pixels; as sure as 1 / their spread. */
  add(px: number, py: number, nx: number, ny: number, off: number, sure: number): void {
    const { x, y, reach } = this.frame;
    const [u, v] = [(px - x) / reach, (py - y) / reach];
    const row = [nx, ny, nx * u, ny * u, nx * v, ny * v];
    const s = sure * sure;
    for (let a = 0; a < UNKNOWNS; a++) {
      this.right[a]! += s * row[a]! * off;
      for (let b = 0; b < UNKNOWNS; b++) this.normal[a * UNKNOWNS + b]! += s * row[a]! * row[b]!;
    }
  }

  solved(): Field | null {
    return solve(this.normal.slice(), this.right.slice(), UNKNOWNS);
  }
}

function tellBend(
  name: string,
  part: number,
  partOf: Int16Array,
  frame: PartFrame,
  field: Field,
  width: number,
  height: number,
): PartBend {
  const arrows: BendArrow[] = [];
  const step = Math.max(2, Math.round(ARROW_STEP * height));
  for (let y = step >> 1; y < height; y += step) {
    for (let x = step >> 1; x < width; x += step) {
      if (partOf[y * width + x] !== part) continue;
      const [dx, dy] = movedBy(field, frame, x + 0.5, y + 0.5);
      arrows.push({ from: [x + 0.5, y + 0.5], to: [x + 0.5 + dx, y + 0.5 + dy] });
    }
  }
  const [bx, by] = [field[0]!, field[1]!];
  if (arrows.length === 0) arrows.push({ from: [frame.x, frame.y], to: [frame.x + bx, frame.y + by] });
  const [xx, xy, yx, yy] = [2, 3, 4, 5].map((k) => field[k]! / frame.reach) as [
    number,
    number,
    number,
    number,
  ];
  return {
    part: name,
    move: [(bx / height) * 100, (-by / height) * 100],
    // Down is positive in the picture, so that with the clock is, too.
    turn: (-Math.atan2(xy - yx, 2 + xx + yy) * 180) / Math.PI,
    wider: xx * 100,
    taller: yy * 100,
    arrows,
  };
}
