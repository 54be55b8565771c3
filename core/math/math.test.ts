import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import {
  clamp,
  contentHash,
  cosineDirections,
  cross,
  dot,
  normalize,
  r2Sequence,
  seededRandom,
  smoothstep,
} from '.';

describe('cosine-weighted directions', () => {
  const n = 4096;
  const dirs = cosineDirections(n);
  it('are unit vectors of the upper half space', () => {
    for (let i = 0; i < n; i++) {
      const [x, y, z] = dirs.subarray(i * 3, i * 3 + 3) as unknown as [number, number, number];
      expect(Math.abs(Math.hypot(x, y, z) - 1)).toBeLessThan(1e-6);
      expect(z).toBeGreaterThanOrEqual(0);
    }
  });
  // For the density cos / pi: mean of cos = 2/3, of cos squared = 1/2, and the horizontal axes vanish.
  it('have the moments of a cosine lobe', () => {
    let m1 = 0;
    let m2 = 0;
    let x = 0;
    let y = 0;
    for (let i = 0; i < n; i++) {
      x += dirs[i * 3]! / n;
      y += dirs[i * 3 + 1]! / n;
      m1 += dirs[i * 3 + 2]! / n;
      m2 += dirs[i * 3 + 2]! ** 2 / n;
    }
    expect(m1).toBeCloseTo(2 / 3, 3);
    expect(m2).toBeCloseTo(1 / 2, 3);
    expect(Math.hypot(x, y)).toBeLessThan(0.005);
  });
});

describe('the R2 sequence', () => {
  it('fills a square evenly: every cell of 16 x 16 gets close to its share', () => {
    const points = r2Sequence(4096);
    const cells = new Int32Array(256);
    for (let i = 0; i < 4096; i++)
      cells[Math.floor(points[i * 2]! * 16) * 16 + Math.floor(points[i * 2 + 1]! * 16)]!++;
    expect(Math.min(...cells)).toBeGreaterThan(11);
    expect(Math.max(...cells)).toBeLessThan(21);
  });
});

describe('hashes', () => {
  it('are the start of SHA-256 over length-prefixed parts (Node’s own as oracle)', () => {
    const bytes = Float32Array.of(1, 2, 3);
    const theirs = createHash('sha256')
      .update('12:')
      .update(new Uint8Array(bytes.buffer))
      .update('3:')
      .update('"a"');
    expect(contentHash(bytes, 'a')).toBe(theirs.digest('hex').slice(0, 32));
  });
  it('tell parts apart however they are cut', () => {
    expect(contentHash('ab', 'c')).not.toBe(contentHash('a', 'bc'));
    expect(contentHash(new Uint8Array(2))).not.toBe(contentHash(new Uint8Array(3)));
  });
});

describe('small things', () => {
  it('a seed gives its numbers again, within 0..1', () => {
    const [a, b] = [seededRandom(5), seededRandom(5)];
    for (let i = 0; i < 100; i++) {
      const x = a();
      expect(x).toBe(b());
      expect(x).toBeGreaterThanOrEqual(0);
      expect(x).toBeLessThan(1);
    }
  });
  it('vectors', () => {
    expect(cross([1, 0, 0], [0, 1, 0])).toEqual([0, 0, 1]);
    expect(dot([1, 2, 3], [4, 5, 6])).toBe(32);
    expect(normalize([0, 0, 0], [1, 0, 0])).toEqual([1, 0, 0]);
    expect(normalize([0, 3, 4])).toEqual([0, 0.6000000000000001, 0.8]);
  });
  it('steps', () => {
    expect([smoothstep(0, 1, -1), smoothstep(0, 1, 0.5), smoothstep(0, 1, 2)]).toEqual([0, 0.5, 1]);
    expect([clamp(-1, 0, 2), clamp(1, 0, 2), clamp(3, 0, 2)]).toEqual([0, 1, 2]);
  });
});
