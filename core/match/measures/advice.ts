import { rgbToCielab, type Rgb } from '../../color';
import { sub, length, type Vec3 } from '../../math';
import type { Advice, MatchReport, NamedArea } from './match-report';
import { TONES, type ToneName } from './tones-seen';

/** Less than this nobody sees in a part, CIEDE2000 (common practice: about 2 between neighbouring fields). */
const SEEN = 2;

/** Tones that differ each in its own way by more than this part of what they have in common want changes of their own. */
const OWN_WAY = 0.5;

/** Lights that differ by less than this can't be told apart by eye (common practice), degrees. */
const LIGHT_APART = 15;

/** Outlines and lengths that are off by less than this are drawn just so, percent. */
const OUTLINE_OFF = 1;
const LENGTH_OFF = 3;

/** Parts of less than this of the picture have no say in where light comes from. */
const LEAST_SHARE = 0.02;

const MOST = 12;

const TONE_WORDS: Record<ToneName, string> = { light: 'light', mid: 'middle tone', shadow: 'shadow' };

/** What would help most, the first first. */
export function adviceOf(report: Omit<MatchReport, 'advice'>): Advice[] {
  const whole = report.parts.reduce((sum, a) => sum + a.pixels, 0) || 1;
  const out = [
    ...[...report.parts, ...report.regions].flatMap((area) => colorAdvice(area, whole)),
    ...report.merging.map(({ parts, apart, wanted }): Advice => ({
      ...PLAIN,
      kind: 'merge',
      title: `${parts[0]} and ${lower(parts[1])} run together from afar`,
      detail: `values ${apart.toFixed(0)} apart, ${wanted.toFixed(0)} in the reference`,
      area: parts[0],
      weight: (wanted - apart) / 12,
      at: placeOf(report, parts[0]),
    })),
    ...lightAdvice(report),
    ...report.silhouette.places
      .filter(({ percent }) => percent >= OUTLINE_OFF)
      .map(({ part, is, percent, at }): Advice => ({
        ...PLAIN,
        kind: 'outline',
        title: `${part} is too ${is} here`,
        detail: `${percent.toFixed(1)} % of the height: a matter of the model`,
        area: part,
        at,
        weight: percent / 12,
      })),
    ...report.spans
      .filter(({ percent }) => Math.abs(percent) >= LENGTH_OFF)
      .map(({ name, percent }): Advice => ({
        ...PLAIN,
        kind: 'proportion',
        title: `${name} is ${Math.abs(percent).toFixed(0)} % too ${percent > 0 ? 'long' : 'short'}`,
        detail: 'a matter of the model',
        weight: Math.abs(percent) / 40,
      })),
  ];
  return out.sort((a, b) => b.weight - a.weight).slice(0, MOST);
}

const PLAIN = { area: null, of: 'part', tone: null, colors: null, at: null, apply: null } as const;

/** One for an area: about its colour as a whole, or about the tone that is farthest off. */
function colorAdvice(area: NamedArea, whole: number): Advice[] {
  const share = area.pixels / whole;
  const offs = TONES.map((tone) => offOf(area.tones[tone]));
  const mean = [0, 1, 2].map((k) => offs.reduce((s, o) => s + o[k]!, 0) / 3) as unknown as Vec3;
  const own = Math.max(...offs.map((o) => length(sub(o, mean))));
  const about = { area: area.part, of: area.of, at: area.at };
  // A region lies on parts that are told by themselves.
  const counts = area.of === 'region' ? 0.5 : 1;
  if (own <= OWN_WAY * length(mean)) {
    if (area.deltaE < SEEN) return [];
    return [
      {
        ...PLAIN,
        ...about,
        kind: 'color',
        title: `${area.part} is ${area.words}`,
        detail: `ΔE ${area.deltaE.toFixed(1)}, ${shareWords(share)}`,
        colors: area,
        apply: 'color',
        weight: area.deltaE * share * counts,
      },
    ];
  }
  const [worst] = TONES.map((tone) => ({ tone, match: area.tones[tone] })).sort(
    (a, b) => b.match.deltaE - a.match.deltaE,
  );
  if (!worst || worst.match.deltaE < SEEN) return [];
  const together = TONES.reduce((s, tone) => s + area.tones[tone].deltaE, 0) / 3;
  return [
    {
      ...PLAIN,
      ...about,
      kind: 'tone',
      title: `${ownerOf(area.part)} ${TONE_WORDS[worst.tone]} is ${worst.match.words}`,
      detail: `ΔE ${worst.match.deltaE.toFixed(1)}, ${shareWords(share)}`,
      tone: worst.tone,
      colors: worst.match,
      apply: 'tones',
      weight: together * share * counts,
    },
  ];
}

const offOf = ({ reference, model }: { readonly reference: Rgb; readonly model: Rgb }): Vec3 => {
  const [r, m] = [rgbToCielab(reference), rgbToCielab(model)];
  return [r.L - m.L, r.a - m.a, r.b - m.b];
};

function lightAdvice({ lightAll, light, parts }: Omit<MatchReport, 'advice'>): Advice[] {
  const out: Advice[] = [];
  const { model, reference, degrees, disagree } = lightAll;
  if (model && reference && degrees !== null && degrees >= LIGHT_APART) {
    out.push({
      ...PLAIN,
      kind: 'light',
      title: `The light comes from ${degrees.toFixed(0)}° ${wayWords(model.direction, reference.direction)}`,
      detail: 'than in the reference, over all parts',
      apply: 'light',
      weight: (degrees / 25) * Math.min(model.certainty, reference.certainty),
    });
  }
  const whole = parts.reduce((sum, a) => sum + a.pixels, 0) || 1;
  for (const { part, degrees: off } of disagree) {
    const sure = light.find((l) => l.part === part)?.certainty ?? 0;
    // A whisker has a light of its own, and nobody minds.
    const share = (parts.find((a) => a.part === part)?.pixels ?? 0) / whole;
    if (share < LEAST_SHARE) continue;
    out.push({
      ...PLAIN,
      kind: 'light',
      title: `Light on ${lower(part)} comes from ${off.toFixed(0)}° elsewhere`,
      detail: 'than on the other parts',
      area: part,
      weight: (off / 60) * sure * Math.min(1, share * 6),
    });
  }
  return out;
}

/** Where a light is, seen from where it should be. */
function wayWords(is: Vec3, wanted: Vec3): string {
  const [x, y] = [is[0] - wanted[0], is[1] - wanted[1]];
  if (Math.abs(y) >= Math.abs(x)) return y > 0 ? 'higher' : 'lower';
  return x > 0 ? 'further right' : 'further left';
}

function shareWords(share: number): string {
  if (share >= 0.005) return `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} % of the picture`;
  return 'a small part of the picture';
}

const ownerOf = (name: string): string => (name.endsWith('s') ? `${name}’` : `${name}’s`);

const lower = (name: string): string => name.charAt(0).toLowerCase() + name.slice(1);

const placeOf = ({ parts }: Omit<MatchReport, 'advice'>, part: string): Advice['at'] =>
  parts.find((a) => a.part === part)?.at ?? null;
