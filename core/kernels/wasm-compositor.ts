import {
  ALL_SUBS,
  BLEND_MODES,
  openGroups,
  resolve,
  type BlendMode,
  type CompositeOptions,
  type CompositeStep,
  type Snapshot,
  type TileSource,
} from '../composite';
import { SUB_TEXELS } from '../surface';
import { WasmArena } from './wasm-module';

/** An accumulator of a sub-tile: four planes of floats. */
const SUB_FLOATS = SUB_TEXELS * 4;
const SUB_BYTES = SUB_TEXELS * 4;
const SUBS = 4;

/** Groups that can be open at once, and the ground under them. */
const MOST_OPEN = 18;

const MODE_NUMBER = new Map<BlendMode, number>(BLEND_MODES.map((mode, i) => [mode, i]));

/**
 * Composites tiles sub-tile by sub-tile, so that the accumulators in use (16 KB each) stay in a first-level cache. Twin:
 * core/composite/composite.ts.
 */
export class WasmCompositor {
  private readonly arena: WasmArena;
  private readonly accumulators: readonly Float32Array[];
  private readonly planes: Float32Array;
  private readonly colors;
  private readonly source: Uint8Array;
  private readonly mask: Uint16Array;
  private readonly target: Uint8Array;

  constructor() {
    const arena = new WasmArena(SUB_FLOATS * 4 * (MOST_OPEN + 1) + SUB_BYTES * 4 + 1024);
    this.arena = arena;
    this.accumulators = Array.from({ length: MOST_OPEN }, () => arena.f32(SUB_FLOATS));
    this.planes = arena.f32(SUB_FLOATS);
    const plane = (k: number): Float32Array => this.planes.subarray(k * SUB_TEXELS, (k + 1) * SUB_TEXELS);
    this.colors = { r: plane(0), g: plane(1), b: plane(2) };
    this.source = arena.u8(SUB_BYTES * 2);
    this.mask = arena.u16(SUB_TEXELS);
    this.target = arena.u8(SUB_BYTES);
  }

  composite(
    steps: readonly CompositeStep[],
    out: Uint8Array | Uint16Array,
    { subs = ALL_SUBS, from = null, keepAfter }: CompositeOptions = {},
  ): Snapshot | null {
    const kept: Float32Array[] =
      keepAfter === undefined
        ? []
        : Array.from({ length: openGroups(steps, keepAfter) + 1 }, () => new Float32Array(SUB_FLOATS * SUBS));
    const { run } = this.arena;
    for (let sub = 0; sub < SUBS; sub++) {
      if (!(subs & (1 << sub))) continue;
      let open = from ? from.accumulators.length - 1 : 0;
      if (from) from.accumulators.forEach((a, level) => this.accumulators[level]!.set(subOf(a, sub)));
      else this.accumulators[0]!.fill(0);
      const keep = (done: number): void => {
        if (done !== keepAfter) return;
        kept.forEach((a, level) => subOf(a, sub).set(this.accumulators[level]!));
      };
      const first = from?.steps ?? 0;
      keep(first);
      for (let i = first; i < steps.length; i++) {
        open = this.runStep(steps[i]!, open, sub);
        keep(i + 1);
      }
      // 16 bit are asked for once a delivery: the plain way is fast enough for that.
      if (out instanceof Uint16Array) resolve(this.accumulators[0]!, subOf(out, sub));
      else {
        run.resolve(this.accumulators[0]!.byteOffset, this.target.byteOffset, SUB_TEXELS);
        out.set(this.target, sub * SUB_BYTES);
      }
    }
    return keepAfter === undefined ? null : { steps: keepAfter, subs, accumulators: kept };
  }

  /** @returns how many groups are open now */
  private runStep(step: CompositeStep, open: number, sub: number): number {
    const { run } = this.arena;
    const n = SUB_TEXELS;
    if (step.do === 'push') {
      if (step.through) this.accumulators[open + 1]!.set(this.accumulators[open]!);
      else this.accumulators[open + 1]!.fill(0);
      return open + 1;
    }
    const { opacity, clip } = step;
    const mode = MODE_NUMBER.get(step.mode)!;
    const planes = this.planes.byteOffset;
    const below = step.do === 'pop' ? open - 1 : open;
    const acc = this.accumulators[below]!.byteOffset;
    if (step.do === 'lay' && step.source.form === 'rgba8' && !step.mask && !clip) {
      this.source.set(step.source.bytes.subarray(sub * SUB_BYTES, (sub + 1) * SUB_BYTES));
      run.lay8(acc, this.source.byteOffset, n, mode, opacity);
      return open;
    }
    let mask = 0;
    if (step.mask) {
      this.mask.set(step.mask.subarray(sub * n, (sub + 1) * n));
      mask = this.mask.byteOffset;
    }
    if (step.do === 'pop' && step.through) {
      run.mix(acc, this.accumulators[open]!.byteOffset, n, opacity, mask);
      return below;
    }
    if (step.do === 'lay') this.read(step.source, sub, opacity, mask);
    else run.readStraight(this.accumulators[open]!.byteOffset, planes, n, opacity, mask);
    if (step.do === 'adjust') {
      step.adjust(this.colors);
      run.fade(planes, n, opacity, mask);
    }
    run.layOnto(acc, planes, n, mode, clip || step.do === 'adjust' ? 1 : 0);
    return below;
  }

  private read(source: TileSource, sub: number, opacity: number, mask: number): void {
    const { run } = this.arena;
    const planes = this.planes.byteOffset;
    const n = SUB_TEXELS;
    switch (source.form) {
      case 'rgba8':
        this.source.set(source.bytes.subarray(sub * SUB_BYTES, (sub + 1) * SUB_BYTES));
        run.read8(this.source.byteOffset, planes, n, opacity, mask);
        return;
      case 'rgba16': {
        const words = new Uint16Array(this.source.buffer, this.source.byteOffset, n * 4);
        words.set(source.words.subarray(sub * n * 4, (sub + 1) * n * 4));
        run.read16(this.source.byteOffset, planes, n, opacity, mask);
        return;
      }
      case 'color': {
        const [r, g, b] = source.color;
        run.readColor(r, g, b, planes, n, opacity, mask);
      }
    }
  }
}

const subOf = <T extends Float32Array | Uint16Array>(a: T, sub: number): T =>
  a.subarray(sub * SUB_FLOATS, (sub + 1) * SUB_FLOATS) as T;
