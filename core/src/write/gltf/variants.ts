/** What parts show in other variants of their source, as the extension KHR_materials_variants has it: a material for each by its name. */
import type { Document, Primitive } from '@gltf-transform/core';
import type { Variant } from '@gltf-transform/extensions';
import type { SceneNode } from '../../scene/types.ts';
import type { GltfMaterials } from './materials.ts';

type Extensions = typeof import('@gltf-transform/extensions');

export class GltfVariants {
  readonly #made = new Map<string, Variant>();

  constructor(
    readonly document: Document,
    readonly extensions: Extensions,
    readonly materials: GltfMaterials,
  ) {}

  /** Equal for parts that show the same in every variant. */
  keyOf({ variants }: SceneNode): string {
    return variants ? JSON.stringify(variants) : '';
  }

  /** Enters what a slot of a part shows in each variant that says something of it. */
  async put(primitive: Primitive, { variants = {} }: SceneNode, slot: number): Promise<void> {
    const said = Object.entries(variants).filter(([, ids]) => ids[slot] !== undefined);
    if (said.length === 0) return;
    const extension = this.document.createExtension(this.extensions.KHRMaterialsVariants);
    const list = extension.createMappingList();
    for (const [name, ids] of said) {
      let variant = this.#made.get(name);
      if (!variant) this.#made.set(name, (variant = extension.createVariant(name)));
      list.addMapping(
        extension
          .createMapping()
          .setMaterial(await this.materials.get(ids[slot]))
          .addVariant(variant),
      );
    }
    primitive.setExtension('KHR_materials_variants', list);
  }
}
