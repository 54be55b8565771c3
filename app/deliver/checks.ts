import {
  bleedNeeded,
  deliveredSize,
  USUAL_CHECK,
  type Check,
  type CheckFinding,
  type CheckHow,
  type DeliverySettings,
} from '../../core/delivery';
import { PLAIN_LEVELS } from '../../core/layers';
import type { NewLayer } from '../../core/commands';
import { CoreError, sentenceOf } from '../../core/errors';
import { seatedNow, useCheckView, useProject, type Session } from '../project';
import { useLayout } from '../shared/layout-store';
import { notify } from '../shared/notify';
import { deliverPool } from '../shared/platform';
import { withTask } from '../shared/tasks';
import { allMeasured } from './all-measured';
import { setDelivery, useDelivery } from './delivery-settings';
import { exportMaker } from './make-exports';

const howNow = ({ check, format, halving }: DeliverySettings): CheckHow => ({
  ...USUAL_CHECK,
  mips: check.mips,
  limit: check.limit,
  range: [check.low, Math.max(check.low + 1, check.high)],
  gameSize: check.gameSize,
  format,
  halving,
});

/** Looks at what would leave, as it is set. */
export async function checkNow(session: Session): Promise<void> {
  const { document, mesh, strokes } = useProject.getState();
  if (!document || !mesh) return;
  const { settings } = useDelivery.getState();
  try {
    const report = await withTask('Checking what would leave', async (signal, onProgress) => {
      await allMeasured(signal);
      const maker = exportMaker(session, document, { signal, onProgress });
      const sheets = [];
      for (const sheet of document.sheets.keys()) sheets.push(await maker.toFinish(sheet));
      const { alpha } = settings;
      const seated = seatedNow();
      const ramps = document.ramps && seated ? { ramps: document.ramps, seated } : undefined;
      const asked = { mesh, sheets, alpha, how: howNow(settings), settings, ramps };
      return deliverPool.run('check', asked, { signal, onProgress });
    });
    // Another project may be open by now.
    if (useProject.getState().mesh === mesh)
      useCheckView.setState({ checked: { report, document, strokes, isOld: false } });
  } catch (error) {
    if (!(error instanceof CoreError && error.code === 'cancelled')) notify(sentenceOf(error));
  }
}

/** What mends a finding by one click. */
export interface Mend {
  readonly label: string;
  readonly title: string;
  /** Whether it was done here, so that it can be looked at again at once. */
  readonly run: (session: Session, runCommand: (id: string) => void) => Promise<boolean> | boolean;
}

const bleedAll: Mend = {
  label: 'Bleed everywhere',
  title: 'Colour reaches over the whole sheet',
  run: () => {
    setDelivery({ bleed: null });
    return true;
  },
};

/** Islands are packed anew with the margin that the mips need; paint goes along. */
const packFarther = (sheet: number): Mend => ({
  label: 'Pack farther apart',
  title:
    'Packs the islands anew with the margin that the mips need; paint goes along, and it is one step to undo',
  run: (_session, runCommand) => {
    const { settings } = useDelivery.getState();
    const { document } = useProject.getState();
    if (!document) return false;
    // What is delivered smaller needs more of the sheet's own texels.
    const scale = document.sheets[sheet]!.size / deliveredSize(document.sheets, settings, sheet);
    const margin = Math.ceil(2 * bleedNeeded(settings.check.mips) * scale);
    useLayout.setState({ margin: Math.min(MOST_MARGIN, margin) });
    runCommand('pack-even');
    return false;
  },
});

/** As much as the Unwrap stage lets one type. */
const MOST_MARGIN = 128;

const layUnder: Mend = {
  label: 'Lay grey under it',
  title: 'A layer of one colour under everything, to be recoloured part by part',
  run: async (session) => {
    const layer: NewLayer = { kind: 'local', name: 'Under everything', colors: [], fallback: '#8c8680' };
    return (await session.command({ do: 'add-layer', layer, into: null, at: 0 })) !== null;
  },
};

const dither: Mend = {
  label: 'Deliver dithered',
  title: 'Made from 16 bit, with what lies between two values spread as a fine grain',
  run: () => {
    setDelivery({ format: 'png-dithered' });
    return true;
  },
};

const within: Mend = {
  label: 'Move within',
  title: 'A change layer over everything that moves dark and light into the range',
  run: async (session) => {
    const { check } = useDelivery.getState().settings;
    const layer = {
      kind: 'adjust',
      name: 'Within the range',
      change: {
        by: 'levels',
        low: 0,
        high: 1,
        gamma: 1,
        outLow: encodedOf(check.low),
        outHigh: encodedOf(check.high),
      },
    } as const;
    const at = useProject.getState().document?.layers.length ?? 0;
    return (await session.command({ do: 'add-layer', layer, into: null, at })) !== null;
  },
};

/** sRGB-encoded grey of a lightness L*: the eye's and the code's curves are near enough for a limit (both about a power of 2.3). */
const encodedOf = (lightness: number): number => Math.min(1, Math.max(0, lightness / 100));

/** All of it between the two ends of its ramp. */
const fitToRamp = (seat: number): Mend => ({
  label: 'Fit to the ramp',
  title: 'Its run begins and ends where the ramp does; rings that were slid go back',
  run: async (session) => {
    const patch = { from: 0, to: 1, rings: [] };
    return (await session.command({ do: 'patch-seat', seat, patch })) !== null;
  },
});

/** A change layer over one part alone. */
const moveInValue = ({ part, lightness }: NonNullable<CheckFinding['move']>): Mend => ({
  label: lightness < 0 ? `Darken “${part}”` : `Lighten “${part}”`,
  title: 'A change layer over that part alone; how much is set there',
  run: async (session) => {
    const layer: NewLayer = {
      kind: 'adjust',
      name: `${part} apart in value`.slice(0, 80),
      mask: [{ from: 'parts', join: 'multiply', levels: PLAIN_LEVELS, invert: false, parts: [part] }],
      change: { by: 'oklch', hue: 0, chroma: 1, lightness },
    };
    const at = useProject.getState().document?.layers.length ?? 0;
    return (await session.command({ do: 'add-layer', layer, into: null, at })) !== null;
  },
});

const finer: Mend = {
  label: 'Finer',
  title: 'A finer quality of the same format',
  run: () => {
    const { format, effort, quality } = useDelivery.getState().settings;
    if (format === 'ktx2') setDelivery(effort === 'fast' ? { effort: 'fine' } : { format: 'webp' });
    else setDelivery(quality < 95 ? { quality: 95 } : { format: 'webp' });
    return true;
  },
};

const goTo = (label: string, title: string, command: string): Mend => ({
  label,
  title,
  run: (_session, runCommand) => {
    runCommand(command);
    return false;
  },
});

/** What mends a finding; null where only the hand can. */
export function mendOf({ check, sheet, seat, move }: CheckFinding, settings: DeliverySettings): Mend | null {
  const mends: Readonly<Record<Check, Mend | null>> = {
    seams: settings.bleed === null ? packFarther(sheet) : bleedAll,
    bleed: bleedAll,
    gap: packFarther(sheet),
    unpainted: layUnder,
    stacked: goTo(
      'Lay out anew',
      'Cuts and lays out the model anew, each island at a place of its own; paint goes along',
      'lay-out',
    ),
    density: goTo('Even out', 'Packs the islands with the same texels a unit', 'pack-even'),
    ramps: seat === undefined ? null : fitToRamp(seat),
    range: within,
    banding: dither,
    merging: move ? moveInValue(move) : null,
    compression: finer,
  };
  return mends[check];
}
