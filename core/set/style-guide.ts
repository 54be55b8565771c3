import { bytesToBase64 } from '../base64';
import { type LayerNode, nodesOf } from '../document';
import type { LightPlan } from '../light';
import type { Vec3 } from '../math';
import type { AssetFacts } from './asset-facts';
import type { AssetSet } from './asset-set';
import type { Consistency } from './consistency';

/** An asset as the guide shows it. */
export interface GuideAsset {
  readonly name: string;
  /** What it looks like, and the same in values. */
  readonly picture: Uint8Array;
  readonly values: Uint8Array;
  readonly facts: AssetFacts;
}

export interface GuideReference {
  readonly name: string;
  readonly type: string;
  readonly bytes: Uint8Array;
}

/**
 * A set's style as one HTML page: swatches, ramps, light, recipes, references and each asset with its figures. Everything is in it, so that it
 * opens anywhere.
 */
export function styleGuide(
  set: AssetSet,
  assets: readonly GuideAsset[],
  consistency: Consistency,
  references: readonly GuideReference[],
): string {
  const { name, shared } = set;
  const sections = [
    section('Palette', shared.palette.length > 0 && swatches(set)),
    section('Colour ramps', shared.ramps && ramps(shared.ramps.ramps)),
    section('Light', shared.light && light(shared.light.plan)),
    section('Recipes', shared.recipes.length > 0 && recipes(set)),
    section(
      'References',
      references.length > 0 &&
        `<div class="row">${references.map((r) => figure(r.name, r.bytes, r.type, 'reference')).join('')}</div>`,
    ),
    section('Assets', assets.length > 0 && assets.map((a, i) => asset(a, i, consistency)).join('')),
    section('Figures of the set', assets.length > 0 && whole(consistency)),
  ];
  return `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>${text(name)}: style guide</title>
<style>${STYLE}</style>
<main>
<h1>${text(name)}</h1>
<p class="under">Style guide · ${assets.length} ${assets.length === 1 ? 'asset' : 'assets'}</p>
${sections.join('\n')}
</main>
</html>
`;
}

const STYLE = `
:root{color-scheme:light}
body{margin:0;background:#f3f2f0;color:#26232b;font:15px/1.5 Georgia,'Times New Roman',serif}
main{max-width:980px;margin:0 auto;padding:48px 32px 80px}
h1{font-size:34px;margin:0}
h2{font-size:20px;margin:44px 0 12px;border-top:1px solid #d8d5d0;padding-top:18px}
h3{font-size:16px;margin:0}
.under,small,td,th{color:#57525e}
.row{display:flex;flex-wrap:wrap;gap:18px}
.swatch{width:118px}.swatch i{display:block;height:64px;border-radius:4px}
.swatch b,.ramp b{display:block;font-weight:600;font-size:13px;margin-top:4px}
small{font-size:12px;font-family:ui-monospace,monospace}
.ramp{display:grid;grid-template-columns:150px 1fr;gap:12px;align-items:center;margin:6px 0}
.ramp span{display:flex;height:34px;border-radius:4px;overflow:hidden}.ramp i{flex:1}
figure{margin:0}figure img{display:block;background:#8f8f8f;border-radius:4px;max-height:230px}
figcaption{font-size:13px;color:#57525e;margin-top:4px}
.reference img{background:none}
.asset{display:grid;grid-template-columns:auto auto 1fr;gap:18px;align-items:start;margin-bottom:26px}
table{border-collapse:collapse;font-size:13px}th{text-align:left;font-weight:400;padding:2px 14px 2px 0}td{padding:2px 0}
.bar{display:flex;height:18px;width:230px;border-radius:3px;overflow:hidden;margin-top:8px}
.off{border-left:3px solid #c2562a;padding-left:8px;margin:6px 0 0;font-size:13px}
ol{padding-left:20px}li{margin:2px 0}
`;

const section = (title: string, body: string | false | null): string =>
  body ? `<section><h2>${title}</h2>${body}</section>` : '';

function swatches({ shared }: AssetSet): string {
  const groups = [...new Set(shared.palette.map((s) => s.group))];
  return groups
    .map((group) => {
      const list = shared.palette.filter((s) => s.group === group);
      const title = group ? `<h3>${text(group)}</h3>` : '';
      return `${title}<div class="row">${list.map(({ name, color }) => `<div class="swatch"><i style="background:${color}"></i><b>${text(name)}</b><small>${color}</small></div>`).join('')}</div>`;
    })
    .join('');
}

const ramps = (list: readonly { readonly name: string; readonly colors: readonly string[] }[]): string =>
  list
    .map(
      ({ name, colors }) =>
        `<div class="ramp"><b>${text(name)}</b><span>${colors.map((c) => `<i style="background:${c}" title="${c}"></i>`).join('')}</span></div>`,
    )
    .join('');

function light({ key, sky, ground, rim, steps }: LightPlan): string {
  const rows: [string, string][] = [
    ['Key light', `${chip(key.color)} from ${whereWords(key.direction)}, ${percent(key.strength)}`],
    ['Sky', `${chip(sky.color)} ${percent(sky.strength)}`],
    ['Ground', `${chip(ground.color)} ${percent(ground.strength)}`],
    ...(rim.strength > 0
      ? [['Rim light', `${chip(rim.color)} ${percent(rim.strength)}`] as [string, string]]
      : []),
    ...(steps ? [['Tones', String(steps.count)] as [string, string]] : []),
  ];
  return table(rows);
}

const chip = (color: string): string =>
  `<i style="display:inline-block;width:14px;height:14px;border-radius:3px;vertical-align:-2px;background:${color}"></i> <small>${color}</small>`;

const percent = (part: number): string => `${Math.round(part * 100)} %`;

/** Where a direction of the model points, in words: y is up, z toward the front. */
function whereWords([x, y, z]: Vec3): string {
  const flat = Math.hypot(x, z);
  const words = [
    y > flat * 0.35 ? 'above' : y < -flat * 0.35 ? 'below' : '',
    x > Math.abs(z) * 0.35 ? 'the model’s left' : x < -Math.abs(z) * 0.35 ? 'the model’s right' : '',
    z > Math.abs(x) * 0.35 ? 'the front' : z < -Math.abs(x) * 0.35 ? 'the back' : '',
  ].filter(Boolean);
  return words.join(', ') || 'the front';
}

const recipes = ({ shared }: AssetSet): string =>
  shared.recipes
    .map(
      ({ name, says, layers }) =>
        `<h3>${text(name)}</h3>${says ? `<p>${text(says)}</p>` : ''}<ol>${[...nodesOf(layers)].map(({ node }) => `<li>${text(node.name)} <small>${text(layerWords(node))}</small></li>`).join('')}</ol>`,
    )
    .join('');

const layerWords = ({ kind, blend, opacity }: LayerNode): string =>
  [kind, blend === 'normal' ? '' : blend, opacity < 1 ? percent(opacity) : ''].filter(Boolean).join(', ');

function asset({ name, picture, values, facts }: GuideAsset, i: number, { outliers }: Consistency): string {
  const { density, palette, paletteDistance, values: L, triangles, size } = facts;
  const rows: [string, string][] = [
    ['Triangles', String(triangles)],
    ['Size', size.map((s) => s.toFixed(2)).join(' × ')],
    ['Texels a unit', density.toFixed(0)],
    ['Values L*', `${L.map((v) => Math.round(v)).join(' · ')}`],
    ...(paletteDistance === null
      ? []
      : [['From the palette', `ΔE ${paletteDistance.toFixed(1)}`] as [string, string]]),
  ];
  const off = outliers
    .filter((o) => o.asset === i)
    .map((o) => `<p class="off">${text(o.says)}</p>`)
    .join('');
  const bar = palette
    .map((c) => `<i style="flex:${c.share.toFixed(3)};background:${c.hex}" title="${c.hex}"></i>`)
    .join('');
  return `<div class="asset">${figure('Albedo, unlit', picture, 'image/png')}${figure('Values', values, 'image/png')}<div><h3>${text(name)}</h3>${table(rows)}<div class="bar">${bar}</div>${off}</div></div>`;
}

function whole({ density, values, light: toward }: Consistency): string {
  const rows: [string, string][] = [
    ['Texels a unit', density.toFixed(0)],
    ['Values L*', values.map((v) => Math.round(v)).join(' · ')],
  ];
  if (toward) rows.push(['Painted light', `from ${whereWords(toward)}`]);
  return table(rows);
}

const table = (rows: readonly (readonly [string, string])[]): string =>
  `<table>${rows.map(([head, cell]) => `<tr><th scope="row">${head}</th><td>${cell}</td></tr>`).join('')}</table>`;

const figure = (caption: string, bytes: Uint8Array, type: string, kind = ''): string =>
  `<figure class="${kind}"><img alt="${text(caption)}" src="data:${type};base64,${bytesToBase64(bytes)}"><figcaption>${text(caption)}</figcaption></figure>`;

/** Text within HTML. */
const text = (plain: string): string => plain.replace(/[&<>"']/g, (c) => `&#${c.codePointAt(0)!};`);
