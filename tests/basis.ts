import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { runInThisContext } from 'node:vm';

interface Ktx2File {
  isValid(): boolean;
  getWidth(): number;
  getHeight(): number;
  getLevels(): number;
  getHasAlpha(): boolean;
  startTranscoding(): boolean;
  getImageTranscodedSizeInBytes(level: number, layer: number, face: number, format: number): number;
  transcodeImage(
    out: Uint8Array,
    level: number,
    layer: number,
    face: number,
    format: number,
    unused: number,
    channel0: number,
    channel1: number,
  ): boolean;
  close(): void;
  delete(): void;
}

interface Transcoder {
  initializeBasis(): void;
  KTX2File: new (bytes: Uint8Array) => Ktx2File;
}

type Load = (
  require: NodeJS.Require,
  folder: string,
) => (options: { wasmBinary: Uint8Array }) => Promise<Transcoder>;

/** Basis Universal's `transcoder_texture_format` cTFRGBA32. */
const RGBA32 = 13;

/** The levels of a KTX2 file as Basis Universal's own transcoder (the one that comes with three) reads them. */
export async function transcodedLevels(
  bytes: Uint8Array,
): Promise<{ width: number; height: number; rgba: Uint8Array }[]> {
  const require = createRequire(import.meta.url);
  const wasm = require.resolve('three/examples/jsm/libs/basis/basis_transcoder.wasm');
  const script = readFileSync(wasm.replace(/\.wasm$/, '.js'), 'utf8');
  const load = runInThisContext(`(require, __dirname) => { ${script}; return BASIS; }`) as Load;
  const basis = await load(require, '')({ wasmBinary: readFileSync(wasm) });
  basis.initializeBasis();
  const file = new basis.KTX2File(bytes);
  if (!file.isValid() || !file.startTranscoding()) throw new Error('The transcoder refuses the file.');
  const levels = Array.from({ length: file.getLevels() }, (_, level) => {
    const rgba = new Uint8Array(file.getImageTranscodedSizeInBytes(level, 0, 0, RGBA32));
    if (!file.transcodeImage(rgba, level, 0, 0, RGBA32, 0, -1, -1)) throw new Error(`Level ${level} fails.`);
    const of = (side: number): number => Math.max(1, side >> level);
    return { width: of(file.getWidth()), height: of(file.getHeight()), rgba };
  });
  file.close();
  file.delete();
  return levels;
}
