import {
  BufferAttribute,
  BufferGeometry,
  DataTexture,
  DepthTexture,
  DoubleSide,
  FloatType,
  GLSL3,
  LineSegments,
  LinearSRGBColorSpace,
  Matrix3,
  Mesh,
  NearestFilter,
  NoColorSpace,
  RawShaderMaterial,
  RGFormat,
  RGBAFormat,
  Scene,
  UnsignedByteType,
  UnsignedIntType,
  Vector2,
  Vector3,
  Vector4,
  WebGLRenderer,
  WebGLRenderTarget,
  OrthographicCamera,
} from 'three';
import { sheetOfPart, type UvMesh } from '../../core/mesh';
import { sheetSpans, sheetOfTile, TILE, TILE_BYTES, tilesAcross, type SheetSpan } from '../../core/surface';
import type { SheetMove } from '../../core/unwrap';
import { LOOKS, type Look } from '../shared/looks';
import { letteredSquares } from './lettered-squares';
import { segmentMesh, type SegmentMesh, type Segments } from './segment-mesh';
import type { CameraRig } from './camera-rig';
import { borderLines, modelGeometry } from './stage-geometry';
import {
  FLAT_FRAGMENT,
  FLAT_VERTEX,
  LINE_FRAGMENT,
  LINE_VERTEX,
  LOOKUP_FRAGMENT,
  LOOKUP_VERTEX,
  modelFragment,
  SCREEN_VERTEX,
  SEAM_FRAGMENT,
  SEAM_VERTEX,
  SHEET_FRAGMENT,
} from './shaders';

/** A pane in CSS pixels from the canvas's upper left. */
export interface Pane {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export interface SheetPlace {
  /** Upper left corner of the sheet in the pane, CSS pixels. */
  x: number;
  y: number;
  /** CSS pixels a texel. */
  scale: number;
}

export interface Picture {
  readonly model: Pane | null;
  readonly flat: Pane | null;
  readonly sheet: SheetPlace;
  /** The sheet in the flat view. */
  readonly sheetNumber: number;
  readonly look: Look;
  /** Whether seams are drawn on the model. */
  readonly seams: boolean;
  /** Value of the neutral ground, 0..1. */
  readonly ground: number;
  /** Part to outline, -1 for none. */
  readonly hoverPart: number;
}

/** Half the width of a seam on the screen, CSS pixels. */
const SEAM_PIXELS = 2.2;

/** Seams lie in the surface: they may be this much farther (in depth, 0..1) than what was drawn there. */
const SEAM_BIAS = 4e-4;

const isHeat = (look: Look): boolean => look === 'density' || look === 'area' || look === 'angle';

/** Value of the model where nothing is painted yet. */
const BARE = 0.72;

/**
 * Draws the model and the sheet. The model's UVs are looked up once for each view of it; as long as the camera rests, paint
 * only costs a copy of the new tiles and one pass over the screen.
 */
export class StageRenderer {
  private readonly renderer: WebGLRenderer;
  private readonly quad: Mesh;
  private readonly quadScene = new Scene();
  private readonly quadCamera = new OrthographicCamera();
  private readonly lookupScene = new Scene();
  private readonly lookupMaterial: RawShaderMaterial;
  private readonly modelMaterial: RawShaderMaterial;
  private readonly sheetMaterial: RawShaderMaterial;
  private readonly lineMaterial: RawShaderMaterial;
  private readonly lineScene = new Scene();
  private readonly flatMaterial: RawShaderMaterial;
  private readonly flatScene = new Scene();
  private readonly seamMaterial: RawShaderMaterial;
  private readonly seamScene = new Scene();
  private readonly geometry: BufferGeometry;
  private seamLines: SegmentMesh;
  private readonly letters: DataTexture;
  private someChosen = false;
  private readonly target: WebGLRenderTarget;
  private readonly spans: readonly SheetSpan[];
  /** The picture of each sheet. */
  private readonly sheets: readonly DataTexture[];
  /** A pixel a part: whether it is hidden, and its sheet. */
  private readonly parts: DataTexture;
  private lookupStale = true;

  /** @throws Error if the browser gives no WebGL2 context or no float targets */
  constructor(canvas: HTMLCanvasElement, mesh: UvMesh, sizes: readonly number[]) {
    this.spans = sheetSpans(sizes);
    const context = canvas.getContext('webgl2', {
      antialias: false,
      alpha: false,
      preserveDrawingBuffer: false,
    });
    if (!context) throw new Error('WebGL2 is missing.');
    if (!context.getExtension('EXT_color_buffer_float')) throw new Error('WebGL2 draws no floats.');
    this.renderer = new WebGLRenderer({ canvas, context });
    // Another view may have drawn on this canvas before: its context is the same, and so is what it left set.
    this.renderer.resetState();
    this.renderer.outputColorSpace = LinearSRGBColorSpace;
    this.renderer.autoClear = false;
    // Asking for errors waits for the compiler; our own shaders are tested.
    this.renderer.debug.checkShaderErrors = import.meta.env.DEV;
    this.renderer.setPixelRatio(window.devicePixelRatio);

    this.sheets = sizes.map((size) => {
      // Without a picture in the page's memory: tiles are copied straight to the GPU, which begins with zeros.
      const texture = new DataTexture(null, size, size, RGBAFormat, UnsignedByteType);
      texture.source.dataReady = false;
      texture.colorSpace = NoColorSpace;
      texture.minFilter = texture.magFilter = NearestFilter;
      texture.generateMipmaps = false;
      texture.needsUpdate = true;
      this.renderer.initTexture(texture);
      return texture;
    });
    const samplers = Object.fromEntries(this.sheets.map((texture, k) => [`sheet${k}`, { value: texture }]));

    this.parts = new DataTexture(
      Uint8Array.from(mesh.parts.flatMap((_, p) => [0, sheetOfPart(mesh, p)])),
      mesh.parts.length,
      1,
      RGFormat,
      UnsignedByteType,
    );
    this.parts.unpackAlignment = 1;
    this.parts.needsUpdate = true;
    this.target = new WebGLRenderTarget(1, 1, {
      type: FloatType,
      minFilter: NearestFilter,
      magFilter: NearestFilter,
      generateMipmaps: false,
      depthTexture: new DepthTexture(1, 1, UnsignedIntType),
    });
    this.letters = letteredSquares();

    const raw = (
      vertexShader: string,
      fragmentShader: string,
      uniforms: Record<string, { value: unknown }>,
    ) =>
      new RawShaderMaterial({
        glslVersion: GLSL3,
        vertexShader,
        fragmentShader,
        uniforms,
        depthTest: false,
        depthWrite: false,
      });
    this.lookupMaterial = raw(LOOKUP_VERTEX, LOOKUP_FRAGMENT, {
      parts: { value: this.parts },
      partCount: { value: mesh.parts.length },
      showHeat: { value: false },
    });
    this.lookupMaterial.depthTest = this.lookupMaterial.depthWrite = true;
    this.lookupMaterial.side = DoubleSide;
    this.modelMaterial = raw(SCREEN_VERTEX, modelFragment(sizes.length), {
      lookup: { value: this.target.texture },
      parts: { value: this.parts },
      ...samplers,
      origin: { value: new Vector2() },
      paneSize: { value: new Vector2() },
      ground: { value: 0.5 },
      bare: { value: BARE },
      mode: { value: 0 },
      hoverPart: { value: 0 },
      someChosen: { value: false },
      letters: { value: this.letters },
      lightDirection: { value: new Vector3(0.3, 0.6, 0.75).normalize() },
    });
    this.sheetMaterial = raw(SCREEN_VERTEX, SHEET_FRAGMENT, {
      sheet: { value: this.sheets[0] },
      origin: { value: new Vector2() },
      paneSize: { value: new Vector2() },
      corner: { value: new Vector2() },
      scale: { value: 1 },
      ground: { value: 0.5 },
      bare: { value: BARE },
      letters: { value: this.letters },
      checker: { value: false },
    });
    this.flatMaterial = raw(FLAT_VERTEX, FLAT_FRAGMENT, {
      corner: { value: new Vector2() },
      sheetPixels: { value: 1 },
      paneSize: { value: new Vector2() },
      mode: { value: 0 },
      move: { value: new Matrix3() },
      sheetNumber: { value: 0 },
    });
    this.flatMaterial.transparent = true;
    this.flatMaterial.side = DoubleSide;
    this.seamMaterial = raw(SEAM_VERTEX, SEAM_FRAGMENT, {
      depth: { value: this.target.depthTexture },
      origin: { value: new Vector2() },
      paneSize: { value: new Vector2() },
      pixels: { value: SEAM_PIXELS },
      bias: { value: SEAM_BIAS },
    });
    this.seamMaterial.side = DoubleSide;
    this.lineMaterial = raw(LINE_VERTEX, LINE_FRAGMENT, {
      corner: { value: new Vector2() },
      sheetPixels: { value: 1 },
      paneSize: { value: new Vector2() },
      color: { value: new Vector4(1, 1, 1, 0.5) },
      sheetNumber: { value: 0 },
    });
    this.lineMaterial.transparent = true;

    const triangle = new BufferGeometry().setAttribute(
      'position',
      new BufferAttribute(new Float32Array([-1, -1, 0, 3, -1, 0, -1, 3, 0]), 3),
    );
    this.quad = new Mesh(triangle, this.modelMaterial);
    this.quad.frustumCulled = false;
    this.quadScene.add(this.quad);

    this.geometry = modelGeometry(mesh);
    const flat = new Mesh(this.geometry, this.flatMaterial);
    flat.frustumCulled = false;
    this.flatScene.add(flat);
    this.seamLines = segmentMesh(this.seamMaterial, {
      points: new Float32Array(0),
      kinds: new Float32Array(0),
    });
    this.seamScene.add(this.seamLines);
    const model = new Mesh(this.geometry, this.lookupMaterial);
    model.frustumCulled = false;
    this.lookupScene.add(model);
    const lines = new LineSegments(borderLines(mesh), this.lineMaterial);
    lines.frustumCulled = false;
    this.lineScene.add(lines);
  }

  get canvas(): HTMLCanvasElement {
    return this.renderer.domElement;
  }

  resize(width: number, height: number): void {
    this.renderer.setPixelRatio(window.devicePixelRatio);
    this.renderer.setSize(width, height, false);
    this.lookupStale = true;
  }

  /** The camera moved, or parts were shown or hidden. */
  viewChanged(): void {
    this.lookupStale = true;
  }

  setHidden(hidden: ReadonlySet<number>): void {
    const data = this.parts.image.data as Uint8Array;
    for (let part = 0; part * 2 < data.length; part++) data[part * 2] = hidden.has(part) ? 255 : 0;
    this.parts.needsUpdate = true;
    this.lookupStale = true;
  }

  /** @param heat a value a vertex, 0..1; null for none */
  setHeat(heat: Float32Array | null): void {
    this.setAttribute('heat', heat);
    this.lookupMaterial.uniforms['showHeat']!.value = heat !== null;
  }

  /** @param chosen 1 for each vertex that is to be lit up; null for none */
  setChosen(chosen: Float32Array | null): void {
    this.setAttribute('chosen', chosen);
    this.someChosen = chosen !== null;
  }

  /** Chosen triangles are drawn at another place on the sheet. */
  setMove({ a, b, c, d, e, f }: SheetMove): void {
    (this.flatMaterial.uniforms['move']!.value as Matrix3).set(a, b, e, c, d, f, 0, 0, 1);
  }

  private setAttribute(name: 'heat' | 'chosen', values: Float32Array | null): void {
    const attribute = this.geometry.getAttribute(name) as BufferAttribute;
    if (values) attribute.array.set(values);
    else attribute.array.fill(0);
    attribute.needsUpdate = true;
    this.lookupStale = true;
  }

  /** Lines on the model: seams and what else is marked. */
  setSeams(segments: Segments): void {
    this.seamScene.remove(this.seamLines);
    this.seamLines.geometry.dispose();
    this.seamLines = segmentMesh(this.seamMaterial, segments);
    this.seamScene.add(this.seamLines);
  }

  /** Copies fresh tiles to the GPU. @param pixels 64 x 64 RGBA rows a tile, one after the other */
  upload(tiles: readonly number[], pixels: Uint8Array): void {
    const gl = this.renderer.getContext() as WebGL2RenderingContext;
    gl.pixelStorei(gl.UNPACK_FLIP_Y_WEBGL, false);
    gl.pixelStorei(gl.UNPACK_PREMULTIPLY_ALPHA_WEBGL, false);
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 4);
    tiles.forEach((number, i) => {
      const sheet = sheetOfTile(this.spans, number);
      const { size, firstTile } = this.spans[sheet]!;
      const texture = (this.renderer.properties.get(this.sheets[sheet]!) as { __webglTexture?: WebGLTexture })
        .__webglTexture;
      if (!texture) return;
      this.renderer.state.bindTexture(gl.TEXTURE_2D, texture);
      const tile = number - firstTile;
      const across = tilesAcross(size);
      gl.texSubImage2D(
        gl.TEXTURE_2D,
        0,
        (tile % across) * TILE,
        Math.floor(tile / across) * TILE,
        TILE,
        TILE,
        gl.RGBA,
        gl.UNSIGNED_BYTE,
        pixels,
        i * TILE_BYTES,
      );
    });
  }

  draw(rig: CameraRig, picture: Picture): void {
    const ratio = this.renderer.getPixelRatio();
    this.renderer.setRenderTarget(null);
    this.renderer.setScissorTest(true);
    if (picture.model) this.drawModel(rig, picture, picture.model, ratio);
    if (picture.flat) this.drawSheet(picture, picture.flat, ratio);
    this.renderer.setScissorTest(false);
  }

  private drawModel(rig: CameraRig, picture: Picture, pane: Pane, ratio: number): void {
    const width = Math.max(1, Math.round(pane.width * ratio));
    const height = Math.max(1, Math.round(pane.height * ratio));
    if (this.target.width !== width || this.target.height !== height) {
      this.target.setSize(width, height);
      this.lookupStale = true;
    }
    if (this.lookupStale) {
      this.renderer.setRenderTarget(this.target);
      this.renderer.setScissorTest(false);
      this.renderer.setClearColor(0x000000, 0);
      this.renderer.clear(true, true, false);
      this.renderer.render(this.lookupScene, rig.camera());
      this.renderer.setRenderTarget(null);
      this.renderer.setScissorTest(true);
      this.lookupStale = false;
    }
    const u = this.modelMaterial.uniforms;
    u['mode']!.value = LOOKS.indexOf(picture.look); // the shader counts them in this order
    u['ground']!.value = picture.ground;
    u['hoverPart']!.value = picture.hoverPart + 1;
    u['someChosen']!.value = this.someChosen;
    this.pass(this.modelMaterial, pane, ratio);
    if (picture.seams && this.seamLines.geometry.instanceCount > 0) {
      const l = this.seamMaterial.uniforms;
      const bottom = this.renderer.domElement.height - (pane.y + pane.height) * ratio;
      (l['origin']!.value as Vector2).set(Math.round(pane.x * ratio), Math.round(bottom));
      (l['paneSize']!.value as Vector2).set(pane.width, pane.height);
      this.renderer.render(this.seamScene, rig.camera());
    }
  }

  private drawSheet(picture: Picture, pane: Pane, ratio: number): void {
    const u = this.sheetMaterial.uniforms;
    const shown = Math.min(picture.sheetNumber, this.spans.length - 1);
    const { size } = this.spans[shown]!;
    u['sheet']!.value = this.sheets[shown];
    u['ground']!.value = picture.ground;
    (u['corner']!.value as Vector2).set(picture.sheet.x * ratio, picture.sheet.y * ratio);
    u['scale']!.value = picture.sheet.scale * ratio;
    u['checker']!.value = picture.look === 'checker';
    this.pass(this.sheetMaterial, pane, ratio);
    const f = this.flatMaterial.uniforms;
    f['mode']!.value = LOOKS.indexOf(picture.look);
    (f['corner']!.value as Vector2).set(picture.sheet.x, picture.sheet.y);
    f['sheetPixels']!.value = picture.sheet.scale * size;
    f['sheetNumber']!.value = shown;
    (f['paneSize']!.value as Vector2).set(pane.width, pane.height);
    if (this.someChosen || isHeat(picture.look)) this.renderer.render(this.flatScene, this.quadCamera);
    const l = this.lineMaterial.uniforms;
    (l['corner']!.value as Vector2).set(picture.sheet.x, picture.sheet.y);
    l['sheetPixels']!.value = picture.sheet.scale * size;
    l['sheetNumber']!.value = shown;
    (l['paneSize']!.value as Vector2).set(pane.width, pane.height);
    this.renderer.render(this.lineScene, this.quadCamera);
  }

  private pass(material: RawShaderMaterial, pane: Pane, ratio: number): void {
    const canvas = this.renderer.domElement;
    const bottom = canvas.height / ratio - pane.y - pane.height;
    this.renderer.setViewport(pane.x, bottom, pane.width, pane.height);
    this.renderer.setScissor(pane.x, bottom, pane.width, pane.height);
    (material.uniforms['origin']!.value as Vector2).set(
      Math.round(pane.x * ratio),
      Math.round(bottom * ratio),
    );
    (material.uniforms['paneSize']!.value as Vector2).set(
      Math.round(pane.width * ratio),
      Math.round(pane.height * ratio),
    );
    this.quad.material = material;
    this.renderer.render(this.quadScene, this.quadCamera);
  }

  dispose(): void {
    this.target.depthTexture?.dispose();
    this.target.dispose();
    this.letters.dispose();
    this.geometry.dispose();
    this.seamLines.geometry.dispose();
    for (const texture of this.sheets) texture.dispose();
    this.parts.dispose();
    this.renderer.dispose();
  }
}
