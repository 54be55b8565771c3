import type { Layer } from '../../core/engine';
import { useProject } from '../shared/project-store';

/** A little picture of what a layer does, in its own colours. */
export function LayerSign({ layer }: { readonly layer: Layer }) {
  const light = useProject((s) => s.document?.light);
  let background: string;
  switch (layer.kind) {
    case 'local': {
      const colors = [...new Set(Object.values(layer.colors))].slice(0, 4);
      const list = colors.length ? colors : [layer.fallback];
      const stops = list.map((c, i) => `${c} ${(i / list.length) * 100}% ${((i + 1) / list.length) * 100}%`);
      background = `linear-gradient(90deg, ${stops.join(', ')})`;
      break;
    }
    case 'wash':
      background = layer.invert
        ? `linear-gradient(#f3f2f0 10%, ${layer.color})`
        : `linear-gradient(${layer.color}, #f3f2f0 90%)`;
      break;
    case 'light':
      background = light
        ? `radial-gradient(circle at 34% 26%, ${light.key.color}, ${light.sky.color} 45%, ${light.ground.color})`
        : '#ccc';
      break;
    case 'paint':
      background =
        'radial-gradient(ellipse at 50% 92%, #e8946f 0 22%, transparent 42%), linear-gradient(115deg, #efeeec 46%, #4a4550 47% 51%, #efeeec 52%)';
  }
  return <i className="layer-sign" style={{ background }} aria-hidden />;
}
