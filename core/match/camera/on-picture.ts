import { z } from 'zod';
import type { Follower } from '../../follow';

/** Beyond them nothing is placed, model units or pixels. */
const coordinate = z.number().min(-1e6).max(1e6);
const place = z.tuple([coordinate, coordinate, coordinate]).readonly();
const pixel = z.tuple([coordinate, coordinate]).readonly();

/** Where a picture was taken, or drawn, from. */
export const matchCameraSchema = z.strictObject({
  /** Where the eye is, model space. */
  position: place,
  /** What it looks at. */
  target: place,
  /** Upward in the picture; needn't be square to the view. */
  up: place,
  /** From the lower to the upper edge of the picture, degrees. */
  fovY: z.number().min(0.01).max(170),
  /** The picture is moved by these parts of its height, to the right and up. */
  shift: z.tuple([z.number().min(-10).max(10), z.number().min(-10).max(10)]),
  /** How a lens bends straight lines: so far out as half the height everything lies farther out by this part. Left out: not at all. */
  lens: z.number().min(-1).max(1).exactOptional(),
  /** Pixels of the picture. */
  width: z.int().min(1).max(16_384),
  height: z.int().min(1).max(16_384),
});

export type MatchCamera = Readonly<z.infer<typeof matchCameraSchema>>;

/** A place of the model and where it is in the picture, pixels from the upper left; the middle of the first pixel is 0.5. */
export const pointPairSchema = z.strictObject({ model: place, picture: pixel });
export type PointPair = Readonly<z.infer<typeof pointPairSchema>>;

/**
 * How a picture was made: with perspective, without it, or drawn freely, so that no camera sees the model just so and the best one without
 * perspective stands for it.
 */
export const DRAWN_HOW = ['perspective', 'orthographic', 'drawn'] as const;
export type DrawnHow = (typeof DRAWN_HOW)[number];

export const MOST_PAIRS = 64;
export const MOST_MASK_MARKS = 500;
export const MOST_SPANS = 40;

/** A stroke over a picture that says what is the model, or not. */
const maskMark = z.strictObject({
  /** It belongs to the model; or it doesn't. */
  adds: z.boolean(),
  /** The part of the model that it shows; null: any. */
  part: z.string().max(200).nullable(),
  /** Pixels across. */
  size: z.number().min(1).max(4096),
  /** Where it goes, x and y in turn, pixels. */
  points: z.array(coordinate).min(2).max(4000),
});
export type MaskMark = Readonly<z.infer<typeof maskMark>>;

/** A length that can be seen in both: how long it is in the picture beside the model tells of proportions. */
const span = z.strictObject({
  name: z.string().min(1).max(60),
  model: z.tuple([place, place]),
  picture: z.tuple([pixel, pixel]),
});
export type Span = Readonly<z.infer<typeof span>>;

const part = z.number().min(0).max(1);

/** How a reference goes with the model. All pixels are those of the picture as it is used: mirrored, if it is. */
export const pictureMatchSchema = z.strictObject({
  how: z.enum(DRAWN_HOW),
  /** Null: not found yet. */
  camera: matchCameraSchema.nullable(),
  pairs: z.array(pointPairSchema).max(MOST_PAIRS),
  mirror: z.boolean(),
  /** What of it counts, parts of its width and height from the upper left. */
  crop: z.strictObject({ left: part, top: part, right: part, bottom: part }),
  /** Over what was found to be its ground. */
  mask: z.array(maskMark).max(MOST_MASK_MARKS),
  spans: z.array(span).max(MOST_SPANS),
});
export type PictureMatch = Readonly<z.infer<typeof pictureMatchSchema>>;

/** Nothing is known yet. */
export const NO_MATCH: PictureMatch = {
  how: 'perspective',
  camera: null,
  pairs: [],
  mirror: false,
  crop: { left: 0, top: 0, right: 1, bottom: 1 },
  mask: [],
  spans: [],
};

/** The same on the picture seen the other way round. A camera no longer holds: a mirrored picture shows a mirrored model. */
export function mirroredMatch(match: PictureMatch, width: number): PictureMatch {
  const over = ([x, y]: readonly [number, number]): [number, number] => [width - x, y];
  return {
    ...match,
    mirror: !match.mirror,
    camera: null,
    pairs: match.pairs.map(({ model, picture }) => ({ model, picture: over(picture) })),
    crop: { ...match.crop, left: 1 - match.crop.right, right: 1 - match.crop.left },
    mask: match.mask.map((m) => ({ ...m, points: m.points.map((p, i) => (i % 2 ? p : width - p)) })),
    spans: match.spans.map((s) => ({ ...s, picture: [over(s.picture[0]), over(s.picture[1])] })),
  };
}

/** How a reference goes with the model when that changes: its pairs and its camera go along. */
export function followMatch(match: PictureMatch, model: Follower): PictureMatch {
  const { camera, pairs, spans, mask } = match;
  const partName = (name: string | null): string | null =>
    name === null ? null : (model.names.get(name) ?? name);
  return {
    ...match,
    camera:
      camera && model.placing
        ? {
            ...camera,
            position: model.point(camera.position),
            target: model.point(camera.target),
            up: model.direction(camera.up),
          }
        : camera,
    pairs: pairs.map((pair) => ({ ...pair, model: model.point(pair.model) })),
    spans: spans.map((span) => ({
      ...span,
      model: [model.point(span.model[0]), model.point(span.model[1])],
    })),
    mask: mask.map((mark) => ({ ...mark, part: partName(mark.part) })),
  };
}
