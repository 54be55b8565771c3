import { rgbToHex } from '../color';
import { CoreError } from '../errors';
import type { NamedColor } from './palette-files';

/** Groups within groups that are followed. */
const DEEPEST = 32;
const MOST_COLORS = 1000;

/**
 * The colours among design tokens (W3C Design Tokens Community Group, Format Module): every token of `$type` color, its own or that of
 * the groups around it, in the order of the file. Values are sRGB components, or a hexadecimal text as older files have it.
 *
 * @throws CoreError `file-not-a-palette` if it is no JSON, or holds no such colour
 */
export function readPaletteTokens(text: string): NamedColor[] {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch (cause) {
    throw new CoreError('file-not-a-palette', 'That is no JSON, so it holds no design tokens.', { cause });
  }
  const out: NamedColor[] = [];
  const walk = (group: unknown, name: string, type: unknown, depth: number): void => {
    if (typeof group !== 'object' || group === null || depth > DEEPEST || out.length >= MOST_COLORS) return;
    const own = '$type' in group ? group.$type : type;
    if ('$value' in group) {
      const color = own === 'color' || own === undefined ? hexOfValue(group.$value) : null;
      if (color) out.push({ name: name.slice(0, 60), color });
      return;
    }
    for (const [key, value] of Object.entries(group))
      if (!key.startsWith('$')) walk(value, key, own, depth + 1);
  };
  walk(data, '', undefined, 0);
  if (out.length === 0) {
    throw new CoreError(
      'file-not-a-palette',
      'The file holds no colours: design tokens of the type color, in sRGB, are looked for.',
    );
  }
  return out;
}

function hexOfValue(value: unknown): string | null {
  if (typeof value === 'string') return /^#[0-9a-f]{6}/i.test(value) ? value.slice(0, 7).toLowerCase() : null;
  if (typeof value !== 'object' || value === null) return null;
  const { colorSpace, components, hex } = value as {
    colorSpace?: unknown;
    components?: unknown;
    hex?: unknown;
  };
  if (colorSpace === 'srgb' && Array.isArray(components) && components.length >= 3) {
    const [r, g, b] = components.map((c) => Math.round(Math.min(1, Math.max(0, Number(c))) * 255));
    if ([r, g, b].every(Number.isFinite)) return rgbToHex({ r: r!, g: g!, b: b! });
  }
  return typeof hex === 'string' ? hexOfValue(hex) : null;
}
