import { Chip } from '../../shared/Chip';
import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { CaretDownIcon } from '@phosphor-icons/react/dist/csr/CaretDown';
import { CaretRightIcon } from '@phosphor-icons/react/dist/csr/CaretRight';
import { EyeIcon } from '@phosphor-icons/react/dist/csr/Eye';
import { EyeSlashIcon } from '@phosphor-icons/react/dist/csr/EyeSlash';
import { LockSimpleIcon } from '@phosphor-icons/react/dist/csr/LockSimple';
import { memo, useEffect, type KeyboardEvent, type MouseEvent } from 'react';
import { cueKey } from '../../../core/cues';
import { cuesOfMask } from '../../../core/layers';
import type { LayerNode } from '../../../core/document';
import { type Session, useProject } from '../../project';
import { useUi } from '../../shared/ui-store';
import { openMenu } from '../../shared/context-menu';
import { LAYER_ENTRIES } from './layer-menu';
import { alsoChoose, choose, moveChosen, removeChosen } from './layer-actions';
import { LayerSign } from './LayerSign';
import { describeNode, namesIn } from './layer-words';

interface Props {
  readonly session: Session;
  readonly node: LayerNode;
  /** Pixels from the left. */
  readonly indent: number;
}

/** One layer or group of the build-up. */
export const LayerRow = memo(function LayerRow({ session, node, indent }: Props) {
  const selected = useUi((s) => s.target?.layer === node.id);
  const also = useUi((s) => s.alsoChosen.has(node.id));
  const folded = useUi((s) => s.folded.has(node.id));
  const editsMask = useUi((s) => s.target?.channel === 'mask' && s.target.layer === node.id);
  const keys = cuesOfMask(node.mask).map(cueKey);
  const missing = useProject((s) => s.missingCues.some((c) => keys.includes(cueKey(c))));
  const stopped = useProject((s) => keys.some((key) => s.stoppedCues.has(key)));
  const renaming = useUi((s) => s.renaming?.of === 'layer' && s.renaming.id === node.id);
  const setRenaming = (on: boolean): void =>
    useUi.setState({ renaming: on ? { of: 'layer', id: node.id } : null });
  const {
    attributes,
    listeners,
    node: row,
    setNodeRef,
    transform,
    transition,
    isDragging,
  } = useSortable({
    id: node.id,
    disabled: renaming,
  });
  useEffect(() => {
    if (selected) row.current?.scrollIntoView({ block: 'nearest' });
  }, [selected, row]);
  const words = useProject((s) => describeNode(node, namesIn(s.document)));
  const rename = (name: string): void => {
    setRenaming(false);
    const clean = name.trim().slice(0, 80);
    if (clean && clean !== node.name)
      void session.command({ do: 'patch-layer', layer: node.id, patch: { name: clean } });
  };
  const fold = (): void =>
    useUi.setState((s) => {
      const next = new Set(s.folded);
      if (!next.delete(node.id)) next.add(node.id);
      return { folded: next };
    });
  const onClick = (e: MouseEvent): void => {
    if (e.shiftKey || e.ctrlKey || e.metaKey) alsoChoose(node.id);
    else choose(node.id);
  };
  const onKeyDown = (e: KeyboardEvent): void => {
    if (renaming) return;
    const act = ((): (() => void) | undefined => {
      if (e.key === 'Enter') return () => choose(node.id);
      if (e.key === ' ' && (e.shiftKey || e.ctrlKey)) return () => alsoChoose(node.id);
      if (e.key === 'F2') return () => setRenaming(true);
      if (e.key === 'Delete') return () => (choose(node.id), removeChosen(session));
      if (e.altKey && (e.key === 'ArrowUp' || e.key === 'ArrowDown'))
        return () => (choose(node.id), moveChosen(session, e.key === 'ArrowUp' ? 1 : -1));
      if (node.kind === 'group' && (e.key === 'ArrowLeft' || e.key === 'ArrowRight')) {
        return () => void ((e.key === 'ArrowLeft') !== folded && fold());
      }
      return undefined;
    })();
    if (!act) {
      listeners?.['onKeyDown']?.(e);
      return;
    }
    act();
    // The page's own keys do the same for the chosen layer: once is enough.
    e.preventDefault();
    e.stopPropagation();
  };
  const marks = [
    'layer',
    ...(selected ? ['on'] : []),
    ...(also ? ['also'] : []),
    ...(node.visible ? [] : ['off']),
    ...(node.clip ? ['clipped'] : []),
    ...(node.kind === 'group' ? ['group'] : []),
    ...(isDragging ? ['dragged'] : []),
  ];
  return (
    <li
      ref={setNodeRef}
      className={marks.join(' ')}
      style={{ transform: CSS.Translate.toString(transform), transition, paddingLeft: indent }}
    >
      {node.kind === 'group' && (
        <button
          type="button"
          className="fold layer-sign"
          aria-expanded={!folded}
          aria-label={folded ? `Open ${node.name}` : `Fold ${node.name}`}
          onClick={fold}
        >
          {folded ? <CaretRightIcon size={13} /> : <CaretDownIcon size={13} />}
        </button>
      )}
      <div
        className="layer-body"
        {...attributes}
        {...listeners}
        // It can't be dragged while its name is typed; what is in it can be used all the same.
        aria-disabled={undefined}
        aria-label={`${node.name}, ${words}${node.clip ? ', clipped to the layer under it' : ''}`}
        aria-pressed={selected || also}
        onClick={onClick}
        onContextMenu={(e) => {
          e.preventDefault();
          if (!selected && !also) choose(node.id);
          openMenu({ x: e.clientX, y: e.clientY, title: node.name, entries: LAYER_ENTRIES });
        }}
        onDoubleClick={() => setRenaming(true)}
        onKeyDown={onKeyDown}
      >
        {node.kind !== 'group' && <LayerSign node={node} />}
        <span className="layer-text">
          {renaming ? (
            <input
              autoFocus
              defaultValue={node.name}
              aria-label="Name of the layer"
              onFocus={(e) => e.target.select()}
              onBlur={(e) => rename(e.target.value)}
              onPointerDown={(e) => e.stopPropagation()}
              onKeyDown={(e) => {
                e.stopPropagation();
                if (e.key === 'Escape') e.currentTarget.value = node.name;
                else if (e.key !== 'Enter') return;
                // The focus goes back to the row whose name it was; leaving the field renames.
                e.currentTarget.closest<HTMLElement>('.layer-body')?.focus();
              }}
            />
          ) : (
            <b>{node.name}</b>
          )}
          <small>
            {editsMask
              ? 'painting on its mask'
              : stopped
                ? 'not measured'
                : missing
                  ? 'being measured…'
                  : words}
          </small>
        </span>
        <span className="layer-opacity">
          {node.lock !== 'none' && <LockSimpleIcon size={12} aria-label="locked" />}
          {Math.round(node.opacity * 100)}
        </span>
      </div>
      {stopped && <Chip onClick={() => session.resumeCues()}>Measure</Chip>}
      <button
        type="button"
        className="eye"
        aria-pressed={node.visible}
        aria-label={node.visible ? `Hide ${node.name}` : `Show ${node.name}`}
        title={node.visible ? 'Hide' : 'Show'}
        onClick={() =>
          void session.command({ do: 'patch-layer', layer: node.id, patch: { visible: !node.visible } })
        }
      >
        {node.visible ? <EyeIcon size={15} /> : <EyeSlashIcon size={15} />}
      </button>
    </li>
  );
});
