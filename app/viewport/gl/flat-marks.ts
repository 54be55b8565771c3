import {
  DoubleSide,
  LineSegments,
  Matrix3,
  Mesh,
  OrthographicCamera,
  Scene,
  Vector2,
  Vector4,
  type BufferGeometry,
  type RawShaderMaterial,
  type WebGLRenderer,
} from 'three';
import type { UvMesh } from '../../../core/mesh';
import type { SheetMove } from '../../../core/unwrap';
import { HEAT_GLSL } from '../../shared/heat-colors';
import { CHOSEN_COLOR, ONLY_SHOWN } from './glsl';
import type { ModelBuffers } from './model-buffers';
import { borderLines } from './model-geometry';
import type { Pane } from '../../shared/panes';
import { rawMaterial } from './screen-pass';
import type { SheetPlace } from './sheet-pass';

const TO_SCREEN = /* glsl */ `
uniform vec2 corner;
uniform float sheetPixels;
uniform vec2 paneSize;
vec4 toScreen(vec2 uv) {
  vec2 p = corner + vec2(uv.x, 1.0 - uv.y) * sheetPixels;
  return onlyShown(vec4(p.x / paneSize.x * 2.0 - 1.0, 1.0 - p.y / paneSize.y * 2.0, 0.0, 1.0));
}`;

const LINE_VERTEX = /* glsl */ `
in vec2 uv;
${ONLY_SHOWN}
${TO_SCREEN}
void main() { gl_Position = toScreen(uv); }`;

const LINE_FRAGMENT = /* glsl */ `
precision highp float;
uniform vec4 color;
out vec4 outColor;
void main() { outColor = color; }`;

const FACE_VERTEX = /* glsl */ `
in vec2 uv;
${ONLY_SHOWN}
${TO_SCREEN}
in float heat;
in float chosen;
uniform mat3 move;
out float vHeat;
out float vChosen;
void main() {
  vHeat = heat;
  vChosen = chosen;
  gl_Position = toScreen(chosen > 0.5 ? (move * vec3(uv, 1.0)).xy : uv);
}`;

const FACE_FRAGMENT = /* glsl */ `
precision highp float;
${HEAT_GLSL}
in float vHeat;
in float vChosen;
uniform bool showHeat;
uniform bool bothWays;
out vec4 outColor;
void main() {
  // Only a triangle all of whose corners are chosen is.
  bool picked = vChosen > 0.999;
  if (showHeat) outColor = vec4(mix(heatColor(vHeat, bothWays), ${CHOSEN_COLOR}, picked ? 0.3 : 0.0), 1.0);
  else if (picked) outColor = vec4(${CHOSEN_COLOR}, 0.4);
  else discard;
}`;

const CAMERA = new OrthographicCamera();

const placed = () => ({
  corner: { value: new Vector2() },
  sheetPixels: { value: 1 },
  paneSize: { value: new Vector2() },
  sheetNumber: { value: 0 },
});

/** What lies over the flat sheet: the islands' outlines, distortion, and what is chosen. */
export class FlatMarks {
  private readonly faceScene = new Scene();
  private readonly lineScene = new Scene();
  private readonly faces: RawShaderMaterial;
  private readonly lines: RawShaderMaterial;
  private readonly buffers: ModelBuffers;
  private readonly outlines: LineSegments<BufferGeometry, RawShaderMaterial>;

  constructor(mesh: UvMesh, buffers: ModelBuffers) {
    this.buffers = buffers;
    this.faces = rawMaterial(FACE_VERTEX, FACE_FRAGMENT, {
      ...placed(),
      move: { value: new Matrix3() },
      showHeat: { value: false },
      bothWays: { value: false },
    });
    this.faces.transparent = true;
    this.faces.side = DoubleSide;
    const flat = new Mesh(buffers.geometry, this.faces);
    flat.frustumCulled = false;
    this.faceScene.add(flat);
    this.lines = rawMaterial(LINE_VERTEX, LINE_FRAGMENT, {
      ...placed(),
      color: { value: new Vector4(1, 1, 1, 0.5) },
    });
    this.lines.transparent = true;
    this.outlines = new LineSegments(borderLines(mesh), this.lines);
    this.outlines.frustumCulled = false;
    this.lineScene.add(this.outlines);
  }

  /** Another layout. */
  setLayout(mesh: UvMesh): void {
    this.outlines.geometry.dispose();
    this.outlines.geometry = borderLines(mesh);
  }

  /** Chosen triangles are drawn at another place on the sheet. */
  setMove({ a, b, c, d, e, f }: SheetMove): void {
    (this.faces.uniforms['move']!.value as Matrix3).set(a, b, e, c, d, f, 0, 0, 1);
  }

  /** @param size texels a side of the sheet */
  draw(
    renderer: WebGLRenderer,
    pane: Pane,
    place: SheetPlace,
    sheet: { readonly number: number; readonly size: number },
    heatBothWays: boolean,
  ): void {
    for (const { uniforms: u } of [this.faces, this.lines]) {
      (u['corner']!.value as Vector2).set(place.x, place.y);
      (u['paneSize']!.value as Vector2).set(pane.width, pane.height);
      u['sheetPixels']!.value = place.scale * sheet.size;
      u['sheetNumber']!.value = sheet.number;
    }
    const { someChosen, showsHeat } = this.buffers;
    this.faces.uniforms['showHeat']!.value = showsHeat;
    this.faces.uniforms['bothWays']!.value = heatBothWays;
    if (someChosen || showsHeat) renderer.render(this.faceScene, CAMERA);
    renderer.render(this.lineScene, CAMERA);
  }

  dispose(): void {
    this.faces.dispose();
    this.lines.dispose();
    this.outlines.geometry.dispose();
  }
}
