import type { Session } from '../project';
import { Chip } from '../shared/Chip';
import { saveLayoutGlb, saveLayoutObj, saveLayoutPng, saveLayoutSvg, useDrawing } from './layout-files';

/** The layout as a drawing, and the model with it. */
export function LayoutFiles({
  session,
  sheet,
}: {
  readonly session: Session;
  readonly sheet: { readonly name: string; readonly size: number } | null;
}) {
  const { lines, fill, byPart } = useDrawing();
  const isBlank = !lines && !fill;
  return (
    <>
      <h2>Layout as a file {sheet && <span>{sheet.name}</span>}</h2>
      <div className="row">
        <Chip on={lines} title="Draw the edges" onClick={() => useDrawing.setState({ lines: !lines })}>
          Lines
        </Chip>
        <Chip on={fill} title="Fill the islands" onClick={() => useDrawing.setState({ fill: !fill })}>
          Filled
        </Chip>
        <Chip
          on={byPart}
          disabled={!fill}
          title="A colour for each part; grey otherwise"
          onClick={() => useDrawing.setState({ byPart: !byPart })}
        >
          Part colours
        </Chip>
      </div>
      <div className="row">
        <Chip title="The layout as a drawing" disabled={isBlank} onClick={() => void saveLayoutSvg()}>
          SVG
        </Chip>
        <Chip
          title="The layout as a picture of the sheet’s size, on nothing"
          disabled={isBlank}
          onClick={() => void saveLayoutPng()}
        >
          PNG
        </Chip>
        <Chip title="The model with this layout" onClick={() => void saveLayoutGlb(session)}>
          GLB
        </Chip>
        <Chip title="The model with this layout" onClick={() => void saveLayoutObj()}>
          OBJ
        </Chip>
      </div>
    </>
  );
}
