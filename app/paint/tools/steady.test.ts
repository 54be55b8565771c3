import { describe, expect, it } from 'vitest';
import { pulled } from './steady';

describe('a pen on a string', () => {
  it('stays while the string hangs loose, and is drawn along when it is tight', () => {
    expect(pulled({ x: 0, y: 0 }, { x: 20, y: 0 }, 30)).toBeNull();
    expect(pulled({ x: 0, y: 0 }, { x: 50, y: 0 }, 30)).toEqual({ x: 20, y: 0 });
    expect(pulled({ x: 0, y: 0 }, { x: 30, y: 40 }, 25)).toEqual({ x: 15, y: 20 });
  });

  it('without a string it is where the pointer is, and brings what else is known of it along', () => {
    expect(pulled({ x: 9, y: 9 }, { x: 1, y: 2, pressure: 0.5 }, 0)).toEqual({ x: 1, y: 2, pressure: 0.5 });
  });

  it('takes a tremble out: what goes to and fro across the way is a third of it or less', () => {
    let pen = { x: 0, y: 0 };
    const offs: number[] = [];
    for (let i = 0; i < 400; i++) {
      const next = pulled(pen, { x: i, y: 6 * Math.sin(i * 0.8) }, 40);
      if (next) pen = next;
      if (i > 100) offs.push(Math.abs(pen.y));
    }
    expect(Math.max(...offs)).toBeLessThan(2);
  });
});
