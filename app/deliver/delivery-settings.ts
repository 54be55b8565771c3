import { create } from 'zustand';
import { deliverySettings, USUAL_DELIVERY, type DeliverySettings, type Parcel } from '../../core/delivery';
import { USUAL_CHANNELS, type DetailChannels, type ProjectDocument } from '../../core/engine';
import { useCheckView, useProject } from '../project';
import { remember, remembered } from '../shared/remembered';

/** Where the browser keeps what was set last. */
const KEY = 'zanahoria-delivery';

/** Every sheet at the size that it has. */
export const OWN_SIZE = 0;

interface Delivery {
  readonly settings: DeliverySettings;
  /** Id of the light plan whose normals the model leaves with; null: its own. */
  readonly normalsOf: number | null;
  /** Which mask of the detail sheet goes into which channel. */
  readonly channels: DetailChannels;
  /** What the standard couldn't hold when a sheet's layers were written last, by the sheet. */
  readonly flattened: ReadonlyMap<number, readonly string[]>;
}

function lastSettings(): DeliverySettings {
  try {
    return deliverySettings.parse(JSON.parse(remembered(KEY) ?? '{}'));
  } catch {
    return USUAL_DELIVERY;
  }
}

/** How the open project is delivered. The settings are those of the last delivery, of whichever project. */
export const useDelivery = create<Delivery>(() => ({
  settings: lastSettings(),
  normalsOf: null,
  channels: USUAL_CHANNELS,
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
const UNCHECKED: ReadonlySet<string> = new Set(['names', 'parcels', 'outline']);

/** Puts a parcel into the whole delivery, or takes it out. */
export function setParcel(parcel: Parcel, isIn: boolean): void {
  const others = useDelivery.getState().settings.parcels.filter((p) => p !== parcel);
  setDelivery({ parcels: isIn ? [...others, parcel] : others });
}

// What belongs to a project goes when it is closed.
useProject.subscribe((now, before) => {
  if (!before.document || now.document) return;
  useDelivery.setState({ normalsOf: null, flattened: new Map() });
  useCheckView.setState({ checked: null });
});

/** The size at which sheets leave, if nothing else is wanted: each its own where there are several, never less than 512. */
export const suitableSize = (sheets: ProjectDocument['sheets']): number =>
  sheets.length > 1 ? OWN_SIZE : Math.max(512, sheets[0]?.size ?? 1024);
