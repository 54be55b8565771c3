import { expect, it } from 'vitest';
import { differenceWords } from './words';

it('a set says “the same” only of what was compared and found so', () => {
  expect(differenceWords(null)).toBe('Comparing…');
  expect(differenceWords({ differs: [], failed: [] })).toBe('The same in all');
  expect(differenceWords({ differs: [], failed: ['Otter'] })).toBe('Can’t be read: Otter');
  expect(differenceWords({ differs: ['Kettle'], failed: ['Otter'] })).toBe(
    'Other in Kettle. Can’t be read: Otter',
  );
});
