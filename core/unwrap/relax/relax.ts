import type { DirichletEnergy } from './dirichlet-energy';
import type { RigidFit } from './rigid-fit';

export interface RelaxOptions {
  /** Steps at the most. */
  readonly steps: number;
  /** It ends when a step lowers the energy by less than this part. */
  readonly tolerance: number;
  /** It ends after a few steps if the energy is still above this. */
  readonly hopeless: number;
}

/** Steps whose change of slope is remembered. */
const MEMORY = 6;

/** Steps that are made with whatever hope there is. */
const PATIENCE = 5;

/** Ever shorter steps that are tried in one direction. */
const TRIES = 24;

/** Where a whole step folds something, a step goes at the most this far toward the point where the first triangle would fold. */
const SHY = 0.9;

/**
 * Relaxes a layout for area and angle at once: the symmetric Dirichlet energy |J|² + |J⁻¹|² of every triangle, weighted by its
 * area (J. Schreiner et al., "Inter-Surface Mapping", 2004; 4 where nothing is stretched). A quasi-Newton descent (L-BFGS)
 * that begins each step with the Laplacian of the surface, which spreads a change over the whole chart at once (Y. Zhu,
 * R. Bridson, D. Kaufman, "Blended Cured Quasi-Newton for Distortion Optimization", 2018). It leaves no triangle folded: a step
 * after which one is ends before the first one would be (J. Smith, S. Schaefer, "Bijective Parameterization with Free
 * Boundaries", 2015).
 *
 * @param rigid of the same chart as `energy`
 * @param uv a layout without folds; receives the result
 * @returns the energy, mean over the area
 */
export function relaxLayout(
  energy: DirichletEnergy,
  rigid: RigidFit,
  uv: Float64Array,
  options: RelaxOptions,
): number {
  const { steps, tolerance, hopeless } = options;
  const size = uv.length;
  const gradient = new Float64Array(size);
  const direction = new Float64Array(size);
  const trial = new Float64Array(size);
  const newGradient = new Float64Array(size);
  const moves: Float64Array[] = [];
  const changes: Float64Array[] = [];
  const products: number[] = [];
  const alphas = new Float64Array(MEMORY);
  approachRigid(energy, rigid, uv, options);
  let value = energy.gradient(uv, gradient);
  for (let step = 0; step < steps; step++) {
    // Two-loop recursion (J. Nocedal, "Updating Quasi-Newton Matrices with Limited Storage", 1980).
    direction.set(gradient);
    for (let i = moves.length - 1; i >= 0; i--) {
      alphas[i] = dot(moves[i]!, direction) / products[i]!;
      addScaled(direction, changes[i]!, -alphas[i]!);
    }
    rigid.solvePairs(direction);
    for (let i = 0; i < moves.length; i++) {
      const beta = dot(changes[i]!, direction) / products[i]!;
      addScaled(direction, moves[i]!, alphas[i]! - beta);
    }
    let slope = -dot(gradient, direction);
    if (!(slope < 0)) {
      // The memory misleads: begin again with the Laplacian alone.
      moves.length = changes.length = products.length = 0;
      direction.set(gradient);
      rigid.solvePairs(direction);
      slope = -dot(gradient, direction);
      if (!(slope < 0)) break;
    }
    // A whole step is good most often; only where it isn't, what would fold is looked for.
    let length = 1;
    let next = stepTo(length);
    for (let tries = 0; !(next <= value + 1e-4 * length * slope); tries++) {
      if (tries === TRIES) return value;
      length = tries === 0 ? Math.min(0.5, SHY * energy.firstFold(uv, direction)) : length / 2;
      next = stepTo(length);
    }
    remember(length);
    const won = value - next;
    uv.set(trial);
    gradient.set(newGradient);
    value = next;
    if (won < tolerance * (value - 3.9) || (step >= PATIENCE && value > hopeless)) break;
  }
  return value;

  function stepTo(length: number): number {
    for (let i = 0; i < size; i++) trial[i] = uv[i]! - length * direction[i]!;
    return energy.gradient(trial, newGradient);
  }

  function remember(length: number): void {
    const isFull = moves.length === MEMORY;
    const move = isFull ? moves[0]! : new Float64Array(size);
    const change = isFull ? changes[0]! : new Float64Array(size);
    let product = 0;
    for (let i = 0; i < size; i++) {
      const m = -length * direction[i]!;
      const c = newGradient[i]! - gradient[i]!;
      product += m * c;
      move[i] = m;
      change[i] = c;
    }
    if (isFull) {
      moves.shift();
      changes.shift();
      products.shift();
    }
    if (product <= 1e-14) return;
    moves.push(move);
    changes.push(change);
    products.push(product);
  }
}

/** Ever shorter steps that are tried from afar. */
const RIGID_TRIES = 6;

/** The rigid approach ends when a step wins less than this part of the stretch that is left. */
const RIGID_WIN = 0.5;

/**
 * The first steps from afar: every triangle is turned to where it lies best, and the layout that fits all of them is the aim of
 * the next step. Taken only as far as nothing folds and the energy falls. From a conformal map of a half ball it saves about 100 of
 * the 120 steps that follow.
 */
function approachRigid(
  energy: DirichletEnergy,
  rigid: RigidFit,
  uv: Float64Array,
  { steps, tolerance }: RelaxOptions,
): void {
  const aim = new Float64Array(uv.length);
  const trial = new Float64Array(uv.length);
  let value = energy.value(uv);
  for (let step = 0; step < steps; step++) {
    rigid.step(uv, aim);
    // The solver places the whole anywhere; only the shape counts.
    for (let i = 0; i < aim.length; i++) aim[i] = uv[i]! - aim[i]!;
    let length = 1;
    let next = Infinity;
    for (let tries = 0; ; tries++) {
      for (let i = 0; i < uv.length; i++) trial[i] = uv[i]! - length * aim[i]!;
      next = energy.value(trial);
      if (next < value) break;
      if (tries === RIGID_TRIES) return;
      length = tries === 0 ? Math.min(0.5, SHY * energy.firstFold(uv, aim)) : length / 2;
    }
    const won = value - next;
    uv.set(trial);
    value = next;
    if (won < Math.max(RIGID_WIN * (value - 4), tolerance * (value - 3.9))) return;
  }
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}

function addScaled(a: Float64Array, b: Float64Array, k: number): void {
  for (let i = 0; i < a.length; i++) a[i]! += b[i]! * k;
}
