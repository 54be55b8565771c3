import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  rectSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useState } from 'react';
import type { Swatch } from '../../core/engine';
import { Chip } from '../shared/Chip';
import { undoable } from '../shared/notify';
import { type Session, useProject } from '../project';
import { useUi } from '../shared/ui-store';

/** The project's colours: click takes one, dragging orders them. */
export function Palette({
  session,
  onTake,
}: {
  readonly session: Session;
  readonly onTake?: (color: string) => void;
}) {
  const palette = useProject((s) => s.document?.palette) ?? [];
  const color = useUi((s) => s.color);
  const [chosen, setChosen] = useState<number | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const swatch =
    palette.find((s) => s.id === chosen && s.color === color) ?? palette.find((s) => s.color === color);

  return (
    <section className="palette" aria-label="Palette">
      <h2>
        Palette <span>{palette.length === 0 ? 'empty' : `${palette.length} colours`}</span>
      </h2>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={({ active, over }) => {
          if (!over || active.id === over.id) return;
          const to = palette.findIndex((s) => s.id === over.id);
          void session.command({ do: 'move-swatch', swatch: Number(active.id), to });
        }}
      >
        <SortableContext items={palette.map((s) => s.id)} strategy={rectSortingStrategy}>
          <div className="swatches">
            {palette.map((s) => (
              <SwatchButton
                key={s.id}
                swatch={s}
                on={s.id === swatch?.id}
                onTake={() => {
                  setChosen(s.id);
                  useUi.setState({ color: s.color });
                  onTake?.(s.color);
                }}
              />
            ))}
          </div>
        </SortableContext>
      </DndContext>
      <div className="palette-row">
        {swatch ? (
          <>
            <input
              className="swatch-name"
              key={swatch.id}
              defaultValue={swatch.name}
              placeholder="name"
              aria-label="Name of the chosen colour"
              onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
              onBlur={(e) => {
                const name = e.target.value.trim().slice(0, 60);
                if (name === swatch.name) return;
                void session.command({ do: 'patch-swatch', swatch: swatch.id, patch: { name } });
              }}
            />
            <Chip
              title="Take the chosen colour out of the palette"
              onClick={() => {
                void session
                  .command({ do: 'remove-swatches', swatches: [swatch.id] })
                  .then(undoable(session, `“${swatch.name || swatch.color}” was taken out.`));
              }}
            >
              Remove
            </Chip>
          </>
        ) : (
          <Chip
            title="Put the colour in hand into the palette"
            onClick={() => void session.command({ do: 'add-swatches', swatches: [{ name: '', color }] })}
          >
            Add {color}
          </Chip>
        )}
      </div>
    </section>
  );
}

function SwatchButton({
  swatch,
  on,
  onTake,
}: {
  readonly swatch: Swatch;
  readonly on: boolean;
  readonly onTake: () => void;
}) {
  const { attributes, listeners, setNodeRef, transform, transition } = useSortable({ id: swatch.id });
  return (
    <button
      ref={setNodeRef}
      type="button"
      className={on ? 'swatch on' : 'swatch'}
      style={{ background: swatch.color, transform: CSS.Translate.toString(transform), transition }}
      title={swatch.name ? `${swatch.name} ${swatch.color}` : swatch.color}
      {...attributes}
      {...listeners}
      aria-label={swatch.name || swatch.color}
      aria-pressed={on}
      onClick={onTake}
    />
  );
}
