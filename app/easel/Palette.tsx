import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  arrayMove,
  rectSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { useState } from 'react';
import type { Swatch } from '../../core/engine';
import { Chip } from '../shared/Chip';
import { notify } from '../shared/notify';
import { useProject } from '../shared/project-store';
import type { Session } from '../shared/session';
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
  const nextId = useProject((s) => s.document?.nextId) ?? 0;
  const color = useUi((s) => s.color);
  const [chosen, setChosen] = useState<number | null>(null);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 5 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const set = (next: readonly Swatch[]): void => session.command({ do: 'set-palette', palette: [...next] });
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
          const from = palette.findIndex((s) => s.id === active.id);
          const to = palette.findIndex((s) => s.id === over.id);
          set(arrayMove([...palette], from, to));
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
                if (name !== swatch.name) set(palette.map((s) => (s.id === swatch.id ? { ...s, name } : s)));
              }}
            />
            <Chip
              title="Take the chosen colour out of the palette"
              onClick={() => {
                set(palette.filter((s) => s.id !== swatch.id));
                notify(`“${swatch.name || swatch.color}” was taken out.`, {
                  label: 'Undo',
                  run: () => session.undo(),
                });
              }}
            >
              Remove
            </Chip>
          </>
        ) : (
          <Chip
            title="Put the colour in hand into the palette"
            onClick={() => set([...palette, { id: nextId, name: '', color }])}
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
