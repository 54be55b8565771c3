import './tray.css';
import { useMemo } from 'react';
import { BuildUp } from '../build-up';
import type { Session } from '../project';
import { PaintBar } from './PaintBar';
import { useFilm } from '../shared/film-store';
import { filmTool } from './tools/film-tool';
import { isLineTool, usePaint } from './paint-store';
import { fillTool, lineTool } from './tools/area-tool';
import { decalTool } from './tools/decal-tool';
import { inkTool } from './tools/ink-tool';
import { PoseStrip } from '../viewport';
import { brushTool } from './tools/brush-tool';
import { Tray } from './Tray';

function usePaintTool(session: Session) {
  const touching = useFilm((s) => s.touching);
  const kind = usePaint((s) =>
    s.tool === 'fill' || s.tool === 'decal' || s.tool === 'ink'
      ? s.tool
      : isLineTool(s.tool)
        ? 'line'
        : 'brush',
  );
  return useMemo(() => (touching ? filmTool : MAKERS[kind](session)), [touching, kind, session]);
}

const MAKERS = { fill: fillTool, line: lineTool, decal: decalTool, ink: inkTool, brush: brushTool };

/** What these do is kept by places of the model at rest. */
const AT_REST: Readonly<Record<string, string>> = {
  line: 'Shapes are filled at rest.',
  decal: 'Decals are set at rest.',
};

/** The pose, and the brushes under it. */
function PaintBench({ session }: { readonly session: Session }) {
  const kind = usePaint((s) => (isLineTool(s.tool) ? 'line' : s.tool));
  return (
    <>
      <PoseStrip session={session} note={AT_REST[kind] ?? null} />
      <Tray />
    </>
  );
}

export const stage = {
  useTool: usePaintTool,
  Over: PaintBar,
  Panel: BuildUp,
  Below: PaintBench,
  isPosed: true,
};
