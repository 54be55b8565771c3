import { useEffect } from 'react';
import { compareColors, hexToRgb } from '../../core/color';
import { sentenceOf } from '../../core/errors';
import { Chip } from '../shared/Chip';
import { chooseFiles } from '../shared/files';
import { notify, undoable } from '../shared/notify';
import { type Session, useProject } from '../project';
import { useUi } from '../shared/ui-store';
import { ColorSliders } from './ColorSliders';
import { Palette } from './Palette';
import { addReference } from './reference-pictures';
import { ReferenceView } from './ReferenceView';

const PICTURES = 'image/png,image/jpeg,image/webp';

async function bring(session: Session, files: readonly File[]): Promise<void> {
  for (const file of files) {
    try {
      const reference = await addReference(session, file);
      if (reference !== null) useUi.setState({ reference });
    } catch (error) {
      notify(sentenceOf(error));
    }
  }
}

/** Reference and palette, always in sight. */
export function Easel({
  session,
  hideReference = false,
  onTake,
}: {
  readonly session: Session;
  readonly hideReference?: boolean;
  readonly onTake?: (color: string) => void;
}) {
  const references = useProject((s) => s.document?.references) ?? [];
  const chosen = useUi((s) => s.reference);
  const index = Math.max(
    0,
    references.findIndex((r) => r.id === chosen),
  );
  const reference = references[index];

  useEffect(() => {
    const paste = (e: ClipboardEvent): void => {
      const files = [...(e.clipboardData?.files ?? [])].filter((f) => f.type.startsWith('image/'));
      if (files.length) void bring(session, files);
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
        void bring(session, [...e.dataTransfer.files]);
      }}
    >
      <h2>
        Easel{' '}
        <span>
          {reference ? `${reference.name} · ${index + 1} of ${references.length}` : 'no reference yet'}
        </span>
      </h2>
      {!hideReference && <ReferenceView project={session.project} />}
      <ReferenceControls session={session} index={index} />
      <Palette session={session} {...(onTake ? { onTake } : {})} />
      <ColorSliders />
      <UnderPointer />
    </aside>
  );
}

function ReferenceControls({ session, index }: { readonly session: Session; readonly index: number }) {
  const references = useProject((s) => s.document?.references) ?? [];
  const grey = useUi((s) => s.referenceGrey);
  const pickSize = useUi((s) => s.pickSize);
  const reference = references[index];
  const step = (by: number): void =>
    useUi.setState({ reference: references[(index + by + references.length) % references.length]!.id });
  return (
    <div className="row">
      <Chip
        on={grey}
        title="Show only the values of the reference"
        onClick={() => useUi.setState({ referenceGrey: !grey })}
      >
        Values
      </Chip>
      <Chip
        title="A click on the reference takes the mean colour of this many pixels across"
        onClick={() => useUi.setState({ pickSize: pickSize === 1 ? 5 : pickSize === 5 ? 15 : 1 })}
      >
        Pick ∅ {pickSize}
      </Chip>
      {references.length > 1 && (
        <Chip title="Next reference" onClick={() => step(1)}>
          Next
        </Chip>
      )}
      <Chip
        title="Bring a reference picture"
        onClick={() => void chooseFiles(PICTURES, true).then((files) => bring(session, files))}
      >
        Bring…
      </Chip>
      {reference && (
        <Chip
          title="Take this picture off the easel"
          onClick={() => {
            void session
              .command({ do: 'remove-reference', reference: reference.id })
              .then(undoable(session, `“${reference.name}” was taken off the easel.`));
          }}
        >
          Take off
        </Chip>
      )}
    </div>
  );
}

/** How the colour under the pointer differs from the one in hand, in words. */
function UnderPointer() {
  const under = useUi((s) => s.under);
  const color = useUi((s) => s.color);
  if (!under) return <p className="say">Point at the model to compare its colour with the one in hand.</p>;
  const { deltaE, words } = compareColors(under, hexToRgb(color));
  return (
    <p className="say">
      {deltaE.toFixed(1)} ΔE from the colour in hand: {words}.
    </p>
  );
}
