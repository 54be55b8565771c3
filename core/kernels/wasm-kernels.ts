import { BLEND_MODES } from '../stack';
import { TILE_BYTES, TILE_TEXELS } from '../surface';
import type { Kernels, PaintDesk } from './kernels';
import { WasmArena } from './wasm-module';

/** Bytes that one texel takes on the desk: position 12, normal 6, part 2, coverage 4. */
const DESK_BYTES_A_TEXEL = 24;

/** Texels that are taken through all layers at a time; their accumulator of 16 KB and one layer's 4 KB fit a first-level cache. */
const COMPOSITE_RUN = 1024;

/** The kernels as WebAssembly SIMD. Compositing has an arena of its own; each desk has another. */
export function createWasmKernels(): Kernels {
  let stack = createStack(16);
  const arenas = new WeakMap<PaintDesk, { arena: WasmArena; before: Uint8Array; after: Uint8Array }>();

  const arenaOf = (desk: PaintDesk) => {
    const found = arenas.get(desk);
    if (!found) throw new Error('This desk was made by other kernels.');
    return found;
  };

  return {
    desk(surface) {
      const n = surface.px.length;
      const subs = surface.subBounds.length / 6;
      const arena = new WasmArena(n * DESK_BYTES_A_TEXEL + subs * 28 + TILE_BYTES * 2 + 1024);
      const copyOf = <T extends Float32Array | Int16Array | Uint16Array>(to: T, from: T): T => {
        to.set(from);
        return to;
      };
      const desk: PaintDesk = {
        px: copyOf(arena.f32(n), surface.px),
        py: copyOf(arena.f32(n), surface.py),
        pz: copyOf(arena.f32(n), surface.pz),
        nx: copyOf(arena.i16(n), surface.nx),
        ny: copyOf(arena.i16(n), surface.ny),
        nz: copyOf(arena.i16(n), surface.nz),
        part: copyOf(arena.u16(n), surface.part),
        subBounds: copyOf(arena.f32(subs * 6), surface.subBounds),
        mask: arena.f32(n),
        dirty: arena.i32(subs),
      };
      arenas.set(desk, { arena, before: arena.u8(TILE_BYTES), after: arena.u8(TILE_BYTES) });
      return desk;
    },

    dab(desk, dab) {
      const { run } = arenaOf(desk).arena;
      const [fx, fy, fz] = dab.facing ?? [0, 0, 0];
      return run.dab(
        desk.subBounds.byteOffset,
        desk.dirty.length,
        desk.px.byteOffset,
        desk.py.byteOffset,
        desk.pz.byteOffset,
        desk.nx.byteOffset,
        desk.ny.byteOffset,
        desk.nz.byteOffset,
        desk.part.byteOffset,
        desk.mask.byteOffset,
        desk.dirty.byteOffset,
        dab.x,
        dab.y,
        dab.z,
        dab.radius,
        dab.inner,
        1 / (dab.radius - dab.inner),
        dab.strength,
        fx,
        fy,
        fz,
        dab.facing ? 1 : 0,
        dab.part,
      );
    },

    stroke(desk, tile, beforeTile, out, paint) {
      const { arena, before, after } = arenaOf(desk);
      const { r, g, b } = paint.color;
      before.set(beforeTile);
      arena.run.strokeTile(
        before.byteOffset,
        desk.mask.byteOffset + tile * TILE_TEXELS * 4,
        after.byteOffset,
        TILE_TEXELS,
        r | (g << 8) | (b << 16),
        paint.opacity,
        paint.erase ? 1 : 0,
      );
      out.set(after);
    },

    composite(layers, out) {
      if (layers.length > stack.room) stack = createStack(layers.length * 2);
      layers.forEach(({ tile, mode, opacity }, k) => {
        stack.source.set(tile, k * TILE_BYTES);
        stack.modes[k] = BLEND_MODES.indexOf(mode);
        stack.opacities[k] = opacity;
      });
      stack.arena.run.compositeTile(
        stack.acc.byteOffset,
        stack.source.byteOffset,
        TILE_BYTES,
        layers.length,
        stack.modes.byteOffset,
        stack.opacities.byteOffset,
        TILE_TEXELS,
        COMPOSITE_RUN,
        stack.target.byteOffset,
      );
      out.set(stack.target);
    },
  };
}

/** Room for a composite of so many layers. */
function createStack(room: number) {
  const arena = new WasmArena(COMPOSITE_RUN * 16 + TILE_BYTES * (room + 1) + room * 8 + 1024);
  return {
    arena,
    room,
    acc: arena.f32(COMPOSITE_RUN * 4),
    source: arena.u8(TILE_BYTES * room),
    target: arena.u8(TILE_BYTES),
    modes: arena.i32(room),
    opacities: arena.f32(room),
  };
}
