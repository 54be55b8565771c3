import { useState } from 'react';
import { Form } from 'react-bootstrap';
import { create } from 'zustand';
import { plainName } from '../../../core/delivery';
import { CoreError, sentenceOf } from '../../../core/errors';
import type { EngineScene } from '../../engine-view';
import { useProject, type Session } from '../../project';
import { ChoiceField } from '../../shared/ChoiceField';
import { download } from '../../shared/files';
import { FormDialog } from '../../shared/FormDialog';
import { notify } from '../../shared/notify';
import { withTask } from '../../shared/tasks';
import { useUi } from '../../shared/ui-store';
import { useEngineView } from './engine-store';
import { canFilm, makeTurntable, type TurnFormat, type TurnHow } from './turntable';

/** How the last turntable was made. */
const useTurn = create<TurnHow>(() => ({
  format: 'apng',
  frames: 36,
  side: 480,
  seconds: 4,
  withReference: false,
  withPalette: false,
}));

const FORMATS: readonly (readonly [TurnFormat, string])[] = [
  ['apng', 'Animated PNG'],
  ['webm', 'WebM'],
  ['png', 'Single PNGs'],
];

const ENDINGS: Readonly<Record<string, string>> = {
  png: 'image/apng',
  webm: 'video/webm',
  zip: 'application/zip',
};

/** Asks how a turntable shall be, and makes it. */
export function TurntableDialog({
  session,
  scene,
  onClose,
}: {
  readonly session: Session;
  readonly scene: EngineScene;
  onClose(): void;
}) {
  const how = useTurn();
  const { document } = useProject();
  const reference = useUi((s) => s.reference) ?? document?.references[0]?.id ?? null;
  const [isBusy, setBusy] = useState(false);
  const make = async (): Promise<void> => {
    if (!document) return;
    setBusy(true);
    try {
      const [name, bytes] = await withTask('Turning the model', async (signal, onProgress) => {
        const file = how.withReference && reference !== null ? await session.file(reference) : null;
        const picture = file ? await createImageBitmap(new Blob([file as BlobPart])) : null;
        const beside = {
          ground: useEngineView.getState().ground,
          reference: picture,
          palette: document.palette.map((s) => s.color),
        };
        return makeTurntable(scene, `${plainName(document.name) || 'model'}-turntable`, how, beside, {
          signal,
          onProgress,
        });
      });
      download(name, bytes, ENDINGS[name.split('.').at(-1)!] ?? '');
      onClose();
    } catch (error) {
      const isStopped = error instanceof DOMException && error.name === 'AbortError';
      if (!isStopped && !(error instanceof CoreError && error.code === 'cancelled'))
        notify(sentenceOf(error));
      setBusy(false);
    }
  };
  const set = (patch: Partial<TurnHow>): void => useTurn.setState(patch);
  return (
    <FormDialog
      title="Turntable"
      submit="Make it"
      busy={isBusy}
      disabled={isBusy}
      onSubmit={() => void make()}
      onClose={onClose}
    >
      <p className="hint-line">The delivered model, turned once about its height, as this view shows it.</p>
      <ChoiceField
        label="Format"
        value={how.format}
        choices={FORMATS.filter(([format]) => format !== 'webm' || canFilm())}
        onChange={(format) => set({ format })}
      />
      <ChoiceField
        label="Pictures"
        value={how.frames}
        choices={[12, 24, 36, 72, 120].map((n) => [n, String(n)] as const)}
        onChange={(frames) => set({ frames })}
      />
      <ChoiceField
        label="Size"
        value={how.side}
        choices={[256, 480, 720, 1080].map((n) => [n, `${n} pixels`] as const)}
        onChange={(side) => set({ side })}
      />
      <ChoiceField
        label="A turn"
        value={how.seconds}
        choices={[2, 4, 6, 10].map((n) => [n, `${n} seconds`] as const)}
        onChange={(seconds) => set({ seconds })}
      />
      <Form.Check
        type="checkbox"
        id="turn-reference"
        label="The reference beside it"
        checked={how.withReference && reference !== null}
        disabled={reference === null}
        onChange={(e) => set({ withReference: e.target.checked })}
      />
      <Form.Check
        type="checkbox"
        id="turn-palette"
        label="The palette under it"
        checked={how.withPalette}
        disabled={!document?.palette.length}
        onChange={(e) => set({ withPalette: e.target.checked })}
      />
    </FormDialog>
  );
}
