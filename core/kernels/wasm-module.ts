import { base64ToBytes } from '../base64';
import { CoreError } from '../errors';
import { KERNELS_BASE64 } from './kernels-wasm';

export interface KernelExports {
  anyHit(
    nodes: number,
    tris: number,
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    tmax: number,
  ): number;
  firstHit(
    nodes: number,
    tris: number,
    ox: number,
    oy: number,
    oz: number,
    dx: number,
    dy: number,
    dz: number,
    tmax: number,
    exits: number,
  ): number;
  hitId(): number;
  castPoints(
    nodes: number,
    tris: number,
    points: number,
    turns: number,
    count: number,
    dirs: number,
    rays: number,
    step: number,
    circle: number,
    tmax: number,
    what: number,
    values: number,
    miss: number,
    out: number,
  ): void;
  dab(
    px: number,
    py: number,
    pz: number,
    nx: number,
    ny: number,
    nz: number,
    reach: number,
    mask: number,
    n: number,
    hx: number,
    hy: number,
    hz: number,
    radius: number,
    inner: number,
    fade: number,
    strength: number,
    dx: number,
    dy: number,
    dz: number,
    facing: number,
  ): number;
  strokeTile(
    before: number,
    mask: number,
    out: number,
    n: number,
    rgb: number,
    opacity: number,
    erase: number,
    keep: number,
    round: number,
  ): void;
  lay8(acc: number, src: number, n: number, mode: number, opacity: number): void;
  read8(src: number, planes: number, n: number, opacity: number, mask: number): void;
  read16(src: number, planes: number, n: number, opacity: number, mask: number): void;
  readColor(r: number, g: number, b: number, planes: number, n: number, opacity: number, mask: number): void;
  readStraight(acc: number, planes: number, n: number, opacity: number, mask: number): void;
  mix(acc: number, top: number, n: number, opacity: number, mask: number): void;
  fade(planes: number, n: number, opacity: number, mask: number): void;
  layOnto(acc: number, planes: number, n: number, mode: number, clip: number): void;
  resolve(acc: number, out: number, n: number): void;
}

const PAGE = 65_536;

/** WebAssembly with a memory of its own, from which space is taken once and never given back. */
export class WasmArena {
  readonly memory: WebAssembly.Memory;
  readonly run: KernelExports;
  /** The first page holds the kernels' own constants. */
  private next = PAGE;

  /** @param bytes all that will be taken from it: growing later would cut off the arrays handed out before */
  constructor(bytes: number) {
    const pages = Math.ceil((bytes + 4096) / PAGE) + 1;
    this.memory = new WebAssembly.Memory({ initial: pages, maximum: pages });
    const instance = new WebAssembly.Instance(compiled(), {
      env: {
        memory: this.memory,
        abort: () => {
          throw new CoreError(
            'worker-died',
            'A painting kernel stopped. Reload the page; nothing finished is lost.',
          );
        },
      },
    });
    this.run = instance.exports as unknown as KernelExports;
  }

  private take(bytes: number): number {
    const at = this.next;
    this.next += Math.ceil(bytes / 16) * 16;
    if (this.next > this.memory.buffer.byteLength) {
      throw new CoreError('bad-argument', 'A WebAssembly arena was made smaller than what is asked of it.');
    }
    return at;
  }

  f32(length: number): Float32Array {
    return new Float32Array(this.memory.buffer, this.take(length * 4), length);
  }
  i32(length: number): Int32Array {
    return new Int32Array(this.memory.buffer, this.take(length * 4), length);
  }
  i16(length: number): Int16Array {
    return new Int16Array(this.memory.buffer, this.take(length * 2), length);
  }
  u16(length: number): Uint16Array {
    return new Uint16Array(this.memory.buffer, this.take(length * 2), length);
  }
  u8(length: number): Uint8Array {
    return new Uint8Array(this.memory.buffer, this.take(length), length);
  }
}

let module: WebAssembly.Module | undefined;

function compiled(): WebAssembly.Module {
  module ??= new WebAssembly.Module(base64ToBytes(KERNELS_BASE64));
  return module;
}
