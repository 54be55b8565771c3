import { codeAt, INSIDE, PlaceReader, TILE_TEXELS, type SurfaceMap } from '../core/surface';

/** A surface map written out in full: one entry a texel of all tiles, in tiled order. */
export function expanded(map: SurfaceMap) {
  const n = map.slotOfTile.length * TILE_TEXELS;
  const out = {
    px: new Float32Array(n).fill(1e18),
    py: new Float32Array(n).fill(1e18),
    pz: new Float32Array(n).fill(1e18),
    nx: new Int16Array(n),
    ny: new Int16Array(n),
    nz: new Int16Array(n),
    face: new Int32Array(n).fill(-1),
    part: new Int32Array(n).fill(-1),
    covered: new Uint8Array(n),
  };
  const reader = new PlaceReader(map);
  map.slotOfTile.forEach((_slot, tile) => {
    const places = reader.tile(tile);
    if (!places) return;
    for (const key of ['px', 'py', 'pz', 'nx', 'ny', 'nz'] as const)
      out[key].set(places[key], tile * TILE_TEXELS);
    for (let i = tile * TILE_TEXELS; i < (tile + 1) * TILE_TEXELS; i++) {
      const code = codeAt(map, i);
      if (code < 0) continue;
      out.face[i] = code >> 2;
      out.part[i] = map.mesh.faceParts[code >> 2]!;
      out.covered[i] = (code & 3) === INSIDE ? 1 : 0;
    }
  });
  return out;
}
