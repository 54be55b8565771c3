import { buildBinaryTree, type BinaryTree } from '../mesh';

/**
 * Triangles packed for rays, four at a time:
 *
 *     nodes   112 bytes each: min x of 4 children, min y, min z, max x, max y, max z (16 bytes each),
 *             then 4 child numbers (i32): >= 0 another node, < 0 the packet ~number, EMPTY none (its box is inverted)
 *     packets 144 bytes each: of 4 triangles corner A x, y, z, edge AB x, y, z, edge AC x, y, z (16 bytes each);
 *             an empty lane is all zeros, which no ray can hit
 */
export interface RayScene {
  readonly nodes: Float32Array;
  readonly packets: Float32Array;
  /** Triangle of each lane of each packet; -1 where it is empty. */
  readonly faces: Int32Array;
  /** Length of the scene's diagonal. */
  readonly diagonal: number;
}

export const NODE_FLOATS = 28;
export const PACKET_FLOATS = 36;
export const EMPTY_CHILD = 0x7fffffff;

/**
 * @param positions xyz a vertex
 * @param indices three vertices a triangle, at least one triangle
 */
export function buildRayScene(positions: Float32Array, indices: Uint32Array): RayScene {
  const tree = buildBinaryTree(positions, indices);
  const nodes: number[][] = [];
  const packets: number[][] = [];
  const faces: number[] = [];

  /** The (up to four) nodes of the binary tree that become one node here: the largest is opened first. */
  const fourOf = (root: number): number[] => {
    const children = tree.count[root] ? [root] : [tree.first[root]!, tree.first[root]! + 1];
    while (children.length < 4) {
      let largest = -1;
      let largestArea = -1;
      for (let i = 0; i < children.length; i++) {
        if (tree.count[children[i]!]) continue;
        const area = halfArea(tree, children[i]!);
        if (area > largestArea) {
          largestArea = area;
          largest = i;
        }
      }
      if (largest < 0) break;
      const left = tree.first[children[largest]!]!;
      children.splice(largest, 1, left, left + 1);
    }
    return children;
  };

  const pending = [{ node: 0, id: 0 }];
  nodes.push([]);
  while (pending.length) {
    const { node, id } = pending.pop()!;
    const row = new Array<number>(NODE_FLOATS).fill(0);
    const children = fourOf(node);
    for (let k = 0; k < 4; k++) {
      const child = children[k];
      for (let axis = 0; axis < 6; axis++) {
        row[axis * 4 + k] =
          child === undefined ? (axis < 3 ? Infinity : -Infinity) : tree.bounds[child * 6 + axis]!;
      }
      if (child === undefined) row[24 + k] = EMPTY_CHILD;
      else if (tree.count[child]) {
        row[24 + k] = ~(packets.push(packetOf(tree, child, positions, indices)) - 1);
        for (let lane = 0; lane < 4; lane++) {
          faces.push(lane < tree.count[child] ? tree.order[tree.first[child]! + lane]! : -1);
        }
      } else {
        row[24 + k] = nodes.push([]) - 1;
        pending.push({ node: child, id: row[24 + k]! });
      }
    }
    nodes[id] = row;
  }

  const nodeData = new Float32Array(nodes.length * NODE_FLOATS);
  const nodeInts = new Int32Array(nodeData.buffer);
  nodes.forEach((row, i) => {
    nodeData.set(row.slice(0, 24), i * NODE_FLOATS);
    nodeInts.set(row.slice(24), i * NODE_FLOATS + 24);
  });
  const packetData = new Float32Array(packets.length * PACKET_FLOATS);
  packets.forEach((row, i) => packetData.set(row, i * PACKET_FLOATS));
  const b = tree.bounds;
  return {
    nodes: nodeData,
    packets: packetData,
    faces: Int32Array.from(faces),
    diagonal: Math.hypot(b[3]! - b[0]!, b[4]! - b[1]!, b[5]! - b[2]!),
  };
}

function halfArea(tree: BinaryTree, node: number): number {
  const o = node * 6;
  const x = tree.bounds[o + 3]! - tree.bounds[o]!;
  const y = tree.bounds[o + 4]! - tree.bounds[o + 1]!;
  const z = tree.bounds[o + 5]! - tree.bounds[o + 2]!;
  return x * y + y * z + z * x;
}

function packetOf(tree: BinaryTree, leaf: number, positions: Float32Array, indices: Uint32Array): number[] {
  const row = new Array<number>(PACKET_FLOATS).fill(0);
  for (let k = 0; k < tree.count[leaf]!; k++) {
    const t = tree.order[tree.first[leaf]! + k]! * 3;
    for (let axis = 0; axis < 3; axis++) {
      const a = positions[indices[t]! * 3 + axis]!;
      row[axis * 4 + k] = a;
      row[(axis + 3) * 4 + k] = positions[indices[t + 1]! * 3 + axis]! - a;
      row[(axis + 6) * 4 + k] = positions[indices[t + 2]! * 3 + axis]! - a;
    }
  }
  return row;
}
