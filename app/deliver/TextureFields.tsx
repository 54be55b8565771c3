import { Form } from 'react-bootstrap';
import {
  DELIVERED_SIZES,
  deliveredNames,
  levelCount,
  type DeliverySettings,
  type TextureFormat,
  OWN_SIZE,
  suitableSize,
} from '../../core/delivery';
import type { ProjectDocument } from '../../core/document';
import { sentenceOf } from '../../core/errors';
import { ChoiceField } from '../shared/ChoiceField';
import { Fold } from '../shared/Fold';
import { setDelivery, useDelivery } from './delivery-settings';

/** Texels that colour reaches past the islands. */
const BLEEDS: readonly (readonly [DeliverySettings['bleed'], string])[] = [
  [null, 'the whole sheet'],
  [32, '32 texels'],
  [16, '16 texels'],
  [6, '6 texels'],
];

const ALPHAS = [
  ['opaque', 'opaque everywhere'],
  ['painted', 'as it was painted'],
] as const;

const FORMATS: readonly (readonly [TextureFormat, string])[] = [
  ['png', 'PNG, 8 bit'],
  ['png-dithered', 'PNG, 8 bit, dithered'],
  ['png-16', 'PNG, 16 bit'],
  ['webp', 'WebP, lossless'],
  ['webp-small', 'WebP, small'],
  ['ktx2', 'KTX2 with mipmaps'],
];

/** What a format does to colours, in a sentence. */
const SAYS: Readonly<Record<TextureFormat, string>> = {
  png: '',
  'png-dithered':
    'What lies between two of the 256 values is spread as a fine grain: slopes don’t fall into steps.',
  'png-16': 'As the layers come to before they are rounded.',
  webp: 'Every texel as it is. In the model by EXT_texture_webp: without it the file can’t be read.',
  'webp-small': 'Colours lose a little. In the model by EXT_texture_webp.',
  ktx2: 'Basis Universal (UASTC); colours lose a little. In the model by KHR_texture_basisu.',
};

const sizeNote = (sheets: ProjectDocument['sheets'], size: number): string => {
  const present = sheets[0]!.size;
  if (size === OWN_SIZE || sheets.every((s) => s.size === size))
    return 'The sheet’s own size: every texel is delivered as it is stored.';
  if (sheets.length > 1)
    return `The sheets have ${sheets.map((s) => s.size).join(' and ')} texels a side; they are averaged or interpolated.`;
  return `The sheet is ${present} texels a side; it is ${size < present ? 'averaged down' : 'interpolated up'}.`;
};

/** How colours leave: size, bleed, format and names. */
export function TextureFields({ document }: { readonly document: ProjectDocument }) {
  const settings = useDelivery((s) => s.settings);
  const { sheets } = document;
  const size = settings.size ?? suitableSize(sheets);
  return (
    <>
      <ChoiceField
        label="Size"
        value={size as NonNullable<DeliverySettings['size']>}
        choices={[
          ...(sheets.length > 1 ? ([[OWN_SIZE, 'each its own']] as const) : []),
          ...DELIVERED_SIZES.map((n) => [n, `${n} × ${n}`] as const),
        ]}
        onChange={(chosen) => setDelivery({ size: chosen })}
      />
      <ChoiceField
        label="Bleed"
        value={settings.bleed}
        choices={BLEEDS}
        onChange={(bleed) => setDelivery({ bleed })}
      />
      <ChoiceField
        label="Alpha"
        value={settings.alpha}
        choices={ALPHAS}
        onChange={(alpha) => setDelivery({ alpha })}
      />
      <ChoiceField
        label="Format"
        value={settings.format}
        choices={FORMATS}
        onChange={(format) => setDelivery({ format })}
      />
      {settings.format === 'webp-small' && <QualityField quality={settings.quality} />}
      {settings.format === 'ktx2' && <LevelFields settings={settings} size={size || sheets[0]!.size} />}
      <p className="hint-line">{[sizeNote(sheets, size), SAYS[settings.format]].filter(Boolean).join(' ')}</p>
      <NamesField document={document} />
    </>
  );
}

function QualityField({ quality }: { readonly quality: number }) {
  const choices = [...new Set([95, 90, 80, 70, 50, quality])].sort((a, b) => b - a);
  return (
    <ChoiceField
      label="Quality"
      value={quality}
      choices={choices.map((n) => [n, String(n)] as const)}
      onChange={(chosen) => setDelivery({ quality: chosen })}
    />
  );
}

const HALVINGS = [
  ['linear', 'halved in light'],
  ['encoded', 'halved as stored'],
] as const;

const EFFORTS = [
  ['fast', 'fast'],
  ['fine', 'fine, four times as long'],
] as const;

function LevelFields({ settings, size }: { readonly settings: DeliverySettings; readonly size: number }) {
  return (
    <>
      <ChoiceField
        label="Mipmaps"
        value={settings.halving}
        choices={HALVINGS}
        title={`${levelCount(size)} levels, each the mean of four texels of the one before`}
        onChange={(halving) => setDelivery({ halving })}
      />
      <ChoiceField
        label="Encoder"
        value={settings.effort}
        choices={EFFORTS}
        onChange={(effort) => setDelivery({ effort })}
      />
    </>
  );
}

function NamesField({ document }: { readonly document: ProjectDocument }) {
  const settings = useDelivery((s) => s.settings);
  let says: string;
  let isWrong = false;
  try {
    says = deliveredNames(document, settings).albedo.join(', ');
  } catch (error) {
    says = sentenceOf(error);
    isWrong = true;
  }
  return (
    <Fold title="Names" note={settings.names}>
      <Form.Control
        size="sm"
        aria-label="Pattern of the names"
        value={settings.names}
        isInvalid={isWrong}
        maxLength={120}
        spellCheck={false}
        onChange={(e) => setDelivery({ names: e.target.value })}
      />
      <p className="hint-line" role={isWrong ? 'alert' : undefined}>
        {says}
      </p>
    </Fold>
  );
}
