import { describe, expect, it } from 'vitest';
import { topologyOf } from '../../mesh';
import {
  applyLayoutEdit,
  edgeLoop,
  measureIslands,
  measureLayout,
  mirroredEdges,
  seamCosts,
  suggestSeams,
  unwrapModel,
} from '..';
import { sheet, model, boxShape } from '../../../tests/charts';

describe('seams', () => {
  const flat = sheet(6, 6, (u, v) => [u * 6 - 3, 0, -v * 6]);
  const topology = topologyOf(flat);

  it('an edge loop runs straight on over quads', () => {
    const along = topology.edges.ofCorner[0]!;
    const loop = edgeLoop(model(flat), topology, along);
    expect(loop.length).toBeGreaterThanOrEqual(1);
    const inner = [...topology.edges.uses.keys()].find((e) => {
      const [a, b] = [topology.edges.ends[e * 2]!, topology.edges.ends[e * 2 + 1]!];
      return a === 24 && b === 25;
    })!;
    expect(edgeLoop(model(flat), topology, inner)).toHaveLength(6);
  });

  it('are mirrored across x = 0, and twice mirrored lie where they were', () => {
    const edges = [0, 3, 7].map((c) => topology.edges.ofCorner[c]!);
    const there = mirroredEdges(flat, topology, edges);
    expect(there.length).toBeGreaterThan(0);
    const back = mirroredEdges(flat, topology, there);
    for (const e of back) expect(edges).toContain(e);
  });

  it('cost less in valleys, along creases and below than on open ground', () => {
    const valley = sheet(2, 2, (u, v) => [u, Math.abs(u - 0.5), -v]);
    const t = topologyOf(valley);
    const costs = seamCosts(valley, t);
    const edge = (a: number, b: number): number =>
      [...t.edges.uses.keys()].find((e) => t.edges.ends[e * 2] === a && t.edges.ends[e * 2 + 1] === b)!;
    expect(costs[edge(1, 4)]!).toBeLessThan(costs[edge(0, 3)]!);
  });

  it('that are suggested foretell the stretch that flattening along them leaves', () => {
    const mesh = unwrapModel(model(boxShape()), { size: 256, margin: 4, seams: 'creases' });
    const suggested = suggestSeams(mesh, []);
    const after = applyLayoutEdit(mesh, {
      do: 'flatten',
      how: { seams: suggested.seams, faces: [] },
    });
    expect(measureIslands(after, 256)).toHaveLength(suggested.islands);
    expect(suggested.stretchL2).toBeCloseTo(measureLayout(after, 256).stretchL2, 3);
  });
});
