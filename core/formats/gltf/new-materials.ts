import type { GLTF } from '@gltf-transform/core';
import { hexToRgb, srgbToLinear } from '../../color';
import { backdropSheets, sheetCount, type UvMesh } from '../../mesh';
import { uvFigures } from '../../surface';
import type { JsonWriter } from './json-writer';
import { copyOf } from './container';
import { everyTexture } from './references';
import { CLAMP_TO_EDGE, REPEAT, type GlbDetail, type GlbLook } from './look';

/** What a primitive is drawn with. */
export type Drawn = { readonly as: 'sheet'; readonly sheet: number } | { readonly as: 'ramps' | 'outline' };

const unlit = { KHR_materials_unlit: {} };

/** The materials of what was painted, in the place of those that the file had. Each is made once. */
export class NewMaterials {
  private readonly writer: JsonWriter;
  private readonly look: GlbLook;
  private readonly mesh: UvMesh;
  private readonly known = new Map<string, number>();
  private readonly textures = new Map<string, number>();
  private readonly wrap: GLTF.TextureWrapMode;
  /** Materials of the file that lie on each sheet. */
  private readonly onSheet: readonly ReadonlySet<number>[];

  /** @param uses the sheet and the file's own material of everything that is drawn; -1 where it has none */
  constructor(
    writer: JsonWriter,
    mesh: UvMesh,
    look: GlbLook,
    uses: readonly { readonly sheet: number; readonly material: number }[],
  ) {
    this.writer = writer;
    this.look = look;
    this.mesh = mesh;
    this.wrap = uvFigures(mesh).outOfRange > 0 ? REPEAT : CLAMP_TO_EDGE;
    this.onSheet = Array.from(
      { length: sheetCount(mesh) },
      (_, sheet) => new Set(uses.filter((u) => u.sheet === sheet).map((u) => u.material)),
    );
  }

  /**
   * @param was number of the material that the file draws it with; -1 where it has none
   * @param movedUvs the set in which the UVs are that other textures of that material are made for; 0 where they stay
   * @returns null where it stays as it was
   */
  of(drawn: Drawn, was: number, movedUvs: number): number | null {
    if (drawn.as !== 'sheet') return this.once(drawn.as, () => this.ownMaterial(drawn.as));
    const { sheet } = drawn;
    const albedo = this.look.albedos[sheet];
    if (this.look.material === 'unlit') {
      const old = this.writer.json.materials?.[was];
      const { doubleSided = false, alphaMode = 'OPAQUE', alphaCutoff = 0.5 } = old ?? {};
      const kind = `${sheet} ${doubleSided} ${alphaMode} ${alphaCutoff}`;
      return this.once(`unlit ${kind}`, () => this.unlitMaterial(sheet, old));
    }
    if (!albedo && movedUvs === 0) return null;
    return this.once(`kept ${sheet} ${was} ${movedUvs}`, () => this.keptMaterial(sheet, was, movedUvs));
  }

  private once(key: string, make: () => GLTF.IMaterial): number {
    let number = this.known.get(key);
    if (number === undefined) this.known.set(key, (number = this.writer.add('materials', make())));
    return number;
  }

  /** What lies on the ramp sheet, and the outline. */
  private ownMaterial(as: 'ramps' | 'outline'): GLTF.IMaterial {
    const { name, ramps, hull } = this.look;
    this.writer.uses('KHR_materials_unlit');
    if (as === 'ramps') {
      const index = this.writer.texture(`${name} ramps`, ramps!.png, CLAMP_TO_EDGE);
      return plain(`${name} ramps`, { baseColorTexture: { index } });
    }
    const { r, g, b } = hexToRgb(hull!.color);
    const color = [...[r, g, b].map((c) => srgbToLinear(c / 255)), 1];
    return plain(`${name} outline`, {
      baseColorFactor: color as GLTF.IMaterialPbrMetallicRoughness['baseColorFactor'] & object,
    });
  }

  private unlitMaterial(sheet: number, old: GLTF.IMaterial | undefined): GLTF.IMaterial {
    const { detail } = this.look;
    const isBackdrop = backdropSheets(this.mesh).has(sheet);
    // A material that a sheet has to itself keeps its name: engines know it by that.
    const own = this.onSheet[sheet]?.size === 1 && !isBackdrop ? old : undefined;
    const title = this.titleOf(sheet);
    this.writer.uses('KHR_materials_unlit');
    const index = this.albedo(sheet);
    const { doubleSided, alphaMode, alphaCutoff } = old ?? {};
    const extras = { ...(own?.extras as object | undefined) };
    if (detail?.pngs[sheet] && !isBackdrop)
      Object.assign(extras, { detailTexture: { slot: 'occlusionTexture', ...detail.says } });
    return {
      ...plain(own?.name || title, index === null ? {} : { baseColorTexture: { index } }),
      ...(doubleSided && { doubleSided }),
      ...(alphaMode && { alphaMode }),
      ...(alphaCutoff !== undefined && { alphaCutoff }),
      // One looks through what is bare of a backdrop (glTF 2.0, section 3.9.4), and past it from behind: glTF culls back faces.
      ...(isBackdrop && { alphaMode: 'MASK', alphaCutoff: 0.5 }),
      ...this.detailOf(sheet, title, isBackdrop ? undefined : detail),
      ...(Object.keys(extras).length > 0 && { extras }),
    };
  }

  private detailOf(sheet: number, title: string, detail: GlbDetail | undefined): Partial<GLTF.IMaterial> {
    const png = detail?.pngs[sheet];
    if (!png) return {};
    const index = this.writer.texture(`${title} detail`, png, this.wrap);
    return { occlusionTexture: { index, strength: 0 } };
  }

  /** The file's material with another base colour. */
  private keptMaterial(sheet: number, was: number, movedUvs: number): GLTF.IMaterial {
    const material = copyOf(this.writer.json.materials?.[was] ?? { name: this.titleOf(sheet) });
    if (movedUvs > 0) {
      everyTexture(material, (info) => {
        const own = info.extensions?.['KHR_texture_transform'] as { texCoord?: number } | undefined;
        if ((own?.texCoord ?? info.texCoord ?? 0) !== 0) return;
        info.texCoord = movedUvs;
        if (own && own.texCoord !== undefined) own.texCoord = movedUvs;
      });
    }
    const index = this.albedo(sheet);
    if (index === null) return material;
    const { baseColorFactor, baseColorTexture: _was, ...rest } = material.pbrMetallicRoughness ?? {};
    const alpha = baseColorFactor?.[3] ?? 1;
    material.pbrMetallicRoughness = {
      ...rest,
      baseColorTexture: { index },
      // The colour is in the paint now; how much is seen through stays.
      ...(alpha !== 1 && { baseColorFactor: [1, 1, 1, alpha] }),
    };
    const glossy = material.extensions?.['KHR_materials_pbrSpecularGlossiness'] as
      { diffuseFactor?: number[]; diffuseTexture?: GLTF.ITextureInfo } | undefined;
    if (glossy) {
      glossy.diffuseTexture = { index };
      glossy.diffuseFactor = [1, 1, 1, glossy.diffuseFactor?.[3] ?? 1];
    }
    return material;
  }

  private titleOf(sheet: number): string {
    return sheet === 0 ? this.look.name : `${this.look.name} ${sheet + 1}`;
  }

  /** The texture of a sheet; null where it has no picture. */
  private albedo(sheet: number): number | null {
    const picture = this.look.albedos[sheet];
    if (!picture) return null;
    const key = `albedo ${sheet}`;
    let index = this.textures.get(key);
    if (index === undefined) {
      index = this.writer.texture(`${this.titleOf(sheet)} albedo`, picture, this.wrap);
      this.textures.set(key, index);
    }
    return index;
  }
}

const plain = (name: string, colour: GLTF.IMaterialPbrMetallicRoughness): GLTF.IMaterial => ({
  name,
  pbrMetallicRoughness: { ...colour, metallicFactor: 0, roughnessFactor: 1 },
  extensions: copyOf(unlit),
});
