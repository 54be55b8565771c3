import { create } from 'zustand';
import {
  deliverySettings,
  USUAL_DELIVERY,
  type DeliverySettings,
  type ExportItem,
} from '../../core/delivery';
import { useCheckView, useProject } from '../project';
import { remember, remembered } from '../shared/remembered';

/** Where the browser keeps what was set last. */
const KEY = 'zanahoria-delivery';

interface Delivery {
  readonly settings: DeliverySettings;
  /** What the standard couldn't hold when a sheet's layers were written last, by the sheet. */
  readonly flattened: ReadonlyMap<number, readonly string[]>;
}

function lastSettings(): DeliverySettings {
  try {
    return ofNoProject(deliverySettings.parse(JSON.parse(remembered(KEY) ?? '{}')));
  } catch {
    return USUAL_DELIVERY;
  }
}

/** Settings without what only makes sense in the project that they were made in. */
const ofNoProject = (settings: DeliverySettings): DeliverySettings => ({ ...settings, normalsOf: null });

/** How the open project is delivered. The settings are those of the last delivery, of whichever project. */
export const useDelivery = create<Delivery>(() => ({
  settings: lastSettings(),
  flattened: new Map(),
}));

/** Changes settings and remembers them. */
export function setDelivery(patch: Partial<DeliverySettings>): void {
  const settings = { ...useDelivery.getState().settings, ...patch };
  useDelivery.setState({ settings });
  remember(KEY, JSON.stringify(settings));
  // What was checked is no longer what would leave.
  if (Object.keys(patch).some((key) => !UNCHECKED.has(key)))
    useCheckView.setState(({ checked }) => ({ checked: checked && { ...checked, isOld: true } }));
}

/** Settings that no check looks at. */
const UNCHECKED: ReadonlySet<string> = new Set(['names', 'parcels', 'outline', 'normalsOf', 'channels']);

/** Puts a parcel into the whole delivery, or takes it out. */
export function setExport(exportItem: ExportItem, isIn: boolean): void {
  const others = useDelivery.getState().settings.parcels.filter((p) => p !== exportItem);
  setDelivery({ parcels: isIn ? [...others, exportItem] : others });
}

// What belongs to a project goes when it is closed.
useProject.subscribe((now, before) => {
  if (!before.document || now.document) return;
  useDelivery.setState(({ settings }) => ({ settings: ofNoProject(settings), flattened: new Map() }));
  useCheckView.setState({ checked: null });
});
