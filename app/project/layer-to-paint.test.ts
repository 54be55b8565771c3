import { expect, it } from 'vitest';
import { newDocument, type LayerNode } from '../../core/document';
import { NODE_DEFAULTS } from '../../core/layers';
import { layerToPaint } from './layer-to-paint';

const paint = (id: number, name: string): LayerNode => ({
  ...NODE_DEFAULTS,
  mask: [],
  kind: 'paint',
  id,
  name,
});
const { layers } = newDocument('Test', 64);
const [local] = layers;

it('the picture that a model came with isn’t in hand, neither at first nor after a reload', () => {
  const tree = [local!, paint(9, 'Base colour'), paint(3, 'Colours'), paint(4, 'Lines')];
  const document = { layers: tree, bases: [{ plane: 9, strokes: 0 }] };
  expect(layerToPaint(document, true)?.name).toBe('Colours');
  expect(layerToPaint(document, false)?.name).toBe('Lines');
  expect(layerToPaint({ layers: [local!, paint(9, 'Base colour')], bases: document.bases }, true)?.id).toBe(
    9,
  );
});
