import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { EyeIcon } from '@phosphor-icons/react/dist/csr/Eye';
import { EyeSlashIcon } from '@phosphor-icons/react/dist/csr/EyeSlash';
import { useState } from 'react';
import { Dropdown } from 'react-bootstrap';
import { cueKey } from '../../core/cues';
import type { Layer } from '../../core/engine';
import { notify } from '../shared/notify';
import { useProject } from '../shared/project-store';
import type { Session } from '../shared/session';
import { useUi } from '../shared/ui-store';
import { LayerInspector } from './LayerInspector';
import { LayerSign } from './LayerSign';
import { describeLayer, NEW_LAYERS } from './layer-words';

export function removeLayer(session: Session, layer: Layer): void {
  session.command({ do: 'remove-layer', layer: layer.id });
  notify(`“${layer.name}” was removed.`, { label: 'Undo', run: () => session.undo() });
}

/** The layers, painted from the bare model upward. */
export function BuildUp({ session }: { readonly session: Session }) {
  const layers = useProject((s) => s.document?.layers) ?? [];
  const nextId = useProject((s) => s.document?.nextId) ?? 0;
  const selected = useUi((s) => s.selectedLayer);
  const chosen = layers.find((l) => l.id === selected);
  const topFirst = [...layers].reverse();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const add = (layer: Layer): void => {
    // Just above the chosen layer, where its effect is expected.
    const at = chosen ? layers.indexOf(chosen) + 1 : layers.length;
    session.command({ do: 'add-layer', layer, at });
    useUi.setState({ selectedLayer: nextId });
  };
  return (
    <>
      <section className="build-up" aria-label="Build-up">
        <h2>
          Build-up
          <Dropdown align="end">
            <Dropdown.Toggle as="button" type="button" className="chip">
              Add
            </Dropdown.Toggle>
            <Dropdown.Menu>
              {NEW_LAYERS.map(({ title, says, layer }) => (
                <Dropdown.Item key={title} as="button" onClick={() => add(layer)}>
                  {title}
                  <small>{says}</small>
                </Dropdown.Item>
              ))}
            </Dropdown.Menu>
          </Dropdown>
        </h2>
        <DndContext
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={({ active, over }) => {
            if (!over || active.id === over.id) return;
            session.command({
              do: 'move-layer',
              layer: Number(active.id),
              to: layers.findIndex((l) => l.id === Number(over.id)),
            });
          }}
        >
          <SortableContext items={topFirst.map((l) => l.id)} strategy={verticalListSortingStrategy}>
            <ol className="layers">
              {topFirst.map((layer) => (
                <LayerRow
                  key={layer.id}
                  session={session}
                  layer={layer}
                  index={layers.indexOf(layer)}
                  count={layers.length}
                />
              ))}
            </ol>
          </SortableContext>
        </DndContext>
        <div className="bare-model">bare model</div>
      </section>
      {chosen && <LayerInspector session={session} layer={chosen} />}
    </>
  );
}

function LayerRow({
  session,
  layer,
  index,
  count,
}: {
  readonly session: Session;
  readonly layer: Layer;
  readonly index: number;
  readonly count: number;
}) {
  const selected = useUi((s) => s.selectedLayer === layer.id);
  const missing = useProject(
    (s) => layer.kind === 'wash' && s.missingCues.some((c) => cueKey(c) === cueKey(layer.source)),
  );
  const stopped = useProject((s) => layer.kind === 'wash' && s.stoppedCues.has(cueKey(layer.source)));
  const region = useProject((s) => s.document?.regions.find((r) => r.id === layer.region)?.name);
  const [renaming, setRenaming] = useState(false);
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({
    id: layer.id,
    disabled: renaming,
  });
  const rename = (name: string): void => {
    setRenaming(false);
    const clean = name.trim().slice(0, 80);
    if (clean && clean !== layer.name)
      session.command({ do: 'change-layer', layer: { ...layer, name: clean } });
  };
  const move = (by: number): void => {
    const to = index + by;
    if (to >= 0 && to < count) session.command({ do: 'move-layer', layer: layer.id, to });
  };
  return (
    <li
      ref={setNodeRef}
      className={`layer${selected ? ' on' : ''}${layer.visible ? '' : ' off'}${isDragging ? ' dragged' : ''}`}
      style={{ transform: CSS.Translate.toString(transform), transition }}
    >
      <div
        className="layer-body"
        {...attributes}
        {...listeners}
        aria-label={`${layer.name}, ${describeLayer(layer, region)}`}
        aria-pressed={selected}
        onClick={() => useUi.setState({ selectedLayer: layer.id })}
        onDoubleClick={() => setRenaming(true)}
        onKeyDown={(e) => {
          if (renaming) return;
          if (e.key === 'Enter') useUi.setState({ selectedLayer: layer.id });
          else if (e.key === 'F2') setRenaming(true);
          else if (e.key === 'Delete') removeLayer(session, layer);
          else if (e.altKey && e.key === 'ArrowUp') move(1);
          else if (e.altKey && e.key === 'ArrowDown') move(-1);
          else {
            listeners?.['onKeyDown']?.(e);
            return;
          }
          // The page's own keys do the same for the chosen layer: once is enough.
          e.preventDefault();
          e.stopPropagation();
        }}
      >
        <LayerSign layer={layer} />
        <span className="layer-text">
          {renaming ? (
            <input
              autoFocus
              defaultValue={layer.name}
              aria-label="Name of the layer"
              onFocus={(e) => e.target.select()}
              onBlur={(e) => rename(e.target.value)}
              onPointerDown={(e) => e.stopPropagation()}
              onKeyDown={(e) => {
                e.stopPropagation();
                if (e.key === 'Enter') rename(e.currentTarget.value);
                if (e.key === 'Escape') setRenaming(false);
              }}
            />
          ) : (
            <b>{layer.name}</b>
          )}
          <small>
            {stopped ? 'not measured' : missing ? 'being measured…' : describeLayer(layer, region)}
          </small>
        </span>
        <span className="layer-opacity">{Math.round(layer.opacity * 100)}</span>
      </div>
      {stopped && (
        <button type="button" className="chip" onClick={() => session.resumeCues()}>
          Measure
        </button>
      )}
      <button
        type="button"
        className="eye"
        aria-pressed={layer.visible}
        aria-label={layer.visible ? `Hide ${layer.name}` : `Show ${layer.name}`}
        title={layer.visible ? 'Hide' : 'Show'}
        onClick={() => session.command({ do: 'change-layer', layer: { ...layer, visible: !layer.visible } })}
      >
        {layer.visible ? <EyeIcon size={15} /> : <EyeSlashIcon size={15} />}
      </button>
    </li>
  );
}
