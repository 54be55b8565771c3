import type { Layer } from '../../../core/layers';
import { useProject } from '../../project';

/** A little picture of what a layer does, in its own colours. */
export function LayerSign({ node }: { readonly node: Layer }) {
  const light = useProject((s) =>
    node.kind === 'light' ? s.document?.lights.find((l) => l.id === node.light)?.plan : undefined,
  );
  return (
    <i className={`layer-sign ${node.kind}`} style={{ background: groundOf(node, light) }} aria-hidden />
  );
}

type Light = { key: { color: string }; sky: { color: string }; ground: { color: string } } | undefined;

function groundOf(node: Layer, light: Light): string {
  switch (node.kind) {
    case 'local': {
      const colors = [...new Set([...node.regions, ...node.colors].map(([, color]) => color))].slice(0, 4);
      const list = colors.length ? colors : [node.fallback];
      const stops = list.map((c, i) => `${c} ${(i / list.length) * 100}% ${((i + 1) / list.length) * 100}%`);
      return `linear-gradient(90deg, ${stops.join(', ')})`;
    }
    case 'wash': {
      const [first] = node.mask;
      const low = first?.from === 'cue' && first.invert;
      return low
        ? `linear-gradient(#f3f2f0 10%, ${node.color})`
        : `linear-gradient(${node.color}, #f3f2f0 90%)`;
    }
    case 'light':
      return light
        ? `radial-gradient(circle at 34% 26%, ${light.key.color}, ${light.sky.color} 45%, ${light.ground.color})`
        : '#ccc';
    case 'tone':
      return `linear-gradient(0deg, ${node.ramp.stops.map((s) => `${s.color} ${s.at * 100}%`).join(', ')})`;
    case 'pattern':
      return 'conic-gradient(#e9e2d6 25%, #8f8980 0 50%, #e9e2d6 0 75%, #8f8980 0) 0 0 / 50% 50%';
    case 'decal':
      return 'radial-gradient(circle at 50% 55%, #c8553d 0 30%, #f3f2f0 31% 38%, #d9d4cc 39%)';
    case 'ink':
      return 'radial-gradient(circle at 96% 108%, transparent 0 62%, #2b2320 63% 70%, transparent 71%), radial-gradient(circle at -6% 6%, transparent 0 44%, #2b2320 45% 50%, transparent 51%), #f3f2f0';
    case 'adjust': {
      const { change } = node;
      if (change.by === 'ramp')
        return `linear-gradient(0deg, ${change.stops.map((s) => `${s.color} ${s.at * 100}%`).join(', ')})`;
      if (change.by === 'oklch')
        return 'conic-gradient(from 90deg, oklch(.72 .12 0), oklch(.72 .12 90), oklch(.72 .12 180), oklch(.72 .12 270), oklch(.72 .12 360))';
      return 'linear-gradient(120deg, #35323a 0 34%, #8f8b92 34% 66%, #efeeec 66%)';
    }
    case 'paint':
      return 'radial-gradient(ellipse at 50% 92%, #e8946f 0 22%, transparent 42%), linear-gradient(115deg, #efeeec 46%, #4a4550 47% 51%, #efeeec 52%)';
  }
}
