/** Sets of materials that a glTF file can be shown in (KHR_materials_variants). */
import type { JSONDocument, Material, Primitive } from '@gltf-transform/core';
import type { MappingList } from '@gltf-transform/extensions';

/** Names in the order of the file. */
export function variantsOf({ json }: JSONDocument): string[] {
  const extension = json.extensions?.KHR_materials_variants as { variants?: { name?: unknown }[] } | undefined;
  const names = (extension?.variants ?? []).map(({ name }) => String(name ?? '').trim());
  return [...new Set(names.filter(Boolean))];
}

/** Material ids per slot by variant, of variants that change some; undefined where none does. */
export function materialsByVariant(
  primitives: readonly Primitive[],
  materials: readonly string[],
  enter: (material: Material | null) => string,
): Record<string, string[]> | undefined {
  const out: Record<string, string[]> = {};
  primitives.forEach((primitive, slot) => {
    const mappings = primitive.getExtension<MappingList>('KHR_materials_variants')?.listMappings() ?? [];
    for (const mapping of mappings)
      for (const variant of mapping.listVariants())
        (out[variant.getName().trim()] ??= [...materials])[slot] = enter(mapping.getMaterial());
  });
  return Object.keys(out).length > 0 ? out : undefined;
}
