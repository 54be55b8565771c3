import { type Session, useActiveSheet, useForm } from '../project';
import { Chip } from '../shared/Chip';
import { useCommandBook, useTip } from '../shared/commands';
import { useLayout } from '../shared/layout-store';
import { ArrangeChips } from './ArrangeChips';
import { ArrangeSection } from './ArrangeSection';
import { IslandTable } from './IslandTable';
import { TwinSection } from './TwinSection';
import { useLayoutMeasures, type MeasuredLayout } from './use-layout-measures';

const NONE: MeasuredLayout['islands'] = [];

/** Every island, and what can be done to those that are chosen. */
export function IslandSection({ session }: { readonly session: Session }) {
  const mesh = useForm();
  const sheet = useActiveSheet();
  const someChosen = useLayout((s) => s.chosen.size > 0);
  const measured = useLayoutMeasures(mesh, sheet);
  const { run } = useCommandBook();
  const tip = useTip();
  if (!mesh || !sheet) return null;
  const islands = measured?.islands ?? NONE;
  return (
    <>
      <ArrangeSection session={session} mesh={mesh} size={sheet.size} />
      <h2>
        Islands <span>{islands.length}</span>
      </h2>
      <div className="row" role="group" aria-label="How islands are arranged">
        <ArrangeChips />
      </div>
      <div className="row">
        <Chip
          primary
          title={tip('All at the same density, beside one another', 'pack-even')}
          onClick={() => run('pack-even')}
        >
          Pack evenly
        </Chip>
        <Chip title={tip('Islands keep their size beside one another', 'pack')} onClick={() => run('pack')}>
          Pack as they are
        </Chip>
        {!someChosen && (
          <>
            <Chip
              title={tip('Borders along rows and columns onto whole texels', 'islands-borders')}
              onClick={() => run('islands-borders')}
            >
              Crisp borders
            </Chip>
            <Chip
              title={tip('Every island is tilted a little, as if cut by hand', 'islands-slant')}
              onClick={() => run('islands-slant')}
            >
              Hand slant
            </Chip>
          </>
        )}
        {!someChosen && (
          <Chip
            title="Every mirrored twin onto the other: both sides show the same texels"
            onClick={() => run('islands-twins')}
          >
            Stack twins
          </Chip>
        )}
      </div>
      <TwinSection session={session} />
      <IslandTable mesh={mesh} islands={islands} />
    </>
  );
}
