import type { FlatChart } from './flatten';
import { smallestBoxTurn } from '../pack/outline';
import { doubledArea } from './rest-shape';

/** The part of its smallest box that a piece fills. */
export function boxFill({ chart, flat }: FlatChart): number {
  const turn = smallestBoxTurn(flat.uv);
  const cos = Math.cos(turn);
  const sin = Math.sin(turn);
  let [minX, maxX, minY, maxY] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < flat.uv.length; i += 2) {
    const x = flat.uv[i]! * cos - flat.uv[i + 1]! * sin;
    const y = flat.uv[i]! * sin + flat.uv[i + 1]! * cos;
    minX = Math.min(minX, x);
    maxX = Math.max(maxX, x);
    minY = Math.min(minY, y);
    maxY = Math.max(maxY, y);
  }
  let area = 0;
  for (let f = 0; f < chart.faces.length; f++) area += Math.abs(doubledArea(chart.indices, flat.uv, f)) / 2;
  return area / ((maxX - minX) * (maxY - minY) || 1);
}
