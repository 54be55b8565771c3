import { THRESHOLDS } from '../math';
import type { RasterSlot } from '../paint';
import { SUB_TEXELS, TILE_BYTES } from '../surface';
import type { Kernels } from './kernels';
import { WasmCompositor } from './wasm-compositor';
import { WasmArena } from './wasm-module';

/** Bytes that one texel takes on the raster: position 12, normal 6, reach 1, coverage 4. */
const SLOT_BYTES = SUB_TEXELS * 23;

/** Sub-tiles whose memory is taken at once. */
const SLOTS_AN_ARENA = 64;

const SUB_BYTES = SUB_TEXELS * 4;

/** The kernels as WebAssembly SIMD. */
export function createWasmKernels(): Kernels {
  const compositor = new WasmCompositor();
  const arenas = new WeakMap<RasterSlot, WasmArena>();
  let newest: { readonly arena: WasmArena; left: number } | null = null;
  const brush = createBrush();

  return {
    slot() {
      if (!newest || newest.left === 0) {
        newest = { arena: new WasmArena(SLOT_BYTES * SLOTS_AN_ARENA), left: SLOTS_AN_ARENA };
      }
      newest.left--;
      const { arena } = newest;
      const n = SUB_TEXELS;
      const slot: RasterSlot = {
        px: arena.f32(n),
        py: arena.f32(n),
        pz: arena.f32(n),
        nx: arena.i16(n),
        ny: arena.i16(n),
        nz: arena.i16(n),
        reach: arena.u8(n),
        mask: arena.f32(n),
      };
      arenas.set(slot, arena);
      return slot;
    },

    dab(slot, dab) {
      const arena = arenas.get(slot);
      if (!arena) throw new Error('This raster was made by other kernels.');
      const [fx, fy, fz] = dab.facing ?? [0, 0, 0];
      const changed = arena.run.dab(
        slot.px.byteOffset,
        slot.py.byteOffset,
        slot.pz.byteOffset,
        slot.nx.byteOffset,
        slot.ny.byteOffset,
        slot.nz.byteOffset,
        slot.reach.byteOffset,
        slot.mask.byteOffset,
        SUB_TEXELS,
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
      );
      return changed === 1;
    },

    stroke(beforeTile, coverage, out, paint) {
      const { arena, before, mask, after, round } = brush;
      const { r, g, b } = paint.color;
      coverage.forEach((covered, sub) => {
        const [from, to] = [sub * SUB_BYTES, (sub + 1) * SUB_BYTES];
        if (!covered) {
          out.set(beforeTile.subarray(from, to), from);
          return;
        }
        before.set(beforeTile.subarray(from, to));
        mask.set(covered);
        arena.run.strokeTile(
          before.byteOffset,
          mask.byteOffset,
          after.byteOffset,
          SUB_TEXELS,
          r | (g << 8) | (b << 16),
          paint.opacity,
          paint.erase ? 1 : 0,
          paint.keepAlpha ? 1 : 0,
          round.byteOffset,
        );
        out.set(after, from);
      });
    },

    composite: (steps, out, options) => compositor.composite(steps, out, options),
  };
}

function createBrush() {
  const arena = new WasmArena(TILE_BYTES + SUB_BYTES);
  const round = arena.f32(SUB_TEXELS);
  round.set(THRESHOLDS);
  const [before, mask, after] = [arena.u8(SUB_BYTES), arena.f32(SUB_TEXELS), arena.u8(SUB_BYTES)];
  return { arena, before, mask, after, round };
}
