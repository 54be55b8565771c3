import { useEffect } from 'react';
import type { Session } from '../project';
import { Chip } from '../shared/Chip';
import { useTip } from '../shared/commands';
import { NO_INK, useInk } from '../shared/ink-store';
import { TOOL_WORDS } from './paint-words';
import { isLineTool, NO_PAINT, PAINT_TOOLS, toggleSymmetry, usePaint } from './paint-store';
import { useHeldTools } from './held-tools';
import { SymmetryFields } from './SymmetryFields';
import { ToolFields } from './ToolFields';

/** What a press does, and what else is set for that. */
export function PaintBar({ session }: { readonly session: Session }) {
  const tool = usePaint((s) => s.tool);
  const on = usePaint((s) => s.symmetry.on);
  const open = usePaint((s) => s.symmetryOpen);
  const tip = useTip();
  useHeldTools();
  // Places and sources are those of one project.
  useEffect(
    () => () => {
      usePaint.setState(NO_PAINT);
      useInk.setState(NO_INK);
    },
    [session],
  );
  return (
    <div className="over-picture">
      <div className="tool-bar">
        {open && <SymmetryFields session={session} />}
        <ToolFields session={session} />
        <div className="row" role="group" aria-label="Tool">
          {PAINT_TOOLS.filter((one) => one === 'lasso' || !isLineTool(one)).map((one) => (
            <Chip
              key={one}
              on={one === 'lasso' ? isLineTool(tool) : tool === one}
              title={tip(TOOL_WORDS[one][1], `tool-${one}`)}
              onClick={() => usePaint.setState({ tool: one, sourcing: null })}
            >
              {TOOL_WORDS[one][0]}
            </Chip>
          ))}
          <Chip
            on={on}
            title={tip('The same on other sides of the model, or round an axis', 'symmetry')}
            onClick={toggleSymmetry}
          >
            Symmetry
          </Chip>
          <Chip
            aria-expanded={open}
            aria-label="How symmetry is set"
            title="Planes, axis and where they stand"
            onClick={() => usePaint.setState({ symmetryOpen: !open })}
          >
            {open ? 'Less' : 'Set…'}
          </Chip>
        </div>
      </div>
    </div>
  );
}
