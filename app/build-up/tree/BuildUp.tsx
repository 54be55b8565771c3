import './build-up.css';
import './layer-settings.css';
import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type DragMoveEvent,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { DETAILS, findNode, nodesOf } from '../../../core/document';
import { type Session, useActiveLight, useProject } from '../../project';
import { DETAIL_WORDS } from '../../shared/detail-words';
import { FixedMenu } from '../../shared/FixedMenu';
import { useUi } from '../../shared/ui-store';
import { addDetail, addGroup, addOffer } from './layer-actions';
import { LayerInspector } from '../fields/LayerInspector';
import { LayerMenu } from './LayerMenu';
import { LayerRow } from './LayerRow';
import { newLayers } from './new-layers';
import { dropPlace, rowsOf } from './tree-rows';

/** Pixels that a row is set in for each group that it lies in; a drag so far to the side goes one group in or out. */
export const INDENT = 14;

/** The layers, painted from the bare model upward. */
export function BuildUp({ session }: { readonly session: Session }) {
  const tree = useProject((s) => s.document?.layers) ?? [];
  const light = useActiveLight()?.id ?? 0;
  const selected = useUi((s) => s.target?.layer ?? null);
  const folded = useUi((s) => s.folded);
  const [drag, setDrag] = useState<{ id: number; depth: number } | null>(null);
  const chosen = selected === null ? undefined : findNode(tree, selected);
  const rows = rowsOf(tree, folded);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  /** Where the row would be put as it is held now. */
  const placeFor = ({ active, over, delta }: DragMoveEvent) => {
    if (!over) return null;
    const dragged = findNode(tree, Number(active.id));
    const inside = new Set(dragged ? [...nodesOf([dragged])].slice(1).map(({ node }) => node.id) : []);
    const shown = rows.filter((r) => !inside.has(r.node.id));
    const indexOf = (id: number): number => shown.findIndex((r) => r.node.id === id);
    const [from, to] = [indexOf(Number(active.id)), indexOf(Number(over.id))];
    return to < 0 ? null : dropPlace(shown, from, to, Math.round(delta.x / INDENT), folded);
  };
  return (
    <>
      <section className="build-up" aria-label="Build-up">
        <h2>
          Build-up
          <span className="head-chips">
            <LayerMenu />
            <Dropdown align="end">
              <Dropdown.Toggle as="button" type="button" className="chip">
                Add
              </Dropdown.Toggle>
              <FixedMenu className="add-menu">
                {newLayers(light).map(({ title, offers }) => (
                  <div key={title} role="group" aria-label={title}>
                    <Dropdown.Header role="presentation">{title}</Dropdown.Header>
                    {offers.map((offer) => (
                      <Dropdown.Item
                        key={offer.title}
                        as="button"
                        onClick={() => void addOffer(session, offer)}
                      >
                        {offer.title}
                        <small>{offer.says}</small>
                      </Dropdown.Item>
                    ))}
                  </div>
                ))}
                <Dropdown.Divider />
                <Dropdown.Item as="button" onClick={() => void addGroup(session)}>
                  Group
                  <small>layers laid down together</small>
                </Dropdown.Item>
                <div role="group" aria-label="Detail sheet">
                  <Dropdown.Header role="presentation">Detail sheet, for toon shaders</Dropdown.Header>
                  {DETAILS.map((detail) => (
                    <Dropdown.Item key={detail} as="button" onClick={() => void addDetail(session, detail)}>
                      {DETAIL_WORDS[detail][0]}
                      <small>{DETAIL_WORDS[detail][1]}</small>
                    </Dropdown.Item>
                  ))}
                </div>
              </FixedMenu>
            </Dropdown>
          </span>
        </h2>
        <DndContext
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragMove={(event) => {
            const depth = placeFor(event)?.depth;
            if (depth === undefined) return;
            setDrag((d) =>
              d?.id === event.active.id && d.depth === depth ? d : { id: Number(event.active.id), depth },
            );
          }}
          onDragCancel={() => setDrag(null)}
          onDragEnd={(event) => {
            setDrag(null);
            const placed = placeFor(event);
            const row = rows.find((r) => r.node.id === Number(event.active.id));
            if (!placed || !row) return;
            const { into, at } = placed.place;
            if (row.place.into === into && row.place.at === at) return;
            void session.command({ do: 'move-layers', layers: [row.node.id], into, at });
          }}
        >
          <SortableContext items={rows.map((r) => r.node.id)} strategy={verticalListSortingStrategy}>
            <ol className="layers">
              {rows.map(({ node, depth }) => (
                <LayerRow
                  key={node.id}
                  session={session}
                  node={node}
                  indent={(drag?.id === node.id ? drag.depth : depth) * INDENT}
                />
              ))}
            </ol>
          </SortableContext>
        </DndContext>
        {rows.length === 0 && <p className="hint-line">Nothing is built up yet. Add a layer to begin.</p>}
        <div className="bare-model">bare model</div>
      </section>
      {chosen && <LayerInspector key={chosen.id} session={session} node={chosen} />}
    </>
  );
}
