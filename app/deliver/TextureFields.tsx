import { Form } from 'react-bootstrap';
import {
  DELIVERED_SIZES,
  deliveredNames,
  levelCount,
  type DeliverySettings,
  type TextureFormat,
} from '../../core/delivery';
import type { ProjectDocument } from '../../core/engine';
import { sentenceOf } from '../../core/errors';
import { Fold } from '../shared/Fold';
import { OWN_SIZE, setDelivery, suitableSize, useDelivery } from './delivery-settings';

/** Texels that colour reaches past the islands. */
const BLEEDS = [
  { label: 'the whole sheet', value: null },
  { label: '32 texels', value: 32 },
  { label: '16 texels', value: 16 },
  { label: '6 texels', value: 6 },
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
      <label className="field">
        Size
        <Form.Select
          size="sm"
          value={size}
          onChange={(e) => setDelivery({ size: Number(e.target.value) as DeliverySettings['size'] })}
        >
          {sheets.length > 1 && <option value={OWN_SIZE}>each its own</option>}
          {DELIVERED_SIZES.map((n) => (
            <option key={n} value={n}>
              {n} × {n}
            </option>
          ))}
        </Form.Select>
      </label>
      <label className="field">
        Bleed
        <Form.Select
          size="sm"
          value={String(settings.bleed)}
          onChange={(e) => setDelivery({ bleed: e.target.value === 'null' ? null : Number(e.target.value) })}
        >
          {BLEEDS.map((b) => (
            <option key={b.label} value={String(b.value)}>
              {b.label}
            </option>
          ))}
        </Form.Select>
      </label>
      <label className="field">
        Alpha
        <Form.Select
          size="sm"
          value={settings.alpha}
          onChange={(e) => setDelivery({ alpha: e.target.value as DeliverySettings['alpha'] })}
        >
          <option value="opaque">opaque everywhere</option>
          <option value="painted">as it was painted</option>
        </Form.Select>
      </label>
      <label className="field">
        Format
        <Form.Select
          size="sm"
          value={settings.format}
          onChange={(e) => setDelivery({ format: e.target.value as TextureFormat })}
        >
          {FORMATS.map(([format, label]) => (
            <option key={format} value={format}>
              {label}
            </option>
          ))}
        </Form.Select>
      </label>
      {settings.format === 'webp-small' && <QualityField quality={settings.quality} />}
      {settings.format === 'ktx2' && <LevelFields settings={settings} size={size || sheets[0]!.size} />}
      <p className="hint-line">{[sizeNote(sheets, size), SAYS[settings.format]].filter(Boolean).join(' ')}</p>
      <NamesField document={document} />
    </>
  );
}

function QualityField({ quality }: { readonly quality: number }) {
  return (
    <label className="field">
      Quality
      <Form.Select
        size="sm"
        value={quality}
        onChange={(e) => setDelivery({ quality: Number(e.target.value) })}
      >
        {[95, 90, 80, 70, 50].map((n) => (
          <option key={n} value={n}>
            {n}
          </option>
        ))}
      </Form.Select>
    </label>
  );
}

function LevelFields({ settings, size }: { readonly settings: DeliverySettings; readonly size: number }) {
  return (
    <>
      <label className="field">
        Mipmaps
        <Form.Select
          size="sm"
          value={settings.halving}
          title={`${levelCount(size)} levels, each the mean of four texels of the one before`}
          onChange={(e) => setDelivery({ halving: e.target.value as DeliverySettings['halving'] })}
        >
          <option value="linear">halved in light</option>
          <option value="encoded">halved as stored</option>
        </Form.Select>
      </label>
      <label className="field">
        Encoder
        <Form.Select
          size="sm"
          value={settings.effort}
          onChange={(e) => setDelivery({ effort: e.target.value as DeliverySettings['effort'] })}
        >
          <option value="fast">fast</option>
          <option value="fine">fine, four times as long</option>
        </Form.Select>
      </label>
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
