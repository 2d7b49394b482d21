/** Products whose shape is in another file, by document and external identification (ISO 10303-41, as the recommended practices use them). */
import type { Entities } from './entities.ts';

/** Names of files by index of the product definition. */
export function externalDocuments(entities: Entities): Map<number, string> {
  const { file } = entities;
  const externals = new Map<number, string>();
  const names = new Map<number, string>();
  for (const index of file.ofType('DOCUMENT_FILE')) {
    const [id, name] = entities.args(index, 'DOCUMENT');
    const written = [id, name].map((value) => entities.text(value)).find((text) => text.includes('.'));
    if (written) names.set(index, written);
  }
  entities.each('APPLIED_EXTERNAL_IDENTIFICATION_ASSIGNMENT', (index, [assigned, , , items]) => {
    const written = entities.text(assigned);
    if (!written.includes('.')) return;
    for (const item of Array.isArray(items) ? items : []) {
      const document = entities.follow(item, index);
      if (document >= 0 && file.is(document, 'DOCUMENT_FILE')) names.set(document, written);
    }
  });
  const note = (definition: number, document: number) => {
    const name = names.get(document);
    if (name && definition >= 0) externals.set(definition, name);
  };
  entities.each('PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS', (index, args) => {
    for (const item of Array.isArray(args[4]) ? args[4] : []) note(index, entities.follow(item, index));
  });
  entities.each('APPLIED_DOCUMENT_REFERENCE', (index, [document, , items]) => {
    const target = entities.follow(document, index);
    for (const item of Array.isArray(items) ? items : []) {
      const what = entities.follow(item, index);
      if (what < 0) continue;
      if (file.typeOf(what).startsWith('PRODUCT_DEFINITION_FORMATION')) {
        for (const type of ['PRODUCT_DEFINITION', 'PRODUCT_DEFINITION_WITH_ASSOCIATED_DOCUMENTS'])
          for (const definition of file.ofType(type))
            if (entities.follow(entities.args(definition)[2], definition) === what) note(definition, target);
      } else note(what, target);
    }
  });
  return externals;
}
