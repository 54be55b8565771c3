import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { buildRayScene, NODE_FLOATS } from '../core/cues';
import { WasmArena } from '../core/kernels';
import { cosineDirections } from '../core/math';
import type { Row } from './clock';
import { embreeRays } from './embree';
import { bumpyBall } from './models';

const POINTS = 20_000;
const RAYS = 16;

/** Of what the kernel takes the mean; see castPoints. */
const OPEN = 0;

/** Any-hit rays a second on the same rays as three-mesh-bvh's first hit: 50,000 triangles. */
export function benchRays(): Row[] {
  const mesh = bumpyBall(224, 112);
  const scene = buildRayScene(mesh.positions, mesh.indices);
  const dirs = cosineDirections(RAYS);
  const points = new Float32Array(POINTS * 9);
  const count = mesh.positions.length / 3;
  for (let i = 0; i < POINTS; i++) {
    const v = ((i * 7919) % count) * 3;
    for (let k = 0; k < 3; k++) {
      const n = mesh.normals[v + k]!;
      points[i * 9 + k] = mesh.positions[v + k]! + n * 1e-3;
      points[i * 9 + 3 + k] = n;
      points[i * 9 + 6 + k] = n;
    }
  }
  const reach = 0.25 * scene.diagonal;
  const arena = new WasmArena(
    scene.nodes.byteLength +
      scene.packets.byteLength +
      points.byteLength +
      POINTS * 3 +
      dirs.byteLength +
      4096,
  );
  const copied = (data: Float32Array): Float32Array => {
    const to = arena.f32(data.length);
    new Int32Array(to.buffer, to.byteOffset, to.length).set(
      new Int32Array(data.buffer, data.byteOffset, data.length),
    );
    return to;
  };
  const [nodes, packets, at, directions] = [scene.nodes, scene.packets, points, dirs].map(copied) as [
    Float32Array,
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const circle = copied(Float32Array.of(1, 0));
  const turns = arena.u8(POINTS);
  const open = arena.u16(POINTS);
  const ours = timed(() =>
    arena.run.castPoints(
      nodes.byteOffset,
      packets.byteOffset,
      at.byteOffset,
      turns.byteOffset,
      POINTS,
      directions.byteOffset,
      RAYS,
      1,
      circle.byteOffset,
      reach,
      OPEN,
      0,
      0,
      open.byteOffset,
    ),
  );
  const hits = POINTS * RAYS - open.reduce((sum, o) => sum + (o / 65535) * RAYS, 0);

  const geometry = new BufferGeometry()
    .setAttribute('position', new BufferAttribute(mesh.positions, 3))
    .setIndex(new BufferAttribute(mesh.indices.slice(), 1));
  const bvh = new MeshBVH(geometry);
  const ray = new Ray(new Vector3(), new Vector3());
  // The same rays, worked out beforehand as the kernel does (Duff et al. 2017).
  const flat = Float32Array.from({ length: POINTS * RAYS * 3 });
  for (let i = 0; i < POINTS; i++) {
    const [nx, ny, nz] = points.subarray(i * 9 + 3, i * 9 + 6) as unknown as [number, number, number];
    const s = nz >= 0 ? 1 : -1;
    const a = -1 / (s + nz);
    const b = nx * ny * a;
    for (let r = 0; r < RAYS; r++) {
      const [x, y, z] = dirs.subarray(r * 3, r * 3 + 3) as unknown as [number, number, number];
      flat.set(
        [
          x * (1 + s * nx * nx * a) + y * b + z * nx,
          x * s * b + y * (s + ny * ny * a) + z * ny,
          x * -s * nx + y * -ny + z * nz,
        ],
        (i * RAYS + r) * 3,
      );
    }
  }
  let theirs = 0;
  const peer = timed(() => {
    theirs = 0;
    for (let i = 0, d = 0; i < POINTS; i++) {
      for (let r = 0; r < RAYS; r++, d += 3) {
        ray.origin.fromArray(points, i * 9);
        ray.direction.fromArray(flat, d);
        if (bvh.raycastFirst(ray, DoubleSide, 0, reach)) theirs++;
      }
    }
  });
  const total = POINTS * RAYS;
  const rate = (time: number): string => `${(total / time / 1000).toFixed(2)} M/s`;
  if (Math.abs(hits - theirs) > total * 0.001) {
    throw new Error(`The two casters disagree: ${hits} and ${theirs} hits of ${total} rays.`);
  }
  const both = Float32Array.from({ length: total * 6 }, (_, i) => {
    const ray = Math.floor(i / 6);
    return i % 6 < 3 ? points[Math.floor(ray / RAYS) * 9 + (i % 6)]! : flat[ray * 3 + (i % 6) - 3]!;
  });
  const embree = embreeRays(mesh.positions, mesh.indices, both, reach);
  if (embree && Math.abs(hits - embree.hits) > total * 0.001) {
    throw new Error(`The casters disagree: ${hits} and, by Embree, ${embree.hits} hits of ${total} rays.`);
  }
  const beside = embree
    ? [{ what: 'the same rays, Embree', ours: rate(ours), peer: rate(embree.ms), ratio: embree.ms / ours }]
    : [];
  return [
    ...beside,
    {
      what: `any-hit rays, ${mesh.indices.length / 3} triangles (${scene.nodes.length / NODE_FLOATS} nodes), three-mesh-bvh first hit`,
      ours: rate(ours),
      peer: rate(peer),
      ratio: peer / ours,
    },
  ];
}

function timed(work: () => void): number {
  work();
  const start = performance.now();
  work();
  return performance.now() - start;
}
