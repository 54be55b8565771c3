import { DataTexture, LinearFilter, NoColorSpace, RGBAFormat, UnsignedByteType } from 'three';

/** Texels a side; squares a side. */
const SIZE = 1024;
const SQUARES = 16;

/** Even squares with letter and number, so that stretching, unevenness and mirroring show. First row is the top of the sheet. */
export function letteredSquares(): DataTexture {
  const canvas = new OffscreenCanvas(SIZE, SIZE);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  const side = SIZE / SQUARES;
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  context.font = `600 ${side * 0.42}px "Archivo Variable", sans-serif`;
  for (let row = 0; row < SQUARES; row++) {
    for (let column = 0; column < SQUARES; column++) {
      const isDark = (row + column) % 2 === 1;
      context.fillStyle = isDark ? '#6d6f78' : '#d2cfc7';
      context.fillRect(column * side, row * side, side, side);
      context.fillStyle = isDark ? '#d9d6cf' : '#55565e';
      context.fillText(
        `${String.fromCharCode(65 + column)}${row + 1}`,
        (column + 0.5) * side,
        (row + 0.54) * side,
      );
    }
  }
  const { data } = context.getImageData(0, 0, SIZE, SIZE);
  const texture = new DataTexture(new Uint8Array(data.buffer), SIZE, SIZE, RGBAFormat, UnsignedByteType);
  texture.colorSpace = NoColorSpace;
  texture.minFilter = texture.magFilter = LinearFilter;
  texture.generateMipmaps = false;
  texture.needsUpdate = true;
  return texture;
}
