import type { ToneLayer } from '../../../core/layers';
import { activeNode, type Session, useActiveNode, useProject } from '../../project';
import { Handle, LineOver, type Point, type StageView } from '../../viewport';
import { endsOf, middleOf, type Rise } from './ramp-geometry';

/** The rise that a tone ramp goes along, if it goes along one. */
function riseOf(layer: ToneLayer): Rise | null {
  const [first] = layer.mix;
  return layer.mix.length === 1 && first?.from === 'cue' && first.cue.cue === 'height' ? first.cue : null;
}

/** The chosen ramp along a line: its ends and its stops, to be dragged on the model. */
export function RampHandles({ session, view }: { readonly session: Session; readonly view: StageView }) {
  const node = useActiveNode();
  const mesh = useProject((s) => s.mesh);
  if (!mesh || node?.kind !== 'tone') return null;
  const rise = riseOf(node);
  if (!rise) return null;
  return (
    <LineOver view={view} line={endsOf(mesh, rise, middleOf(mesh, node))}>
      {(a, b) => (
        <>
          {(['from', 'to'] as const).map((end) => (
            <Handle
              key={end}
              at={end === 'from' ? a : b}
              kind="square"
              color="var(--raised)"
              name={end === 'from' ? 'Beginning of the ramp' : 'End of the ramp'}
              onDrag={(p, g) => moveEnd(session, node.id, end, alongLine(a, b, p), g)}
            />
          ))}
          {node.ramp.stops.map((stop, i) => (
            <Handle
              key={i}
              at={{ x: a.x + (b.x - a.x) * stop.at, y: a.y + (b.y - a.y) * stop.at }}
              kind="round"
              color={stop.color}
              name={`Colour ${i + 1} of the ramp`}
              onDrag={(p, g) => moveStop(session, node.id, i, alongLine(a, b, p), g)}
            />
          ))}
        </>
      )}
    </LineOver>
  );
}

/** How far along a line a point lies: 0 at its beginning, 1 at its end. */
function alongLine(a: Point, b: Point, p: Point): number {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  return ((p.x - a.x) * dx + (p.y - a.y) * dy) / (dx * dx + dy * dy || 1);
}

function layerNow(id: number): ToneLayer | null {
  const node = activeNode();
  return node?.kind === 'tone' && node.id === id ? node : null;
}

function moveStop(session: Session, id: number, i: number, at: number, gesture: string): void {
  const layer = layerNow(id);
  if (!layer) return;
  const { stops } = layer.ramp;
  const low = stops[i - 1]?.at ?? 0;
  const high = stops[i + 1]?.at ?? 1;
  const next = stops.with(i, { ...stops[i]!, at: Math.min(high, Math.max(low, at)) });
  void session.command(
    { do: 'patch-layer', layer: id, patch: { ramp: { ...layer.ramp, stops: next } } },
    gesture,
  );
}

function moveEnd(session: Session, id: number, end: 'from' | 'to', along: number, gesture: string): void {
  const layer = layerNow(id);
  const [first] = layer?.mix ?? [];
  if (!layer || first?.from !== 'cue' || first.cue.cue !== 'height') return;
  const { from, to } = first.cue;
  const value = Math.min(10, Math.max(-10, from + along * (to - from)));
  const cue = { ...first.cue, [end]: Number(value.toFixed(4)) };
  if (cue.to - cue.from < 0.005) return;
  void session.command({ do: 'patch-layer', layer: id, patch: { mix: [{ ...first, cue }] } }, gesture);
}
