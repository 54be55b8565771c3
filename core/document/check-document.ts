import { z } from 'zod';
import { CoreError } from '../errors';
import { masksUnder, regionsAmong } from '../layers';
import { wrongRamps } from '../ramps';
import { MAX_DEPTH, MAX_NODES } from './limits';
import { lightsOf, patternsOf, regionsOf } from './layer-links';
import { masksOf, nodesOf, isGroup } from './layer-tree';
import { regionsOfPlan } from '../light';
import type { FaceRuns } from '../mesh';
import { documentSchema, type ProjectDocument } from './schema';

/**
 * What a document must fulfil: its schema, so that what is accepted can be opened again, and what goes beyond it. Checked after every command,
 * stroke and change of model, and at every door.
 *
 * @param before a document that has been checked: what is still the same is right; null: only what goes beyond the schema is looked at
 * @throws CoreError `document-invalid` with a sentence that says what is wrong
 */
export function checkDocument(
  document: ProjectDocument,
  before: ProjectDocument | null = null,
): ProjectDocument {
  const wrong = (before && wrongByShape(document, before)) ?? findWrong(document);
  if (wrong) throw new CoreError('document-invalid', wrong);
  return document;
}

/** What lists of a project are called, where they can be too long. */
const LISTS: Partial<Record<keyof ProjectDocument, string>> = {
  palette: 'swatches',
  references: 'references',
  cameras: 'cameras',
  looks: 'looks',
  regions: 'regions',
  lights: 'lights',
  patterns: 'patterns',
  guards: 'selections that strokes are held by',
  frames: 'placings of the model that strokes were made on',
};

/** What of a document its schema doesn't allow. What is the same as before isn't looked at again. */
function wrongByShape(document: ProjectDocument, before: ProjectDocument): string | null {
  for (const [key, schema] of Object.entries(documentSchema.shape) as [keyof ProjectDocument, z.ZodType][]) {
    if (document[key] === before[key]) continue;
    const known = before[key];
    const value = document[key];
    const isSeen = Array.isArray(known) && Array.isArray(value) ? new Set<unknown>(known) : null;
    const parsed = isSeen
      ? parseNew(schema as z.ZodArray, value as unknown[], isSeen)
      : schema.safeParse(value);
    if (parsed.success) continue;
    const issue = parsed.error.issues[0]!;
    const list = LISTS[key];
    if (list && issue.code === 'too_big' && issue.path.length === 0 && Array.isArray(value)) {
      return `A project holds up to ${String(issue.maximum)} ${list}; these would be ${value.length}. Remove some first.`;
    }
    const where = [key, ...issue.path].join('.');
    if (issue.code === 'too_big')
      return `“${where}” would hold more than a project can keep, which is ${String(issue.maximum)}. Remove some of it first.`;
    return `That would leave the project with a “${where}” that couldn’t be opened again (${issue.message}). Nothing was changed.`;
  }
  return null;
}

/** A list of which only those are looked at that aren't known. */
function parseNew(
  schema: z.ZodArray,
  value: readonly unknown[],
  known: ReadonlySet<unknown>,
): z.ZodSafeParseResult<unknown> {
  const isKnown = z.custom((item) => typeof item === 'object' && known.has(item));
  return z.clone(schema, { ...schema.def, element: z.union([isKnown, schema.element]) }).safeParse(value);
}

function findWrong(document: ProjectDocument): string | null {
  const nodes = [...nodesOf(document.layers)];
  if (nodes.length > MAX_NODES) {
    return `A build-up holds up to ${MAX_NODES} layers and groups; these would be ${nodes.length}. Remove or merge some first.`;
  }
  const deepest = nodes.find((n) => n.depth >= MAX_DEPTH);
  if (deepest) {
    return `Groups can lie ${MAX_DEPTH} deep; “${deepest.node.name}” would lie deeper. Take it out of a group first.`;
  }
  const lost = nodes.find((n) => n.depth > 0 && isGroup(n.node) && n.node.detail !== null);
  if (lost) {
    return `“${lost.node.name}” goes into the detail sheet, so it must stand in the build-up itself. Take it out of the group that it lies in.`;
  }
  const regions = new Set(document.regions.map((r) => r.id));
  const lights = new Set(document.lights.map((l) => l.id));
  const patterns = new Set(document.patterns.map((p) => p.id));
  const masks = masksOf(document.layers);
  for (const { node } of nodes) {
    for (const step of node.mask) {
      if (step.from === 'region' && !regions.has(step.region)) {
        return `The mask of “${node.name}” names a region (number ${step.region}) that isn't there. Take that step off the mask.`;
      }
      if (step.from === 'layer' && !masks.has(step.layer)) {
        return `The mask of “${node.name}” names a layer (number ${step.layer}) that isn't there. Take that step off the mask.`;
      }
    }
    if (masksUnder(node.mask, (id) => masks.get(id) ?? []).has(node.id)) {
      return `The mask of “${node.name}” would be made from itself. Choose another layer's mask.`;
    }
    const light = lightsOf(node).find((id) => !lights.has(id));
    if (light !== undefined) {
      return `“${node.name}” shows a light (number ${light}) that isn't there. Choose another light for it.`;
    }
    const pattern = patternsOf(node).find((id) => !patterns.has(id));
    if (pattern !== undefined) {
      return `“${node.name}” names a pattern (number ${pattern}) that isn't there. Choose another one for it.`;
    }
    const region = regionsOf(node).find((id) => !regions.has(id));
    if (region !== undefined) {
      return `“${node.name}” names a region (number ${region}) that isn't there. Take that off it.`;
    }
  }
  for (const { name, plan } of document.lights) {
    if (regionsOfPlan(plan).some((id) => !regions.has(id)))
      return `The light “${name}” has something for a region that isn't there. Remove that.`;
  }
  if (document.ramps) {
    const wrong = wrongRamps(document.ramps);
    if (wrong) return wrong;
    if (regionsAmong(document.ramps.seats.map((s) => s.of)).some((id) => !regions.has(id)))
      return 'A region that isn’t there lies on a ramp. Take it off.';
  }
  return (
    doubled(
      'layers',
      nodes.map((n) => n.node.id),
    ) ??
    doubled(
      'regions',
      document.regions.map((r) => r.id),
    ) ??
    doubled(
      'lights',
      document.lights.map((l) => l.id),
    ) ??
    doubled(
      'swatches',
      document.palette.map((s) => s.id),
    ) ??
    doubled(
      'references',
      document.references.map((r) => r.id),
    ) ??
    doubled(
      'cameras',
      document.cameras.map((c) => c.id),
    ) ??
    doubled(
      'looks',
      document.looks.map((l) => l.id),
    ) ??
    doubled(
      'patterns',
      document.patterns.map((p) => p.id),
    ) ??
    doubled(
      'guards',
      document.guards.map((g) => g.id),
    ) ??
    doubled(
      'frames',
      document.frames.map((f) => f.id),
    ) ??
    doubled(
      'ramps',
      [...(document.ramps?.ramps ?? []), ...(document.ramps?.seats ?? [])].map((r) => r.id),
    ) ??
    doubled(
      'bases',
      document.bases.map((b) => b.plane),
    ) ??
    tooLow(document)
  );
}

function doubled(what: string, ids: readonly number[]): string | null {
  const seen = new Set<number>();
  for (const id of ids) {
    if (seen.has(id)) return `Two ${what} of the project have the same number ${id}.`;
    seen.add(id);
  }
  return null;
}

/** The next free id must be free. */
function tooLow(document: ProjectDocument): string | null {
  const used = Math.max(-1, ...idsOf(document));
  return document.nextId > used
    ? null
    : `The project's next number is ${document.nextId}, but ${used} is in use already.`;
}

/** Every id that is in use. */
export function idsOf(d: ProjectDocument): number[] {
  return [
    ...[...nodesOf(d.layers)].map((n) => n.node.id),
    ...[
      d.lights,
      d.palette,
      d.references,
      d.cameras,
      d.looks,
      d.patterns,
      d.dense ? [d.dense] : [],
      d.modelFile ? [d.modelFile] : [],
      d.regions,
      d.guards,
      d.frames,
      d.ramps?.ramps ?? [],
      d.ramps?.seats ?? [],
    ].flatMap((list) => list.map((item) => item.id)),
  ];
}

/**
 * What a document says of triangles must be true of its model.
 *
 * @throws CoreError `document-invalid`
 */
export function checkAgainstModel(document: ProjectDocument, faces: number): void {
  const beyond = (what: string, number: number | undefined, limit: number): void => {
    if (number !== undefined && number >= limit) {
      throw new CoreError(
        'document-invalid',
        `The project's ${what} name triangle ${Math.floor(number * (faces / limit))}, but the model has ${faces}. The file is damaged; copy it again.`,
      );
    }
  };
  const highest = (list: readonly number[]): number | undefined =>
    list.length ? list.reduce((a, b) => Math.max(a, b)) : undefined;
  beyond('seams', highest(document.seams), faces * 3);
  beyond('paint edges', highest(document.paintEdges), faces * 3);
  beyond('seams', highest(document.foundSeams), faces * 3);
  beyond('points of seams', highest(document.seamPoints), faces * 3);
  beyond('pins', highest(document.pins), faces);
  const last = (runs: FaceRuns): number | undefined =>
    runs.length ? runs.at(-2)! + runs.at(-1)! - 1 : undefined;
  beyond('wishes for seams', last(document.seamWishes.never), faces);
  beyond('wishes for seams', last(document.seamWishes.gladly), faces);
  for (const region of document.regions) {
    beyond('regions', highest(region.faces), faces);
    for (const cut of region.cuts) beyond('regions', last(cut.faces), faces);
  }
  for (const guard of document.guards) {
    beyond('guards', last(guard.faces), faces);
    for (const cut of guard.cuts) beyond('guards', last(cut.faces), faces);
  }
}
