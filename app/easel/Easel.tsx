import './easel.css';
import { useEffect } from 'react';
import { compareColors, hexToRgb } from '../../core/color';
import { type Session, useProject } from '../project';
import { useUi, useHover } from '../shared/ui-store';
import { Board } from './Board';
import { bringPictures } from './bring-pictures';
import { ColorSliders } from './ColorSliders';
import { Palette } from './Palette';
import { ReferenceControls, useChosenReference } from './ReferenceControls';

/** Reference and palette, always in sight. */
export function Easel({
  session,
  hideReference = false,
  onTake,
}: {
  readonly session: Session;
  readonly hideReference?: boolean;
  readonly onTake?: ((color: string) => void) | undefined;
}) {
  const count = useProject((s) => s.document?.references.length) ?? 0;
  const { reference, index } = useChosenReference();
  const arranges = useUi((s) => s.arrangesBoard);

  useEffect(() => {
    const paste = (e: ClipboardEvent): void => {
      const files = [...(e.clipboardData?.files ?? [])].filter((f) => f.type.startsWith('image/'));
      if (files.length) void bringPictures(session, files);
    };
    window.addEventListener('paste', paste);
    return () => window.removeEventListener('paste', paste);
  }, [session]);

  return (
    <aside
      className="easel"
      aria-label="Easel"
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        void bringPictures(session, [...e.dataTransfer.files]);
      }}
    >
      <h2>
        Easel <span>{reference ? `${reference.name} · ${index + 1} of ${count}` : 'no reference yet'}</span>
      </h2>
      {!hideReference && <Board session={session} arranges={arranges} onTake={onTake} />}
      <ReferenceControls session={session} />
      <Palette session={session} onTake={onTake} />
      <ColorSliders />
      <UnderPointer />
    </aside>
  );
}

/** How the colour under the pointer differs from the one in hand, in words. */
function UnderPointer() {
  const under = useHover((s) => s.under);
  const color = useUi((s) => s.color);
  if (!under) return <p className="say">Point at the model to compare its colour with the one in hand.</p>;
  const { deltaE, words } = compareColors(under, hexToRgb(color));
  return (
    <p className="say">
      {deltaE.toFixed(1)} ΔE from the colour in hand: {words}.
    </p>
  );
}
