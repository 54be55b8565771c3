import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ascending } from './segment';

describe('sorting by 32-bit value', () => {
  it('is the order that the standard sort gives, equal ones in their order', () => {
    fc.assert(
      fc.property(fc.array(fc.float({ noNaN: true }), { maxLength: 60 }), (values) => {
        const wanted = values.map((_, i) => i).sort((a, b) => values[a]! - values[b]! || a - b);
        // -0 stands before 0 in bits; as costs they are equal.
        const plain = values.map((x) => x + 0);
        const order = [...ascending(Float32Array.from(plain))];
        expect(order.map((i) => plain[i])).toEqual(wanted.map((i) => plain[i]));
        if (!values.includes(0)) expect(order).toEqual(wanted);
      }),
    );
  });
});
