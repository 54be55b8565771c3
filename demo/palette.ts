import type { Tones } from './drawing';

/** The demo's colours: warm lantern light against a cool canal evening. */
export const PALETTE = {
  fur: '#8a5638',
  furLight: '#c98b57',
  furShadow: '#4d3140',
  cream: '#efcfa0',
  creamLight: '#fbe6bf',
  creamShadow: '#b0808a',
  nose: '#3b2631',
  ink: '#2a1c28',
  apron: '#2f7475',
  apronLight: '#5fa79b',
  apronShadow: '#29425f',
  pocket: '#e6c98f',
  scarf: '#cf5a2e',
  scarfLight: '#f08a4a',
  scarfShadow: '#7c3140',
  band: '#f1e3cb',
  bandLight: '#fff6e2',
  bandShadow: '#a99bb5',
  wood: '#b57f49',
  woodLight: '#dfae6c',
  woodShadow: '#6c4447',
  lantern: '#f3a648',
  lanternLight: '#ffe19a',
  lanternShadow: '#b9542f',
  iron: '#4a4a5e',
  ironLight: '#8590a3',
  ironShadow: '#2c2739',
  copper: '#c9764a',
  turnip: '#e9d9dc',
  turnipTop: '#b3547e',
  leaf: '#6f9a4f',
} as const;

const P = PALETTE;
const fur: Tones = { shadow: P.furShadow, local: P.fur, light: P.furLight };
const wood: Tones = { shadow: P.woodShadow, local: P.wood, light: P.woodLight };
const iron: Tones = { shadow: P.ironShadow, local: P.iron, light: P.ironLight };

/** How each part of the demo models is drawn; `local` is also its local colour in the painted project. */
export const TONES: Readonly<Record<string, Tones>> = {
  Head: fur,
  Ears: fur,
  Body: fur,
  Arms: fur,
  Tail: fur,
  Muzzle: { shadow: P.creamShadow, local: P.cream, light: P.creamLight },
  Nose: { shadow: P.ink, local: P.nose, light: '#6d4a55' },
  Eyes: { shadow: '#17111a', local: '#241823', light: '#3d2b3a' },
  Apron: { shadow: P.apronShadow, local: P.apron, light: P.apronLight },
  Pocket: { shadow: '#9a7a78', local: P.pocket, light: '#f7e5b8' },
  Scarf: { shadow: P.scarfShadow, local: P.scarf, light: P.scarfLight },
  Headband: { shadow: P.bandShadow, local: P.band, light: P.bandLight },
  Spoon: wood,
  Whiskers: { shadow: '#cbb39a', local: '#f3e2c6', light: '#fff6e2' },
  Shell: { shadow: P.lanternShadow, local: P.lantern, light: P.lanternLight },
  Fins: { shadow: '#8f3b34', local: '#dd7436', light: '#f7a55d' },
  Frame: iron,
  Kettle: iron,
  Lid: { shadow: '#6f3a3f', local: P.copper, light: '#f0ae7c' },
  Handle: wood,
  Stove: { shadow: '#5a3040', local: '#a4543c', light: '#d98a5e' },
  Grate: iron,
  Slats: wood,
  Turnips: { shadow: '#a58ba6', local: P.turnip, light: '#fff4ee' },
  Leaves: { shadow: '#39593f', local: P.leaf, light: '#a8c972' },
  Counter: wood,
  Roof: { shadow: '#6b2f45', local: '#b8503c', light: '#e07f50' },
  Posts: { shadow: '#4a3144', local: '#7d5240', light: '#a97a55' },
  Cloth: { shadow: P.apronShadow, local: P.apron, light: P.apronLight },
};

export function tonesOf(part: string): Tones {
  return TONES[part] ?? { shadow: '#555555', local: '#999999', light: '#cccccc' };
}
