import { DETAILS, type LayerNode } from '../../../core/document';
import { kindOf, LOCKS, type Lock } from '../../../core/layers';
import type { NodePatch } from '../../../core/commands';
import { lazy, Suspense } from 'react';
import { Form } from 'react-bootstrap';
import { Chip } from '../../shared/Chip';
import { ChoiceField } from '../../shared/ChoiceField';
import { TWIN_CHOICES, TWIN_TITLE } from '../../shared/twin-words';
import { type Session, useProject } from '../../project';
import { DETAIL_WORDS } from '../../shared/detail-words';
import { ShareSlider } from '../../shared/Slider';
import { toggleShown, useUi } from '../../shared/ui-store';
import { AdjustControls } from './AdjustControls';
import { BlendChoice } from './BlendChoice';
import { BrushworkFields } from '../strokes/BrushworkFields';
import { DecalFields } from './DecalFields';
import { InkFields } from '../ink/InkFields';
import { LocalControls } from './LocalControls';
import { MaskSection } from './MaskSection';
import { PatternFields } from './PatternFields';
import { StrokeList } from '../strokes/StrokeList';
import { ToneControls } from './ToneControls';
import { WashControls } from './WashControls';

/** The longest of them, fetched when it is first needed. */
const LightControls = lazy(() => import('./LightControls').then((m) => ({ default: m.LightControls })));

const LOCK_WORDS: Record<Lock, string> = {
  none: 'nothing locked',
  transparent: 'transparency locked',
  pixels: 'pixels locked',
};

type Derived = Extract<LayerNode, { strokes?: unknown }>;

const isDerived = (node: LayerNode): node is Derived =>
  node.kind !== 'group' && node.kind !== 'ink' && kindOf(node).form === 'derived';

/** Everything that can be set on the chosen layer. */
export function LayerInspector({ session, node }: { readonly session: Session; readonly node: LayerNode }) {
  const isAlone = useUi((s) => s.shown.of === 'layer' && s.shown.layer === node.id);
  const hasTwins = useProject((s) => s.surface?.twinOf.some((first, side) => first !== side) ?? false);
  const isRoot = useProject((s) => s.document?.layers.some((n) => n.id === node.id) ?? false);
  const change = (patch: NodePatch, gesture: string | null = null): void =>
    void session.command({ do: 'patch-layer', layer: node.id, patch }, gesture);
  return (
    <section className="inspector" aria-label={`Settings of ${node.name}`}>
      <h2>{node.name}</h2>
      <ShareSlider label="Opacity" value={node.opacity} onChange={(opacity, g) => change({ opacity }, g)} />
      <div className="row">
        <BlendChoice session={session} node={node} />
        <Chip
          on={node.clip}
          title="Clip: keep to where the layer under it has paint (K)"
          onClick={() => change({ clip: !node.clip })}
        >
          Clip
        </Chip>
        <Chip on={isAlone} title="See this layer alone (A)" onClick={() => toggleShown('layer', node.id)}>
          Alone
        </Chip>
      </div>
      {node.kind === 'group' && (
        <Chip
          on={node.isolated}
          title="Its layers blend among themselves only, not with what lies below the group"
          onClick={() => change({ isolated: !node.isolated })}
        >
          Isolated
        </Chip>
      )}
      {node.kind === 'group' && isRoot && (
        <label className="field">
          Goes into
          <Form.Select
            size="sm"
            value={node.detail ?? ''}
            onChange={(e) => change({ detail: DETAILS.find((d) => d === e.target.value) ?? null })}
          >
            <option value="">the albedo</option>
            {DETAILS.map((detail) => (
              <option key={detail} value={detail}>
                the detail sheet: {DETAIL_WORDS[detail][0].toLowerCase()}
              </option>
            ))}
          </Form.Select>
        </label>
      )}
      {node.kind === 'group' && node.detail !== null && (
        <p className="hint-line">
          {DETAIL_WORDS[node.detail][0]}: {DETAIL_WORDS[node.detail][1]}. Greys count; the toon view shows
          what they do.
        </p>
      )}
      {node.kind === 'paint' && (
        <Form.Select
          size="sm"
          className="lock"
          aria-label="Lock"
          value={node.lock}
          onChange={(e) => change({ lock: e.target.value as Lock })}
        >
          {LOCKS.map((lock) => (
            <option key={lock} value={lock}>
              {LOCK_WORDS[lock]}
            </option>
          ))}
        </Form.Select>
      )}
      {node.kind === 'wash' && <WashControls node={node} change={change} />}
      {node.kind === 'light' && (
        <Suspense fallback={null}>
          <LightControls session={session} node={node} />
        </Suspense>
      )}
      {node.kind === 'pattern' && (
        <PatternFields session={session} tiled={node.tiled} onChange={(tiled, g) => change({ tiled }, g)} />
      )}
      {node.kind === 'decal' && (
        <DecalFields session={session} decal={node.decal} onChange={(decal, g) => change({ decal }, g)} />
      )}
      {node.kind === 'ink' && <InkFields session={session} layer={node} />}
      {node.kind === 'tone' && <ToneControls node={node} change={change} />}
      {node.kind === 'adjust' && <AdjustControls node={node} change={change} />}
      {node.kind === 'local' && <LocalControls node={node} change={change} />}
      {isDerived(node) && (
        <BrushworkFields strokes={node.strokes ?? null} isWash={node.kind === 'wash'} change={change} />
      )}
      {hasTwins && (isDerived(node) || node.mask.length > 0) && (
        <ChoiceField
          label="Twins"
          title={TWIN_TITLE}
          value={node.twins ?? null}
          choices={[[null, 'project setting'], ...TWIN_CHOICES]}
          onChange={(twins) => change({ twins: twins ?? undefined })}
        />
      )}
      <StrokeList session={session} node={node} />
      <MaskSection key={node.id} session={session} node={node} />
    </section>
  );
}
