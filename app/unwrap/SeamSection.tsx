import { useEffect, useState } from 'react';
import { cornerOfEdge } from '../../core/mesh';
import { creases, layoutSeams, partBorders, type SuggestedSeams } from '../../core/unwrap';
import { CoreError, sentenceOf } from '../../core/errors';
import { Chip } from '../shared/Chip';
import { topologyFor, useLayout, type LayoutTool } from '../shared/layout-store';
import { notify } from '../shared/notify';
import { jobPool } from '../shared/platform';
import { type Session, useProject } from '../project';
import { Slider } from '../shared/Slider';
import { withTask } from '../shared/tasks';
import { editLayout } from './layout-actions';
import { markSeams } from './tools/seam-drawing';

const TOOLS: readonly (readonly [LayoutTool, string, string])[] = [
  ['seam', 'Draw', 'Click from point to point; the line takes the cheapest way along edges'],
  ['loop', 'Loop', 'Click an edge of a quad: the whole loop'],
  ['edge', 'Edge', 'Click one edge at a time'],
];

/** Where the surface is cut. */
export function SeamSection({ session }: { readonly session: Session }) {
  const mesh = useProject((s) => s.mesh);
  const document = useProject((s) => s.document);
  const { tool, mirror, paintEdge, takeOff, chosen } = useLayout();
  const [angle, setAngle] = useState(40);
  const [suggested, setSuggested] = useState<SuggestedSeams | null>(null);
  useEffect(() => setSuggested(null), [mesh]);
  useEffect(() => () => useLayout.setState({ tool: 'island', from: null, ahead: [] }), []);
  if (!mesh || !document) return null;
  const topology = topologyFor(mesh);
  const edgesWhere = (marks: Uint8Array): number[] => {
    const out: number[] = [];
    const { edges } = topology;
    const inside = new Set([...chosen].flatMap((f) => [0, 1, 2].map((k) => edges.ofCorner[f * 3 + k]!)));
    marks.forEach((isMarked, e) => {
      if (isMarked && (chosen.size === 0 || inside.has(e))) out.push(e);
    });
    return out;
  };
  const suggest = async (): Promise<void> => {
    try {
      setSuggested(
        await withTask('Looking for seams', (signal, onProgress) =>
          jobPool.run('suggestSeams', { mesh, faces: [...chosen] }, { signal, onProgress }),
        ),
      );
    } catch (error) {
      if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
    }
  };
  const clear = (): void => {
    const corner = cornerOfEdge(topology);
    const gone = new Set(
      edgesWhere(new Uint8Array(topology.edges.uses.length).fill(1)).map((e) => corner[e]!),
    );
    session.command({
      do: 'set-layout',
      seams: document.seams.filter((c) => !gone.has(c)),
      paintEdges: document.paintEdges.filter((c) => !gone.has(c)),
    });
  };
  return (
    <>
      <div className="row" role="group" aria-label="Seam tool">
        {TOOLS.map(([value, title, says]) => (
          <Chip
            key={value}
            on={tool === value}
            title={says}
            onClick={() =>
              useLayout.setState({ tool: tool === value ? 'island' : value, from: null, ahead: [] })
            }
          >
            {title}
          </Chip>
        ))}
      </div>
      <div className="row" role="group" aria-label="What is done to the edges">
        <Chip on={!takeOff} onClick={() => useLayout.setState({ takeOff: false, from: null, ahead: [] })}>
          Mark
        </Chip>
        <Chip
          on={takeOff}
          title="Seams are unmarked in the same ways"
          onClick={() => useLayout.setState({ takeOff: true, from: null, ahead: [] })}
        >
          Unmark
        </Chip>
      </div>
      <div className="row">
        <Chip
          on={mirror}
          title="Do the same on the other side of x = 0"
          onClick={() => useLayout.setState({ mirror: !mirror })}
        >
          Mirror x
        </Chip>
        <Chip
          on={paintEdge}
          title={
            takeOff
              ? 'Only the paint edge is unmarked; the seam stays'
              : 'A crisp border between two tones is wanted along what is drawn'
          }
          onClick={() => useLayout.setState({ paintEdge: !paintEdge })}
        >
          Paint edge
        </Chip>
      </div>
      <p className="hint-line">
        {tool === 'seam'
          ? 'Click from point to point on the model. Escape ends the line.'
          : `${document.seams.length} ${document.seams.length === 1 ? 'edge is' : 'edges are'} marked${chosen.size ? '; what follows is done to the chosen islands' : ''}.`}
      </p>
      <h2>{takeOff ? 'Unmark' : 'Mark'} edges</h2>
      <Slider
        label="Creases over"
        value={angle}
        min={5}
        max={120}
        step={1}
        show={(v) => `${v}°`}
        onChange={setAngle}
      />
      <div className="row">
        <Chip
          title="Every edge that turns by more than the angle"
          onClick={() => markSeams(session, edgesWhere(creases(mesh, topology, (angle * Math.PI) / 180)))}
        >
          Creases
        </Chip>
        <Chip
          title="The borders of the present islands"
          onClick={() => markSeams(session, edgesWhere(layoutSeams(mesh, topology)))}
        >
          Islands
        </Chip>
        <Chip
          title="The borders between parts"
          onClick={() => markSeams(session, edgesWhere(partBorders(mesh, topology)))}
        >
          Parts
        </Chip>
        <Chip title="Where seams would lie by themselves" disabled={takeOff} onClick={() => void suggest()}>
          Suggest
        </Chip>
        <Chip disabled={document.seams.length === 0} onClick={clear}>
          Clear
        </Chip>
      </div>
      {suggested && (
        <div className="suggested" role="status">
          <p>
            {suggested.islands} {suggested.islands === 1 ? 'island' : 'islands'}, stretch{' '}
            {suggested.stretchL2.toFixed(3)}, {suggested.seamLength.toPrecision(3)} of seam.
          </p>
          <div className="row">
            <Chip
              onClick={() => {
                markSeams(
                  session,
                  suggested.seams.map((c) => topology.edges.ofCorner[c]!),
                );
                setSuggested(null);
              }}
            >
              Mark them
            </Chip>
            <Chip onClick={() => setSuggested(null)}>Dismiss</Chip>
          </div>
        </div>
      )}
      <div className="row">
        <button
          type="button"
          className="chip primary"
          onClick={() =>
            void editLayout(session, 'Unwrap along the seams', {
              do: 'flatten',
              how: { seams: document.seams, faces: [...chosen] },
            })
          }
        >
          {chosen.size ? 'Unwrap the chosen' : 'Unwrap along the seams'}
        </button>
      </div>
    </>
  );
}
