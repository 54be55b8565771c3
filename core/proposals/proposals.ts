import { hexToRgb, oklabToHex, rgbToCielab, rgbToOklab, type Oklab, type Ramp } from '../color';
import type { Command, NewLayer } from '../commands';
import { nodesOf, type LayerNode, type ProjectDocument, isGroup } from '../document';
import type { Vec3 } from '../math';
import { sameTarget, withLocalColor, type Layer, type Target } from '../layers';
import type { Advice, MatchReport, NamedArea, PictureRamp } from '../match';
import {
  hasOwn,
  colorOf,
  maskOf,
  moved,
  stopsFor,
  added,
  movedColors,
  movedRamp,
  type Tones,
  GREYS,
} from './proposal-moves';

/** A change that brings an area of the model nearer to its reference. */
export type Proposal =
  /** Another local colour. */
  | {
      readonly by: 'local';
      readonly layer: number;
      readonly of: Target;
      readonly name: string;
      readonly color: Oklab;
    }
  /** A part's own ramp of a tone layer, each stop moved. */
  | {
      readonly by: 'ramp';
      readonly layer: number;
      readonly of: Target;
      readonly name: string;
      readonly ramp: Ramp;
      readonly moves: Tones;
    }
  /** A part that has one tone only gets those of the reference, by the light. */
  | {
      readonly by: 'tones';
      readonly of: Target;
      readonly name: string;
      readonly ramp: PictureRamp;
      readonly toward: Vec3;
    }
  /** A ramp of the ramp sheet, with all that lies on it. */
  | {
      readonly by: 'sheet';
      readonly ramp: number;
      readonly of: Target;
      readonly name: string;
      readonly moves: Tones;
    }
  /** Shadow, middle and light moved by a change layer on top, kept to the area. */
  | {
      readonly by: 'balance';
      readonly layer: number | null;
      readonly of: Target;
      readonly name: string;
      readonly stops: Tones;
    }
  /** The light plan's key, sky and ground as the reference has them. */
  | {
      readonly by: 'light';
      readonly light: number;
      readonly reference: NonNullable<MatchReport['lightAll']['reference']>;
    };

/** What change layers are called that were made here: the next proposal for the same area changes the one that is there. */
const nameOfLayer = (area: string): string => `Nearer: ${area}`.slice(0, 80);

/** Ramps of parts as a reference has them, and the light by which they were told. */
export interface ToldRamps {
  readonly ramps: readonly PictureRamp[];
  readonly toward: Vec3;
}

/** Tones nearer than this are one; farther apart than that the reference has several, CIELAB lightness. */
const [ONE_TONE, SEVERAL] = [4, 8];

/** Whether an area has one tone where its reference has several: then no move of its tones tells them apart. */
export const isFlatBeside = ({ tones: { shadow, light } }: NamedArea): boolean => {
  const spread = (side: 'model' | 'reference'): number =>
    Math.abs(rgbToCielab(light[side]).L - rgbToCielab(shadow[side]).L);
  return spread('model') < ONE_TONE && spread('reference') > SEVERAL;
};

/**
 * What would bring the model nearer in the way that an advice says.
 *
 * @param told ramps of the reference; null: none were told
 * @returns null where nothing of the build-up can be changed for it by itself
 */
export function proposalFor(
  document: ProjectDocument,
  report: MatchReport,
  advice: Advice,
  told: ToldRamps | null = null,
): Proposal | null {
  if (advice.apply === 'light') {
    const { reference } = report.lightAll;
    return reference && { by: 'light', light: lightInUse(document), reference };
  }
  const area = areaOf(report, advice);
  const of = area && targetOf(document, area);
  if (!area || !of || !advice.apply) return null;
  const seat = document.ramps?.seats.find((s) => sameTarget(s.of, of));
  if (seat) return { by: 'sheet', ramp: seat.ramp, of, name: area.part, moves: stopsFor(area, null) };
  const layers = visibleLayers(document.layers);
  if (advice.apply === 'color') {
    // The highest that has it hides those below.
    const local = layers.findLast((l) => l.kind === 'local' && hasOwn(l, of));
    if (local?.kind === 'local') {
      const now = rgbToOklab(hexToRgb(colorOf(local, of)));
      return { by: 'local', layer: local.id, of, name: area.part, color: moved(now, area) };
    }
  }
  const ramp = isFlatBeside(area) ? told?.ramps.find((r) => r.part === area.part) : undefined;
  if (ramp && told && 'part' in of) return { by: 'tones', of, name: area.part, ramp, toward: told.toward };
  const tone = layers.findLast(
    (l) =>
      l.kind === 'tone' &&
      (l.mask.length === 0 || l.name === nameOfLayer(area.part)) &&
      l.blend === 'normal' &&
      l.opacity === 1,
  );
  if (tone?.kind === 'tone' && 'part' in of) {
    const own = tone.ramps.find((r) => 'part' in r.of && r.of.part === of.part)?.ramp ?? tone.ramp;
    return { by: 'ramp', layer: tone.id, of, name: area.part, ramp: own, moves: stopsFor(area, null) };
  }
  const known = layers.find(
    (l) => l.kind === 'adjust' && l.name === nameOfLayer(area.part) && l.change.by === 'balance',
  );
  const before = known?.kind === 'adjust' && known.change.by === 'balance' ? known.change.stops : null;
  return { by: 'balance', layer: known?.id ?? null, of, name: area.part, stops: stopsFor(area, before) };
}

/** The command that a proposal is. */
export function commandOf(document: ProjectDocument, proposal: Proposal): Command {
  switch (proposal.by) {
    case 'local': {
      const { layer, of, color } = proposal;
      const node = [...nodesOf(document.layers)].find((n) => n.node.id === layer)?.node as Extract<
        Layer,
        { kind: 'local' }
      >;
      return { do: 'patch-layer', layer, patch: withLocalColor(node, of, oklabToHex(color)) };
    }
    case 'ramp': {
      const { layer, of, ramp, moves } = proposal;
      const node = [...nodesOf(document.layers)].find((n) => n.node.id === layer)?.node as Extract<
        Layer,
        { kind: 'tone' }
      >;
      const rest = node.ramps.filter((r) => !('part' in r.of && 'part' in of && r.of.part === of.part));
      return { do: 'patch-layer', layer, patch: { ramps: [...rest, { of, ramp: movedRamp(ramp, moves) }] } };
    }
    case 'tones': {
      const { of, name, ramp, toward } = proposal;
      const layer = { ...layerFromRamps([ramp], toward, nameOfLayer(name)), mask: [maskOf(of)] };
      return { do: 'add-layer', layer, at: albedoTop(document.layers) };
    }
    case 'sheet': {
      const ramps = document.ramps!.ramps.map((ramp) =>
        ramp.id === proposal.ramp ? { ...ramp, colors: movedColors(ramp.colors, proposal.moves) } : ramp,
      );
      return { do: 'set-ramps', ramps };
    }
    case 'balance': {
      const { layer, of, name, stops } = proposal;
      const change = { by: 'balance' as const, stops: [...stops] };
      if (layer !== null) return { do: 'patch-layer', layer, patch: { change } };
      return {
        do: 'add-layer',
        layer: { kind: 'adjust', name: nameOfLayer(name), mask: [maskOf(of)], change },
        at: albedoTop(document.layers),
      };
    }
    case 'light': {
      const { light, reference } = proposal;
      const [x, y, z] = reference.direction;
      return {
        do: 'patch-light',
        light,
        patch: {
          key: { direction: [x, y, z], ...reference.key },
          sky: reference.sky,
          ground: reference.ground,
        },
      };
    }
  }
}

/** The proposal again with what was still missing after it was tried. @returns null where it can't be told */
export function refinedBy(proposal: Proposal, report: MatchReport): Proposal | null {
  if (proposal.by === 'light' || proposal.by === 'tones') return null;
  const isRegion = 'region' in proposal.of;
  const area = (isRegion ? report.regions : report.parts).find((a) => a.part === proposal.name);
  if (!area) return null;
  switch (proposal.by) {
    case 'local':
      return { ...proposal, color: moved(proposal.color, area) };
    case 'ramp':
    case 'sheet':
      return { ...proposal, moves: added(proposal.moves, stopsFor(area, null)) };
    case 'balance':
      return { ...proposal, stops: stopsFor(area, proposal.stops) };
  }
}

/** In words, what it does. */
export function proposalWords(proposal: Proposal): string {
  switch (proposal.by) {
    case 'local':
      return `${proposal.name}: local colour ${oklabToHex(proposal.color)}`;
    case 'ramp':
      return `${proposal.name}: its ramp moved`;
    case 'tones':
      return `${proposal.name}: the reference’s tones, by its light`;
    case 'sheet':
      return `${proposal.name}: its ramp of the ramp sheet moved, with all that lies on it`;
    case 'balance':
      return `${proposal.name}: shadow, middle and light moved`;
    case 'light':
      return 'Light plan: key, sky and ground as in the reference';
  }
}

/** How far off the area is that a proposal is about, CIEDE2000 over its tones; over all for the light. */
export function distanceFor(proposal: Proposal, report: MatchReport): number {
  if (proposal.by === 'light') return report.deltaE.mean;
  const areas = 'region' in proposal.of ? report.regions : report.parts;
  return areas.find((a) => a.part === proposal.name)?.apart ?? report.deltaE.mean;
}

/**
 * A tone layer that gives every part the colours that a reference has by how far it turns toward the light: it holds on all sides.
 *
 * @param toward the light that the ramps were told by
 */
export function layerFromRamps(ramps: readonly PictureRamp[], toward: Vec3, name: string): NewLayer {
  const plain = { low: 0, high: 1, gamma: 1 } as const;
  const cue = { cue: 'facing' as const, direction: [...toward] as [number, number, number] };
  return {
    kind: 'tone',
    name,
    mix: [{ from: 'cue', cue, levels: plain, invert: false, weight: 1, join: 'mix' }],
    levels: plain,
    ramp: ramps[0]?.ramp ?? GREYS,
    ramps: ramps.map(({ part, ramp }) => ({ of: { part }, ramp })),
  };
}

/** Toward the light by which ramps of a reference are told: as that is lit, where it can be told, else as the build-up is. */
export const towardLight = (document: ProjectDocument, report: MatchReport | null): Vec3 =>
  report?.lightAll.reference?.direction ??
  document.lights.find((l) => l.id === lightInUse(document))!.plan.key.direction;

/** The light plan that the build-up is lit by. */
export function lightInUse(document: ProjectDocument): number {
  for (const layer of visibleLayers(document.layers)) {
    if (layer.kind === 'light') return layer.light;
    if (layer.kind === 'tone') {
      const key = layer.mix.find((m) => m.from === 'key');
      if (key?.from === 'key') return key.light;
    }
  }
  return document.lights[0]!.id;
}

const areaOf = ({ parts, regions }: MatchReport, { area, of }: Advice): NamedArea | undefined =>
  (of === 'region' ? regions : parts).find((a) => a.part === area);

function targetOf(document: ProjectDocument, { of, part }: NamedArea): Target | null {
  if (of === 'part') return { part };
  const region = document.regions.find((r) => r.name === part);
  return region ? { region: region.id } : null;
}

/** Layers that go into the albedo and are seen, from the ground up. */
function visibleLayers(nodes: readonly LayerNode[]): Layer[] {
  return nodes.flatMap((node): Layer[] => {
    if (!node.visible) return [];
    if (!isGroup(node)) return [node];
    return node.detail === null ? visibleLayers(node.layers) : [];
  });
}

/** Under what goes into the detail sheet. */
function albedoTop(layers: readonly LayerNode[]): number {
  const first = layers.findIndex((n) => isGroup(n) && n.detail !== null);
  return first < 0 ? layers.length : first;
}
