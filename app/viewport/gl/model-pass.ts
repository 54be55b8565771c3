import { Vector2, Vector3, type DataTexture, type IUniform, type Texture, type WebGLRenderer } from 'three';
import { hexToRgb } from '../../../core/color';
import type { CheckLights, ToonLook } from '../../shared/shown';
import type { Reading } from './glsl';
import type { ModelBuffers } from './model-buffers';
import { modelShader } from './model-shader';
import { ScreenPass, type DeviceRect } from './screen-pass';
import type { ViewTarget } from './view-target';

/** Value of the model where nothing is painted yet. */
export const BARE = 0.72;

/** How the model's colour is found. */
export type Mode = 'unlit' | 'formed' | 'lit' | 'values' | 'toon' | 'checker' | 'heatBothWays' | 'heatOneWay';

const MODE_DEFINES: Readonly<Record<Mode, readonly string[]>> = {
  unlit: ['PAINT'],
  formed: ['PAINT', 'FORMED'],
  lit: ['PAINT', 'LIT'],
  values: ['PAINT', 'VALUES'],
  toon: ['PAINT', 'TOON'],
  checker: ['CHECKER'],
  heatBothWays: ['HEAT'],
  heatOneWay: ['HEAT'],
};

export interface ModelLook {
  readonly mode: Mode;
  readonly lights: CheckLights;
  readonly toon: ToonLook;
  /** Texels are shown as they are stored, however near or far. */
  readonly exact: boolean;
  /** The halving of the sheets that stands for them, 0 for themselves. */
  readonly leastLevel: number;
  /** Value of the neutral ground, 0..1. */
  readonly ground: number;
  /** Part to outline, -1 for none. */
  readonly outlined: number;
  /** Nothing is painted yet: the bare model is shaded plainly. */
  readonly isBare: boolean;
}

/** Colours a view of the model from what was looked up for it. */
export class ModelPass {
  private readonly uniforms;
  private readonly sheets: number;
  /** One shader for each set of what a picture can need, made when it is first needed. */
  private readonly passes = new Map<string, ScreenPass<Record<string, IUniform>>>();
  private readonly buffers: ModelBuffers;
  private readonly flat: readonly string[];
  private detail: readonly Texture[] | null = null;
  private readonly detailUniforms: Record<string, IUniform>;

  constructor(sheets: readonly Texture[], buffers: ModelBuffers, letters: DataTexture) {
    this.buffers = buffers;
    this.flat = buffers.firstBackdrop < buffers.partCount ? ['BACKDROPS'] : [];
    this.sheets = sheets.length;
    this.detailUniforms = Object.fromEntries(
      sheets.map((_, k) => [`detail${k}`, { value: null as unknown }]),
    );
    this.uniforms = {
      ...this.detailUniforms,
      ...Object.fromEntries(sheets.map((texture, k) => [`sheet${k}`, { value: texture as unknown }])),
      lookup0: { value: null as unknown },
      lookup1: { value: null as unknown },
      lookup2: { value: null as unknown },
      lookup3: { value: null as unknown },
      kind: { value: null as unknown },
      parts: { value: buffers.parts },
      ramps: { value: null as unknown },
      letters: { value: letters },
      origin: { value: new Vector2() },
      paneSize: { value: new Vector2() },
      ground: { value: 0.5 },
      bare: { value: BARE },
      firstBackdrop: { value: buffers.firstBackdrop },
      bothWays: { value: false },
      exact: { value: false },
      leastLevel: { value: 0 },
      outlined: { value: 0 },
      someChosen: { value: false },
      towardKey: { value: new Vector3() },
      back: { value: 0 },
      tones: { value: 2 },
      toneEdge: { value: 0 },
      shade: { value: new Vector3() },
      highlight: { value: new Vector3() },
      towardEye: { value: new Vector3() },
      skyColor: { value: new Vector3() },
      groundColor: { value: new Vector3() },
    };
  }

  /** Takes the detail sheet's textures, one a sheet; null: there is none. */
  setDetail(textures: readonly Texture[] | null): void {
    this.detail = textures;
  }

  /**
   * @param reading how texels have to be read somewhere in the view
   * @param towardEye unit vector, model space
   */
  draw(
    renderer: WebGLRenderer,
    target: ViewTarget,
    rect: DeviceRect,
    look: ModelLook,
    reading: Reading,
    towardEye: Vector3,
  ): void {
    const u = this.uniforms;
    const few = target.samples < 2;
    u.lookup0.value = target.lookups(0).texture;
    u.lookup1.value = target.lookups(few ? 0 : 1).texture;
    u.lookup2.value = target.lookups(few ? 0 : 2).texture;
    u.lookup3.value = target.lookups(few ? 0 : 3).texture;
    u.kind.value = target.kind.texture;
    u.ramps.value = this.buffers.ramps.texture;
    u.origin.value.set(rect.x, rect.y);
    u.paneSize.value.set(rect.width, rect.height);
    u.bothWays.value = look.mode === 'heatBothWays';
    u.ground.value = look.ground;
    u.exact.value = look.exact;
    u.leastLevel.value = look.leastLevel;
    u.outlined.value = look.outlined + 1;
    u.someChosen.value = this.buffers.someChosen;
    u.towardKey.value.set(...look.lights.key);
    u.back.value = look.lights.back ? 0.55 : 0;
    u.tones.value = look.toon.tones;
    u.toneEdge.value = Math.max(look.toon.edge / 2, 1e-4);
    putColor(u.shade.value, look.toon.shade);
    putColor(u.highlight.value, look.toon.highlight);
    u.towardEye.value.copy(towardEye);
    const { detail } = this;
    detail?.forEach((texture, k) => (this.detailUniforms[`detail${k}`]!.value = texture));
    putColor(u.skyColor.value, look.lights.sky);
    putColor(u.groundColor.value, look.lights.ground);
    const defines = [
      ...(look.isBare ? ['BARE'] : MODE_DEFINES[look.mode]),
      ...this.flat,
      ...(reading === 'plain' ? [] : [reading.toUpperCase()]),
      ...(few || reading === 'coarse' ? [] : ['SMOOTH']),
      ...(this.buffers.ramps.isEmpty ? [] : ['RAMPS']),
      ...(look.mode === 'toon' && detail && !look.isBare ? ['DETAIL'] : []),
      ...(look.outlined >= 0 || this.buffers.someChosen ? ['MARKED'] : []),
    ];
    this.passFor(defines).draw(renderer);
  }

  /** Has what the hand will need next compiled: a dragged control, a nearer view, a part that is pointed at. */
  prepare(renderer: WebGLRenderer): void {
    for (const needs of [
      ['COARSE'],
      ['NEAR'],
      ['NEAR', 'SMOOTH'],
      ['SMOOTH', 'MARKED'],
      ['NEAR', 'SMOOTH', 'MARKED'],
    ]) {
      this.passFor(['PAINT', ...this.flat, ...needs]).prepare(renderer);
    }
  }

  private passFor(defines: readonly string[]): ScreenPass<Record<string, IUniform>> {
    const key = defines.join(' ');
    let pass = this.passes.get(key);
    if (!pass) {
      pass = new ScreenPass(modelShader(this.sheets, defines), this.uniforms);
      this.passes.set(key, pass);
    }
    return pass;
  }

  dispose(): void {
    for (const pass of this.passes.values()) pass.dispose();
  }
}

function putColor(out: Vector3, hex: string): void {
  const { r, g, b } = hexToRgb(hex);
  out.set(r / 255, g / 255, b / 255);
}
