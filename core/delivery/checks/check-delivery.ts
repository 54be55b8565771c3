import type { Picture } from '../../formats';
import { backdropSheets, subjectOf, sheetOfFace, type UvMesh } from '../../mesh';
import { figuresOf, findingsOf, round, type MeasuredSheet } from './findings';
import { stackedFaces, unevenDensity } from './layout-checks';
import { cardLevels, leaksOf } from './leaks';
import { mergingParts, type Merging } from './merging';
import { ownersOf } from './owners';
import { checkRamps, type RampsToCheck } from './ramp-checks';
import { CHECKS, type CheckFinding, type CheckHow, type CheckReport } from './report';
import { bandedTexels, bleedFound, lostColors, narrowestGap, texelsOutside, unpaintedTexels } from './texels';

/** So much lightness (OKLab) parts two that merge: about five steps of L*, more than twice what is seen. */
const APART = 0.05;
/** Darker than this L* there is no room below. */
const NO_ROOM = 20;

/** The darker of two parts becomes darker, or the lighter one lighter where there is no room for that. */
function apartFrom({ parts, lightness: [a, b] }: Merging): NonNullable<CheckFinding['move']> {
  const darker = a <= b ? 0 : 1;
  const hasRoom = Math.min(a, b) > NO_ROOM;
  return { part: parts[hasRoom ? darker : 1 - darker]!, lightness: hasRoom ? -APART : APART };
}

/** A sheet as it leaves. */
export interface SheetToCheck {
  /** Bled, at the size at which it leaves. */
  readonly picture: Picture;
  /** As it is read from its file again, where the format loses something. */
  readonly readBack?: Picture | undefined;
}

export interface CheckOptions {
  readonly onProgress?: (done: number) => void;
  /** What of the model lies on a ramp sheet. */
  readonly ramps?: RampsToCheck | undefined;
}

/**
 * Looks at what is about to leave: everything that would be seen in an engine and is cheaper to mend here.
 *
 * @param sheets one for each sheet of the mesh
 */
export function checkDelivery(
  mesh: UvMesh,
  sheets: readonly SheetToCheck[],
  how: CheckHow,
  { onProgress, ramps }: CheckOptions = {},
): CheckReport {
  const findings: CheckFinding[] = [];
  const flat = backdropSheets(mesh);
  const halved: (readonly Picture[])[] = [];
  const checked = sheets.map(({ picture, readBack }, sheet) => {
    const owners = ownersOf(mesh, picture.width, sheet);
    // A backdrop stands alone on its sheet, and where it is bare one looks through it.
    const isFlat = flat.has(sheet);
    const levels = isFlat ? [picture] : cardLevels(picture, how.halving);
    halved.push(levels);
    const leaks = isFlat ? [] : leaksOf(mesh, picture, owners, how, levels);
    onProgress?.((sheet + 0.6) / (sheets.length + 0.5));
    const bleed = isFlat ? Infinity : bleedFound(picture, owners);
    const gap = narrowestGap(owners);
    const unpainted = isFlat ? [] : unpaintedTexels(mesh, picture, owners);
    const outside = texelsOutside(mesh, picture, owners, how.range);
    const banded = how.format === 'png-16' ? [] : bandedTexels(mesh, picture, owners);
    const lost = readBack ? lostColors(picture, readBack, owners) : null;
    const covered = owners.face.reduce((sum, f) => sum + (f >= 0 ? 1 : 0), 0);
    const told: MeasuredSheet = { owners, leaks, bleed, gap, unpainted, outside, banded, lost, covered };
    findings.push(...findingsOf(told, sheet, how));
    return figuresOf(told, picture.width, how.format);
  });
  const density = unevenDensity(subjectOf(mesh));
  if (density.factor > how.densityFactor) {
    findings.push({
      check: 'density',
      weight: 'look',
      says: `“${density.part}” has ${round(density.factor)} times fewer texels a unit than the densest island (${how.densityFactor} asked for). Even it out at Unwrap.`,
      sheet: sheetOfFace(mesh, density.face),
      face: density.face,
    });
  }
  const stacked = stackedFaces(subjectOf(mesh));
  if (stacked.count > 0) {
    findings.push({
      check: 'stacked',
      weight: 'look',
      says: `Islands of “${stacked.part}” lie on one another and face different ways: light from one side is wrong on one of them. Unstack them at Unwrap, or keep light from the side off them.`,
      sheet: sheetOfFace(mesh, stacked.face),
      face: stacked.face,
    });
  }
  const onRamps = ramps && checkRamps(mesh, ramps);
  if (onRamps) findings.push(...onRamps.findings);
  const merging = mergingParts(mesh, halved, how.gameSize, how.mergeLimit);
  const [closest] = merging;
  if (closest) {
    const { parts, deltaE, face } = closest;
    const others = merging.length - 1;
    findings.push({
      check: 'merging',
      weight: 'look',
      says: `“${parts[0]}” and “${parts[1]}” can’t be told apart where they meet, ${how.gameSize} pixels high (ΔE ${round(deltaE)}, ${how.mergeLimit} asked for)${
        others > 0 ? `, nor can ${others} other ${others === 1 ? 'pair' : 'pairs'}` : ''
      }. Move one of them in value.`,
      sheet: sheetOfFace(mesh, face),
      face,
      move: apartFrom(closest),
    });
  }
  onProgress?.(1);
  findings.sort((a, b) => CHECKS.indexOf(a.check) - CHECKS.indexOf(b.check));
  return {
    sheets: checked,
    density: density.factor,
    stacked: stacked.count,
    merging,
    beyondRamps: onRamps?.beyond ?? 0,
    findings,
    ok: findings.every((f) => f.weight !== 'wrong'),
  };
}
