/**
 * Where each vertex comes from in the file that the model was read from: one of its vertices, or three of them with weights where a
 * triangle was cut. Vertices of the file are counted over all that it draws, in its order.
 */
export interface Origins {
  /** Three vertices of the file a vertex; NO_ORIGIN where there is none. */
  readonly from: Uint32Array;
  /** Three weights a vertex, that sum to 1; those of one vertex of the file are 1, 0, 0. */
  readonly weights: Float32Array;
}

interface HasOrigins {
  readonly origins?: Origins;
}

/** What stands for the vertices of a backdrop: no file has them. */
export const NO_ORIGIN = 0xffffffff;

/** Every vertex as the file has it. */
export function originsAsRead(count: number): Origins {
  const from = new Uint32Array(count * 3);
  const weights = new Float32Array(count * 3);
  for (let v = 0; v < count; v++) {
    from.fill(v, v * 3, v * 3 + 3);
    weights[v * 3] = 1;
  }
  return { from, weights };
}

/** @param of the vertex that vertex v of the result was; below 0 where it is new */
export function pickOrigins({ origins }: HasOrigins, count: number, of: (v: number) => number): HasOrigins {
  if (!origins) return {};
  const from = new Uint32Array(count * 3).fill(NO_ORIGIN);
  const weights = new Float32Array(count * 3);
  for (let v = 0; v < count; v++) {
    const was = of(v);
    if (was < 0) continue;
    from.set(origins.from.subarray(was * 3, was * 3 + 3), v * 3);
    weights.set(origins.weights.subarray(was * 3, was * 3 + 3), v * 3);
  }
  return { origins: { from, weights } };
}

/** Whether two vertices are one in the file. */
export const haveOneOrigin = ({ from, weights }: Origins, a: number, b: number): boolean =>
  [0, 1, 2].every((k) => from[a * 3 + k] === from[b * 3 + k] && weights[a * 3 + k] === weights[b * 3 + k]);

/** Growing lists of origins, while triangles are cut. */
export class OriginList {
  readonly from: number[];
  readonly weights: number[];

  constructor({ from, weights }: Origins) {
    this.from = [...from];
    this.weights = [...weights];
  }

  /** Adds a vertex between two of one triangle. @param t 0 at the first, 1 at the second */
  addBetween(a: number, b: number, t: number): void {
    const shares = new Map<number, number>();
    for (const [v, share] of [
      [a, 1 - t],
      [b, t],
    ] as const) {
      for (let k = v * 3; k < v * 3 + 3; k++) {
        const weight = this.weights[k]! * share;
        if (weight > 0) shares.set(this.from[k]!, (shares.get(this.from[k]!) ?? 0) + weight);
      }
    }
    // One triangle of the file has three vertices, so no point of it is between more.
    const three = [...shares].sort((p, q) => q[1] - p[1]).slice(0, 3);
    const sum = three.reduce((n, [, weight]) => n + weight, 0) || 1;
    for (let k = 0; k < 3; k++) {
      const [vertex, weight] = three[k] ?? [three[0]?.[0] ?? NO_ORIGIN, 0];
      this.from.push(vertex);
      this.weights.push(weight / sum);
    }
  }

  done(): Origins {
    return { from: Uint32Array.from(this.from), weights: Float32Array.from(this.weights) };
  }
}
