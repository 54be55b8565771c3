import { useMemo } from 'react';
import { useForm, useProject } from '../../project';
import { islandsFor } from '../../shared/layout-store';
import { useUi } from '../../shared/ui-store';
import { sheetOfPart } from '../../../core/mesh';
import { useEveryPicture, type StageView } from '../../viewport';
import { boxOnSheet } from '../layout-actions';

/** A pin in the middle of every island that packing goes round. */
export function PinMarks({ view }: { readonly view: StageView }) {
  useEveryPicture(view);
  const mesh = useForm();
  const pins = useProject((s) => s.document?.pins);
  const sheet = useUi((s) => s.sheet);
  const middles = useMemo(() => {
    if (!mesh || !pins || pins.length === 0) return [];
    const { ofFace } = islandsFor(mesh);
    const islands = new Map(pins.map((face) => [ofFace[face]!, face]));
    const faces = new Map<number, number[]>([...islands.keys()].map((island) => [island, []]));
    ofFace.forEach((island, f) => faces.get(island)?.push(f));
    return [...islands].flatMap(([island, face]) => {
      if (sheetOfPart(mesh, mesh.faceParts[face]!) !== sheet) return [];
      const box = boxOnSheet(mesh, faces.get(island)!);
      return [{ island, u: (box.left + box.right) / 2, v: (box.low + box.high) / 2 }];
    });
  }, [mesh, pins, sheet]);
  const pane = view.pane('sheet');
  if (!pane || middles.length === 0) return null;
  return (
    <svg
      className="pin-marks"
      style={{ left: pane.x, top: pane.y }}
      width={pane.width}
      height={pane.height}
      role="img"
      aria-label={`${middles.length} pinned`}
    >
      {middles.map(({ island, u, v }) => {
        const [x, y] = [
          view.flat.place.x + u * view.flat.pixels,
          view.flat.place.y + (1 - v) * view.flat.pixels,
        ];
        return (
          <path
            key={island}
            transform={`translate(${x} ${y})`}
            d="M0 8 L0 0 M-5 -8 H5 V-2 L7 1 H-7 L-5 -2 Z"
          />
        );
      })}
    </svg>
  );
}
