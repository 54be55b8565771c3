import { WasmArena } from '../kernels';
import { NODE_FLOATS, type RayScene } from './ray-scene';

/** A ray scene laid out in the memory of the kernels. */
export interface OpenScene {
  readonly arena: WasmArena;
  /** Byte offsets of its parts. */
  readonly nodes: number;
  readonly packets: number;
  /**
   * The first triangle along a ray before `tmax`.
   *
   * @returns its distance and number; -1 where there is none. To be read only until the next is asked for
   */
  first(
    x: number,
    y: number,
    z: number,
    dx: number,
    dy: number,
    dz: number,
    tmax: number,
  ): { readonly t: number; readonly face: number };
}

/** @param more bytes that will be taken from its arena beside the scene */
export function openScene(scene: RayScene, more: number): OpenScene {
  const arena = new WasmArena(
    scene.nodes.byteLength + scene.packets.byteLength + NODE_FLOATS * 4 + more + 1024,
  );
  const nodes = copyIn(arena, scene.nodes.length ? scene.nodes : new Float32Array(NODE_FLOATS)).byteOffset;
  const packets = copyIn(arena, scene.packets).byteOffset;
  const hit = { t: 0, face: -1 };
  return {
    arena,
    nodes,
    packets,
    first(x, y, z, dx, dy, dz, tmax) {
      hit.t = arena.run.firstHit(nodes, packets, x, y, z, dx, dy, dz, tmax, 0);
      const id = arena.run.hitId();
      hit.face = id < 0 ? -1 : scene.faces[id]!;
      return hit;
    },
  };
}

/** Copies numbers into an arena as integers: child numbers of a scene must not pass through a float. */
export function copyIn(arena: WasmArena, data: Float32Array): Float32Array {
  const to = arena.f32(data.length);
  new Int32Array(to.buffer, to.byteOffset, to.length).set(
    new Int32Array(data.buffer, data.byteOffset, data.length),
  );
  return to;
}
