import { useEffect } from 'react';
import { type Session, useForm, useProject } from '../project';
import { Chip } from '../shared/Chip';
import { useTip } from '../shared/commands';
import { topologyFor, useLayout, type LayoutTool, type SeamWish } from '../shared/layout-store';
import { Slider } from '../shared/Slider';
import { editLayout } from './layout-actions';
import {
  clearSeams,
  cutSeamsThrough,
  markRun,
  SEAM_RUNS,
  suggestSeams,
  takeTool,
  useSeamWish,
  wishForChosen,
} from './seam-actions';
import { markSeams } from './tools/seam-drawing';

export const LAYOUT_TOOLS: readonly (readonly [LayoutTool, title: string, says: string])[] = [
  ['island', 'Choose', 'A click chooses an island; Shift adds another'],
  ['seam', 'Draw', 'Click from point to point; the line takes the cheapest way along edges'],
  ['loop', 'Loop', 'Click an edge of a quad: the whole loop'],
  ['edge', 'Edge', 'Click one edge at a time'],
  [
    'slide',
    'Slide',
    'Drag a seam over the model: it stays the cheapest way through the places where it is held',
  ],
];

const WISHES: readonly (readonly [SeamWish, title: string, says: string])[] = [
  ['never', 'Never here', 'Seams keep away from what is painted'],
  ['gladly', 'Gladly here', 'Seams are led to what is painted'],
  ['none', 'Either', 'Takes both off again'],
];

const RUN_SAYS: Record<keyof typeof SEAM_RUNS, string> = {
  creases: 'Every edge that turns by more than the angle',
  islands: 'The borders of the present islands',
  parts: 'The borders between parts',
};

/** Where the surface is cut. */
export function SeamSection({ session }: { readonly session: Session }) {
  const mesh = useForm();
  const document = useProject((s) => s.document);
  const { tool, mirror, paintEdge, takeOff, chosen, wish, wishSize } = useLayout();
  const { angle, suggested } = useSeamWish();
  const tip = useTip();
  useEffect(() => useSeamWish.setState({ suggested: null }), [mesh]);
  useEffect(() => () => takeTool('island'), []);
  if (!mesh || !document) return null;
  const marking = (off: boolean): void => useLayout.setState({ takeOff: off, from: null, ahead: [] });
  const verb = takeOff ? 'Unmark' : 'Mark';
  return (
    <>
      <div className="row" role="group" aria-label="What a click does">
        {LAYOUT_TOOLS.map(([value, title, says]) => (
          <Chip
            key={value}
            on={tool === value}
            title={tip(says, `layout-tool-${value}`)}
            onClick={() => takeTool(tool === value ? 'island' : value)}
          >
            {title}
          </Chip>
        ))}
      </div>
      <p className="hint-line">
        {tool === 'seam'
          ? 'Click from point to point on the model. Escape ends the line.'
          : tool === 'slide'
            ? document.seams.length
              ? 'Drag a seam to where you want it. It keeps its ends.'
              : 'Nothing is marked yet: lay the model out, or draw a seam.'
            : `${document.seams.length} ${document.seams.length === 1 ? 'edge is' : 'edges are'} marked${chosen.size ? '; what follows is done to the chosen islands' : ''}.`}
      </p>
      <h2>Where seams may run</h2>
      <div className="row" role="group" aria-label="What the brush says">
        {WISHES.map(([value, title, says]) => (
          <Chip
            key={value}
            on={tool === 'wish' && wish === value}
            title={says}
            onClick={() => {
              takeTool(tool === 'wish' && wish === value ? 'island' : 'wish');
              useLayout.setState({ wish: value });
            }}
          >
            {title}
          </Chip>
        ))}
      </div>
      {tool === 'wish' && (
        <>
          <p className="hint-line">Paint on the model. It is heard when the model is laid out anew.</p>
          <Slider
            label="Brush"
            says="How wide the brush is, pixels"
            value={wishSize}
            min={4}
            max={200}
            step={1}
            onChange={(v) => useLayout.setState({ wishSize: v })}
          />
          <div className="row">
            <Chip
              title="Says it of the chosen islands; of the chosen parts if no island is chosen"
              onClick={() => wishForChosen(session, wish)}
            >
              Say it of what is chosen
            </Chip>
          </div>
        </>
      )}
      <h2>
        Edges
        <span className="head-chips" role="group" aria-label="What is done to the edges">
          <Chip on={!takeOff} title="Edges become seams" onClick={() => marking(false)}>
            Mark
          </Chip>
          <Chip on={takeOff} title="Seams are unmarked in the same ways" onClick={() => marking(true)}>
            Unmark
          </Chip>
        </span>
      </h2>
      <div className="row">
        <Chip
          on={mirror}
          title={tip('Do the same on the other side of x = 0', 'seams-mirror')}
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
      <Slider
        label="Angle"
        says="Angle from which an edge is a crease"
        value={angle}
        min={5}
        max={120}
        step={1}
        show={(v) => `${v}°`}
        onChange={(v) => useSeamWish.setState({ angle: v })}
      />
      <div className="row" role="group" aria-label={`${verb} all edges of a kind`}>
        {(Object.keys(SEAM_RUNS) as (keyof typeof SEAM_RUNS)[]).map((run) => (
          <Chip key={run} title={`${verb}: ${RUN_SAYS[run]}`} onClick={() => markRun(session, run)}>
            {SEAM_RUNS[run]}
          </Chip>
        ))}
        <Chip
          title="Where seams would lie by themselves"
          disabled={takeOff}
          onClick={() => void suggestSeams()}
        >
          Suggest
        </Chip>
        <Chip disabled={document.seams.length === 0} onClick={() => clearSeams(session)}>
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
                const { edges } = topologyFor(mesh);
                markSeams(
                  session,
                  suggested.seams.map((c) => edges.ofCorner[c]!),
                );
                useSeamWish.setState({ suggested: null });
              }}
            >
              Mark them
            </Chip>
            <Chip onClick={() => useSeamWish.setState({ suggested: null })}>Dismiss</Chip>
          </div>
        </div>
      )}
      <div className="row">
        <Chip
          primary
          onClick={() =>
            void editLayout(session, 'Unwrap along the seams', {
              do: 'flatten',
              how: { seams: document.seams, faces: [...chosen] },
            })
          }
        >
          {chosen.size ? 'Unwrap the chosen' : 'Unwrap along the seams'}
        </Chip>
        <Chip
          title={tip(
            'Seams become straight lines right through triangles: the model is cut along them and gets more triangles',
            'seams-cut-through',
          )}
          disabled={document.seams.length === 0}
          onClick={() => void cutSeamsThrough(session)}
        >
          Cut straight
        </Chip>
      </div>
    </>
  );
}
