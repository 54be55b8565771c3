import { ExternalTexture, type Texture, type WebGLRenderer } from 'three';
import {
  sheetOfTile,
  sheetSpans,
  SUB,
  TILE,
  TILE_BYTES,
  tilesAcross,
  type SheetSpan,
} from '../../../core/surface';
import { HALVING_FRAGMENT, TRIANGLE_VERTEX } from './glsl';

/** A tile with all its sub-tiles. */
const ALL_SUBS = 15;

/** The sheet and three halvings: paint reaches past the islands' borders far enough for these. */
export const LEVELS = 4;

interface Box {
  left: number;
  low: number;
  right: number;
  high: number;
}

/**
 * The picture of every sheet on the GPU. Tiles are copied there as they are; the halvings that far views read are made anew
 * where tiles have changed, when such a view is drawn.
 */
export class SheetTextures {
  readonly textures: readonly Texture[];
  readonly spans: readonly SheetSpan[];
  private readonly gl: WebGL2RenderingContext;
  private readonly renderer: WebGLRenderer;
  private readonly raw: readonly WebGLTexture[];
  /** What of each sheet its halvings don't have yet, texels from the first row; null for nothing. */
  private readonly stale: (Box | null)[];
  private readonly frame: WebGLFramebuffer;
  private readonly program: WebGLProgram;
  private coarseLevel = 0;

  constructor(renderer: WebGLRenderer, sizes: readonly number[]) {
    this.renderer = renderer;
    const gl = renderer.getContext() as WebGL2RenderingContext;
    this.gl = gl;
    this.spans = sheetSpans(sizes);
    this.raw = sizes.map((size) => {
      const texture = gl.createTexture();
      gl.bindTexture(gl.TEXTURE_2D, texture);
      // All zeros at first: nothing painted.
      gl.texStorage2D(gl.TEXTURE_2D, LEVELS, gl.RGBA8, size, size);
      gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST_MIPMAP_NEAREST);
      gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
      gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_S, gl.CLAMP_TO_EDGE);
      gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_T, gl.CLAMP_TO_EDGE);
      return texture;
    });
    this.textures = this.raw.map((texture) => new ExternalTexture(texture));
    this.stale = sizes.map(() => null);
    this.frame = gl.createFramebuffer();
    this.program = compile(gl);
    renderer.resetState();
  }

  /** The halving that stands for the sheet until the full picture is there; 0 if that is shown. */
  get leastLevel(): number {
    return this.coarseLevel;
  }

  get isCoarse(): boolean {
    return this.coarseLevel > 0;
  }

  /**
   * @param subs which of a tile's four sub-tiles are told, bit k for sub-tile k; the others stay as they are
   * @param pixels 64 x 64 RGBA rows a tile, one after the other
   */
  upload(tiles: readonly number[], subs: readonly number[], pixels: Uint8Array): void {
    this.write(0, this.spans, tiles, pixels, subs);
  }

  /**
   * Takes whole pictures of the sheets.
   *
   * @param pictures RGBA rows a sheet
   * @param isFresh nothing was put here yet: tiles without paint are left as they are
   */
  fill(pictures: readonly Uint8Array[], isFresh: boolean): void {
    const pixels = new Uint8Array(TILE_BYTES);
    const words = new Uint32Array(pixels.buffer);
    this.spans.forEach(({ size, firstTile }, k) => {
      const across = tilesAcross(size);
      for (let tile = 0; tile < across * across; tile++) {
        const x = (tile % across) * TILE;
        const y = Math.floor(tile / across) * TILE;
        for (let row = 0; row < TILE; row++) {
          const from = ((y + row) * size + x) * 4;
          pixels.set(pictures[k]!.subarray(from, from + TILE * 4), row * TILE * 4);
        }
        if (!isFresh || words.some((w) => w !== 0)) this.upload([firstTile + tile], [ALL_SUBS], pixels);
      }
    });
  }

  /**
   * Shows one of the halvings instead of the sheet, filled by hand, until `endCoarse`.
   *
   * @param stride texels of the sheet a texel of it, each way
   * @param tiles numbered over sheets of that size
   */
  uploadCoarse(stride: number, tiles: readonly number[], pixels: Uint8Array): void {
    this.coarseLevel = Math.log2(stride);
    this.write(this.coarseLevel, sheetSpans(this.spans.map(({ size }) => size / stride)), tiles, pixels);
  }

  /** The sheet itself is shown again; its halvings are made anew where they were filled by hand. */
  endCoarse(): void {
    this.coarseLevel = 0;
  }

  private write(
    level: number,
    spans: readonly SheetSpan[],
    tiles: readonly number[],
    pixels: Uint8Array,
    subs: readonly number[] | null = null,
  ): void {
    const { gl } = this;
    gl.pixelStorei(gl.UNPACK_FLIP_Y_WEBGL, false);
    gl.pixelStorei(gl.UNPACK_PREMULTIPLY_ALPHA_WEBGL, false);
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 4);
    gl.pixelStorei(gl.UNPACK_ROW_LENGTH, TILE);
    tiles.forEach((number, i) => {
      const sheet = sheetOfTile(spans, number);
      const { size, firstTile } = spans[sheet]!;
      const tile = number - firstTile;
      const x = (tile % tilesAcross(size)) * TILE;
      const y = Math.floor(tile / tilesAcross(size)) * TILE;
      this.renderer.state.bindTexture(gl.TEXTURE_2D, this.raw[sheet]!);
      const put = (dx: number, dy: number, side: number): void => {
        const from = i * TILE_BYTES + (dy * TILE + dx) * 4;
        const { RGBA, UNSIGNED_BYTE } = gl;
        gl.texSubImage2D(gl.TEXTURE_2D, level, x + dx, y + dy, side, side, RGBA, UNSIGNED_BYTE, pixels, from);
      };
      const told = subs?.[i] ?? ALL_SUBS;
      if (told === ALL_SUBS) put(0, 0, TILE);
      else for (let k = 0; k < 4; k++) if (told & (1 << k)) put((k & 1) * SUB, (k >> 1) * SUB, SUB);
      this.touch(sheet, x << level, y << level, TILE << level);
    });
    gl.pixelStorei(gl.UNPACK_ROW_LENGTH, 0);
  }

  private touch(sheet: number, x: number, y: number, side: number): void {
    const box = this.stale[sheet];
    if (!box) this.stale[sheet] = { left: x, low: y, right: x + side, high: y + side };
    else {
      box.left = Math.min(box.left, x);
      box.low = Math.min(box.low, y);
      box.right = Math.max(box.right, x + side);
      box.high = Math.max(box.high, y + side);
    }
  }

  /** Makes the halvings of what was uploaded since. */
  refreshHalvings(): void {
    // Those that are filled by hand stay, and so does what is known to be out of date.
    if (this.isCoarse || this.stale.every((box) => box === null)) return;
    const { gl } = this;
    gl.useProgram(this.program);
    gl.bindVertexArray(null);
    gl.bindFramebuffer(gl.FRAMEBUFFER, this.frame);
    gl.disable(gl.BLEND);
    gl.disable(gl.DEPTH_TEST);
    gl.disable(gl.CULL_FACE);
    gl.enable(gl.SCISSOR_TEST);
    gl.activeTexture(gl.TEXTURE0);
    this.stale.forEach((box, sheet) => {
      if (!box) return;
      const texture = this.raw[sheet]!;
      gl.bindTexture(gl.TEXTURE_2D, texture);
      for (let level = 1; level < LEVELS; level++) {
        const side = this.spans[sheet]!.size >> level;
        gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, texture, level);
        // What is read and what is drawn to mustn't be one level.
        gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_BASE_LEVEL, level - 1);
        gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAX_LEVEL, level - 1);
        gl.viewport(0, 0, side, side);
        gl.scissor(
          box.left >> level,
          box.low >> level,
          (box.right - box.left) >> level,
          (box.high - box.low) >> level,
        );
        gl.drawArrays(gl.TRIANGLES, 0, 3);
      }
      gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_BASE_LEVEL, 0);
      gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAX_LEVEL, LEVELS - 1);
      this.stale[sheet] = null;
    });
    gl.bindFramebuffer(gl.FRAMEBUFFER, null);
    this.renderer.resetState();
  }

  dispose(): void {
    for (const texture of this.raw) this.gl.deleteTexture(texture);
    this.gl.deleteFramebuffer(this.frame);
    this.gl.deleteProgram(this.program);
    for (const texture of this.textures) texture.dispose();
  }
}

function compile(gl: WebGL2RenderingContext): WebGLProgram {
  const program = gl.createProgram();
  for (const [type, source] of [
    [gl.VERTEX_SHADER, TRIANGLE_VERTEX],
    [gl.FRAGMENT_SHADER, HALVING_FRAGMENT],
  ] as const) {
    const shader = gl.createShader(type)!;
    gl.shaderSource(shader, `#version 300 es\n${source}`);
    gl.compileShader(shader);
    gl.attachShader(program, shader);
    // It lives as long as the program does.
    gl.deleteShader(shader);
  }
  gl.linkProgram(program);
  return program;
}
