import { FileNames } from './names';
import { textureEnding, type DeliverySettings } from './settings';

interface Named {
  readonly name: string;
  readonly sheets: readonly { readonly name: string; readonly size: number }[];
}

/** Files of one delivery, by what they hold; those of sheets in the sheets' order. */
export interface DeliveredNames {
  readonly albedo: readonly string[];
  readonly detail: readonly string[];
  readonly layers: readonly string[];
  readonly layout: readonly string[];
  /** Of layer pictures; each gets the layer's own name behind it. */
  readonly layerPictures: readonly string[];
  readonly model: string;
  readonly toon: string;
  readonly obj: string;
  readonly mtl: string;
  readonly ramps: string;
  readonly report: string;
  readonly strip: string;
  readonly tokens: string;
  readonly project: string;
  readonly recipe: string;
  readonly whole: string;
}

/**
 * Names of the files that a project leaves as.
 *
 * @throws CoreError `bad-argument` if the pattern of names can't be used
 */
export function deliveredNames(
  { name, sheets }: Named,
  { names: pattern, format, size: wanted }: Pick<DeliverySettings, 'names' | 'format' | 'size'>,
): DeliveredNames {
  const names = new FileNames(pattern);
  const several = sheets.length > 1;
  const ofSheets = (what: string, ending: string): string[] =>
    sheets.map((sheet) => {
      const size = String(wanted || sheet.size);
      return names.next({ project: name, sheet: several ? sheet.name : '', what, size }, ending);
    });
  const own = (what: string, ending: string): string => names.next({ project: name, what }, ending);
  const model = own('', '.glb');
  const obj = own('', '.obj');
  return {
    albedo: ofSheets('albedo', textureEnding(format)),
    detail: ofSheets('detail', '.png'),
    layers: ofSheets('', '.ora'),
    layout: ofSheets('layout', '.png'),
    layerPictures: ofSheets('layer', ''),
    model,
    toon: own('toon', '.glb'),
    obj,
    mtl: obj.replace(/\.obj$/, '.mtl'),
    ramps: own('ramps', '.png'),
    report: own('report', '.json'),
    strip: own('palette', '.png'),
    tokens: own('palette', '.json'),
    project: own('', '.zip'),
    recipe: own('recipe', '.json'),
    whole: own('delivery', '.zip'),
  };
}
