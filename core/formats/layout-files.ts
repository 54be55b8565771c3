import { hexToRgb } from '../color';
import { findIslands, nextCorner, type UvMesh } from '../mesh';
import type { Picture } from '../picture';

export interface LayoutStyle {
  /** Texels a side. */
  readonly size: number;
  readonly lines: boolean;
  readonly fill: boolean;
  /** A colour for each part, '#rrggbb'; parts that have none are grey. */
  readonly colors: ReadonlyMap<string, string>;
}

const PLAIN = '#9a9590';
const LINE = '#1f1c1a';

const colorOf = (mesh: UvMesh, face: number, style: LayoutStyle): string =>
  style.colors.get(mesh.parts[mesh.faceParts[face]!]!) ?? PLAIN;

/** The layout as a drawing (SVG 1.1): a group a part, islands filled, their inner edges thin and their borders strong. */
export function layoutSvg(mesh: UvMesh, style: LayoutStyle): string {
  const { size } = style;
  const { edges } = findIslands(mesh);
  const at = (c: number): string => {
    const v = mesh.indices[c]! * 2;
    return `${round(mesh.uvs[v]! * size)} ${round((1 - mesh.uvs[v + 1]!) * size)}`;
  };
  const fills = new Map<number, string[]>();
  const inner: string[] = [];
  const border: string[] = [];
  const drawn = new Uint8Array(edges.uses.length);
  for (let f = 0; f < mesh.faceParts.length; f++) {
    const part = mesh.faceParts[f]!;
    let list = fills.get(part);
    if (!list) fills.set(part, (list = []));
    list.push(`M${at(f * 3)}L${at(f * 3 + 1)}L${at(f * 3 + 2)}Z`);
    for (let c = f * 3; c < f * 3 + 3; c++) {
      const e = edges.ofCorner[c]!;
      if (drawn[e]) continue;
      drawn[e] = 1;
      (edges.uses[e] === 1 ? border : inner).push(`M${at(c)}L${at(nextCorner(c))}`);
    }
  }
  const parts = [...fills].map(([part, paths]) => {
    const color = style.colors.get(mesh.parts[part]!) ?? PLAIN;
    return `<path id="${escapeXml(mesh.parts[part]!)}" fill="${color}" stroke="${color}" stroke-width="0.5" d="${paths.join('')}"/>`;
  });
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${size}" height="${size}" viewBox="0 0 ${size} ${size}">`,
    ...(style.fill ? parts : []),
    ...(style.lines
      ? [
          `<path fill="none" stroke="${LINE}" stroke-opacity="0.45" stroke-width="0.6" d="${inner.join('')}"/>`,
          `<path fill="none" stroke="${LINE}" stroke-width="1.6" d="${border.join('')}"/>`,
        ]
      : []),
    '</svg>',
    '',
  ].join('\n');
}

const round = (x: number): number => Math.round(x * 100) / 100;

const escapeXml = (text: string): string => text.replace(/[<>&"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** The same as a picture, transparent where nothing lies. */
export function layoutPicture(mesh: UvMesh, style: LayoutStyle): Picture {
  const { size } = style;
  const rgba = new Uint8Array(size * size * 4);
  const { edges } = findIslands(mesh);
  const put = (
    x: number,
    y: number,
    { r, g, b }: { r: number; g: number; b: number },
    alpha: number,
  ): void => {
    if (x < 0 || y < 0 || x >= size || y >= size) return;
    const o = (y * size + x) * 4;
    const under = rgba[o + 3]! / 255;
    const over = alpha + under * (1 - alpha);
    [r, g, b].forEach((c, k) => {
      rgba[o + k] = Math.round((c * alpha + rgba[o + k]! * under * (1 - alpha)) / over);
    });
    rgba[o + 3] = Math.round(over * 255);
  };
  const corner = (c: number): [number, number] => {
    const v = mesh.indices[c]! * 2;
    return [mesh.uvs[v]! * size, (1 - mesh.uvs[v + 1]!) * size];
  };
  if (style.fill) {
    for (let f = 0; f < mesh.faceParts.length; f++) {
      const color = hexToRgb(colorOf(mesh, f, style));
      fillTriangle([corner(f * 3), corner(f * 3 + 1), corner(f * 3 + 2)], (x, y) => {
        if (x >= 0 && y >= 0 && x < size && y < size)
          rgba.set([color.r, color.g, color.b, 255], (y * size + x) * 4);
      });
    }
  }
  if (style.lines) {
    const ink = hexToRgb(LINE);
    const drawn = new Uint8Array(edges.uses.length);
    for (let c = 0; c < mesh.indices.length; c++) {
      const e = edges.ofCorner[c]!;
      if (drawn[e]) continue;
      drawn[e] = 1;
      const isBorder = edges.uses[e] === 1;
      drawLine(corner(c), corner(nextCorner(c)), (x, y) => put(x, y, ink, isBorder ? 1 : 0.4));
    }
  }
  return { width: size, height: size, rgba };
}

function fillTriangle(points: readonly [number, number][], put: (x: number, y: number) => void): void {
  const [a, b, c] = points as [[number, number], [number, number], [number, number]];
  const doubled = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
  if (doubled === 0) return;
  const y1 = Math.max(a[1], b[1], c[1]);
  const x1 = Math.max(a[0], b[0], c[0]);
  for (let y = Math.floor(Math.min(a[1], b[1], c[1])); y <= y1; y++) {
    for (let x = Math.floor(Math.min(a[0], b[0], c[0])); x <= x1; x++) {
      const px = x + 0.5;
      const py = y + 0.5;
      const w0 = ((b[0] - px) * (c[1] - py) - (b[1] - py) * (c[0] - px)) / doubled;
      const w1 = ((c[0] - px) * (a[1] - py) - (c[1] - py) * (a[0] - px)) / doubled;
      if (w0 >= 0 && w1 >= 0 && w0 + w1 <= 1) put(x, y);
    }
  }
}

/** One pixel wide (J. E. Bresenham, "Algorithm for computer control of a digital plotter", 1965). */
function drawLine(
  from: readonly [number, number],
  to: readonly [number, number],
  put: (x: number, y: number) => void,
): void {
  let x = Math.floor(from[0]);
  let y = Math.floor(from[1]);
  const endX = Math.floor(to[0]);
  const endY = Math.floor(to[1]);
  const dx = Math.abs(endX - x);
  const dy = -Math.abs(endY - y);
  let error = dx + dy;
  for (;;) {
    put(x, y);
    if (x === endX && y === endY) return;
    const doubled = 2 * error;
    if (doubled >= dy) {
      error += dy;
      x += x < endX ? 1 : -1;
    }
    if (doubled <= dx) {
      error += dx;
      y += y < endY ? 1 : -1;
    }
  }
}
