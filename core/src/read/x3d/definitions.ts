/** What an X3D file defines by name (DEF) and uses again (USE). */
import { childrenNamed, everything } from '../xml.ts';
import type { XmlElement } from '../xml.ts';

export class Definitions {
  readonly #defined = new Map<string, XmlElement>();

  constructor(root: XmlElement) {
    for (const element of everything(root)) {
      const { DEF } = element.attributes;
      if (DEF && !this.#defined.has(DEF)) this.#defined.set(DEF, element);
    }
  }

  named(name: string | undefined): XmlElement | undefined {
    return name === undefined ? undefined : this.#defined.get(name);
  }

  /** The element itself, or the one that it uses again. */
  used(element: XmlElement): XmlElement {
    return this.named(element.attributes.USE) ?? element;
  }

  /** The first child of one of these kinds. */
  part(element: XmlElement, ...names: string[]): XmlElement | undefined {
    const [found] = childrenNamed(element, ...names);
    return found && this.used(found);
  }
}
