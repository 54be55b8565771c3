import { useState } from 'react';
import { CoreError, sentenceOf } from '../../core/errors';
import type { AssetSet } from '../../core/set';
import { ChoiceField } from '../shared/ChoiceField';
import { download, fileNameOf } from '../shared/files';
import { FormDialog } from '../shared/FormDialog';
import { notify } from '../shared/notify';
import { deliverPool, setPool } from '../shared/platform';
import { withTask } from '../shared/tasks';
import type { Member } from './use-seen';

const SIZES = [256, 512, 1024, 2048, 4096].map((n) => [n, `${n} × ${n}`] as const);
const MARGINS = [4, 8, 12, 24, 48].map((n) => [n, `${n} texels`] as const);
/** How many times denser one lies than the others; 0: it is left out. */
const WEIGHTS = [
  [0, 'left out'],
  [0.5, 'half as dense'],
  [1, 'as dense'],
  [2, 'twice as dense'],
  [4, 'four times'],
] as const;

/** Packs the projects of a set onto one sheet. */
export function AtlasDialog({
  set,
  members,
  onClose,
}: {
  readonly set: AssetSet;
  readonly members: readonly Member[];
  onClose(): void;
}) {
  const [size, setSize] = useState(2048);
  const [margin, setMargin] = useState(12);
  const [weights, setWeights] = useState<ReadonlyMap<string, number>>(new Map());
  const [isBusy, setBusy] = useState(false);
  const weightOf = (id: string): number => weights.get(id) ?? 1;
  const chosen = members.filter((m) => m.seen && weightOf(m.id) > 0);
  const make = async (): Promise<void> => {
    setBusy(true);
    try {
      await withTask('Packing the atlas', async (signal, onProgress) => {
        const projects = chosen.map((m) => m.id);
        const asked = {
          projects,
          name: set.name,
          size,
          margin,
          weights: projects.map(weightOf),
          scales: chosen.map((m) => m.scale),
        };
        const { glb, png, fills } = await setPool.run('atlas', asked, { signal, onProgress });
        const name = `${fileNameOf(set.name)}-atlas`;
        const report = `${JSON.stringify({ size, margin, members: fills }, null, 2)}\n`;
        const files = [
          [`${name}.glb`, glb],
          [`${name}.png`, png],
          [`${name}.json`, report],
        ] as const;
        const zip = await deliverPool.run('zip', { files }, { signal });
        download(`${name}.zip`, zip, 'application/zip');
        const full = fills.reduce((sum, { fill }) => sum + fill, 0);
        notify(`${fills.length} projects cover ${Math.round(full * 100)} % of one sheet.`);
      });
      onClose();
    } catch (error) {
      if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
      setBusy(false);
    }
  };
  return (
    <FormDialog
      title={`“${set.name}” on one sheet`}
      submit={`Pack ${chosen.length}`}
      disabled={isBusy || chosen.length === 0}
      busy={isBusy}
      onSubmit={() => void make()}
      onClose={onClose}
    >
      <p className="hint-line">
        One model and one albedo, with the same texels a length for all but what you weigh otherwise. The
        projects stay as they are.
      </p>
      <ChoiceField label="Sheet" value={size} choices={SIZES} onChange={setSize} />
      <ChoiceField label="Margin" value={margin} choices={MARGINS} onChange={setMargin} />
      {members.map(({ id, name }) => (
        <ChoiceField
          key={id}
          label={name}
          value={weightOf(id)}
          choices={WEIGHTS}
          onChange={(weight) => setWeights(new Map(weights).set(id, weight))}
        />
      ))}
    </FormDialog>
  );
}
