import { bleed, formTiles, placeLayers, spannedTiles, texelOnSheet, TILE_TEXELS } from '../surface';
import { subjectOf } from '../mesh';
import { requireMet, type CueSurface } from './cue-surface';

/**
 * Gives texels for which nothing of a denser model was met the value of the nearest on their sheet that did.
 *
 * @throws CoreError `bad-argument` if nothing was met at all
 */
export function fillMissed(ground: CueSurface, values: Uint16Array): Uint16Array {
  const { map } = ground;
  if (ground.mesh === subjectOf(map.mesh)) return values;
  let any = false;
  const tilesALayer = spannedTiles(map.sheets);
  const layers = Array.from({ length: placeLayers(map) }, (_, layer) =>
    map.sheets.map(({ size, firstTile }) => ({ size, firstTile: firstTile + layer * tilesALayer })),
  );
  for (const sheet of layers.flat()) {
    const { size, firstTile } = sheet;
    const rgba = new Uint8Array(size * size * 4);
    const known = new Uint8Array(size * size);
    const place = new Int32Array(size * size).fill(-1);
    for (let y = 0; y < size; y++) {
      for (let x = 0; x < size; x++) {
        const texel = texelOnSheet(sheet, x, y);
        const slot = map.slotOfTile[Math.floor(texel / TILE_TEXELS)]!;
        if (slot >= 0) place[y * size + x] = slot * TILE_TEXELS + (texel % TILE_TEXELS);
      }
    }
    const met = new Uint8Array(map.codes.length);
    for (const tile of formTiles(map)) {
      if (tile < firstTile || tile >= firstTile + (size / 64) ** 2) continue;
      const { face } = ground.spots(tile)!;
      const base = map.slotOfTile[tile]! * TILE_TEXELS;
      for (let i = 0; i < TILE_TEXELS; i++) met[base + i] = face[i]! >= 0 ? 1 : 0;
    }
    place.forEach((at, i) => {
      if (at < 0 || !met[at]) return;
      known[i] = 1;
      any = true;
      rgba[i * 4] = values[at]! >> 8;
      rgba[i * 4 + 1] = values[at]! & 255;
    });
    bleed(rgba, known, size, size, Infinity);
    place.forEach((at, i) => {
      if (at >= 0 && map.codes[at]! >= 0 && !met[at]) values[at] = (rgba[i * 4]! << 8) | rgba[i * 4 + 1]!;
    });
  }
  requireMet(any ? { missed: 0, covered: 1 } : { missed: 1, covered: 1 });
  return values;
}
