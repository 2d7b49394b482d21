/**
 * Geometry of a document that goes to where the file grows as it is made, and is kept nowhere else: the points of each mesh interleaved,
 * then all indices. The library keeps every number until it writes, several times over; of these it only learns where they stand.
 */
import type { Accessor, Buffer, Document, GLTF } from '@gltf-transform/core';
import type { Content, Spool, Spooling } from '../../content.ts';
import { bytesOf } from '../../bytes.ts';
import type { Attribute, GeometryMaker } from './geometry.ts';

const [FLOATS, SHORTS, WHOLES] = [5126, 5123, 5125] as const;
const [ARRAY_BUFFER, ELEMENT_ARRAY_BUFFER] = [34962, 34963];
/** Numbers of each type. */
const WIDTHS = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4 } as const;

/** Stands in the list of extensions while the document is written, and not in the file. */
const NAME = 'streamed';

export class StreamedGeometry implements GeometryMaker {
  readonly #points: Spooling;
  readonly #indices: Spooling;
  #pointsLength = 0;
  #indicesLength = 0;
  readonly #accessors: { accessor: Accessor; text: GLTF.IAccessor; view: GLTF.IBufferView }[] = [];
  readonly #views: GLTF.IBufferView[] = [];
  readonly #indexView: GLTF.IBufferView = { buffer: 0, byteOffset: 0, byteLength: 0, target: ELEMENT_ARRAY_BUFFER };

  /** @param library what documents are made with */
  constructor(
    readonly document: Document,
    readonly buffer: Buffer,
    spool: Spool,
    { Extension, PropertyType }: typeof import('@gltf-transform/core'),
  ) {
    this.#points = spool.open();
    this.#indices = spool.open();
    const enter: Enter = (accessors, json) => this.#enter(accessors, json);
    class Streamed extends Extension {
      static override readonly EXTENSION_NAME = NAME;
      override readonly extensionName = NAME;
      override readonly prewriteTypes = [PropertyType.ACCESSOR];
      override prewrite({ accessorIndexMap, jsonDoc }: { accessorIndexMap: Map<Accessor, number>; jsonDoc: { json: GLTF.IGLTF } }) {
        enter(accessorIndexMap, jsonDoc.json);
        return this;
      }
      read() {
        return this;
      }
      write() {
        return this;
      }
    } // prettier-ignore
    this.extension = Streamed;
    document.createExtension(Streamed);
  }

  /** To be registered with what writes the document. */
  readonly extension: typeof import('@gltf-transform/core').Extension;

  attributes(list: readonly Attribute[]): [string, Accessor][] {
    const [[, { length }, first]] = list;
    const count = length / WIDTHS[first];
    const width = list.reduce((sum, [, , type]) => sum + WIDTHS[type], 0);
    const view: GLTF.IBufferView = { buffer: 0, byteOffset: this.#pointsLength, byteLength: count * width * 4, byteStride: width * 4, target: ARRAY_BUFFER }; // prettier-ignore
    this.#views.push(view);
    this.#pointsLength += view.byteLength;
    this.#points.write(bytesOf(interleaved(list, count, width)));
    let at = 0;
    return list.map(([semantic, values, type]) => {
      const text: GLTF.IAccessor = { type, componentType: FLOATS, count, byteOffset: at, ...(semantic === 'POSITION' ? limitsOf(values) : {}) }; // prettier-ignore
      at += WIDTHS[type] * 4;
      return [semantic, this.#placed(text, view)];
    });
  }

  indices(values: Uint16Array | Uint32Array): Accessor {
    const text: GLTF.IAccessor = {
      type: 'SCALAR',
      componentType: values instanceof Uint16Array ? SHORTS : WHOLES,
      count: values.length,
      byteOffset: this.#indicesLength,
    };
    const rest = (4 - (values.byteLength % 4)) % 4;
    this.#indices.write(bytesOf(values));
    this.#indices.write(new Uint8Array(rest));
    this.#indicesLength += values.byteLength + rest;
    this.#indexView.byteLength = this.#indicesLength;
    return this.#placed(text, this.#indexView);
  }

  /**
   * Ends the geometry: it comes behind what the library made of its buffer.
   * @param before bytes of the latter
   */
  finish(json: GLTF.IGLTF, before: number): Content[] {
    json.extensionsUsed = json.extensionsUsed?.filter((name) => name !== NAME);
    if (!json.extensionsUsed?.length) delete json.extensionsUsed;
    const start = Math.ceil(before / 4) * 4;
    for (const view of this.#views) view.byteOffset = (view.byteOffset ?? 0) + start;
    this.#indexView.byteOffset = start + this.#pointsLength;
    const length = this.#pointsLength + this.#indicesLength;
    if (length > 0 && json.buffers?.[0]) json.buffers[0].byteLength = start + length;
    return [this.#points.end(), this.#indices.end()];
  }

  #placed(text: GLTF.IAccessor, view: GLTF.IBufferView): Accessor {
    const accessor = this.document.createAccessor().setType(text.type as 'VEC3').setBuffer(this.buffer); // prettier-ignore
    this.#accessors.push({ accessor, text, view });
    return accessor;
  }

  #enter(accessors: Map<Accessor, number>, json: GLTF.IGLTF): void {
    const [texts, views] = [(json.accessors ??= []), (json.bufferViews ??= [])];
    const numbers = new Map<GLTF.IBufferView, number>();
    for (const view of [...this.#views, ...(this.#indicesLength > 0 ? [this.#indexView] : [])]) numbers.set(view, views.push(view) - 1); // prettier-ignore
    for (const { accessor, text, view } of this.#accessors)
      accessors.set(accessor, texts.push({ ...text, bufferView: numbers.get(view) as number }) - 1);
  }
}

type Enter = (accessors: Map<Accessor, number>, json: GLTF.IGLTF) => void;

function interleaved(list: readonly Attribute[], count: number, width: number): Float32Array {
  if (list.length === 1) return list[0][1];
  const out = new Float32Array(count * width);
  let at = 0;
  for (const [, values, type] of list) {
    const own = WIDTHS[type];
    for (let i = 0, from = 0, to = at; i < count; i++, to += width)
      for (let k = 0; k < own; k++) out[to + k] = values[from++];
    at += own;
  }
  return out;
}

/** Least and largest of each coordinate, which readers expect of positions. */
function limitsOf(values: Float32Array): { min: number[]; max: number[] } {
  const [min, max] = [values.slice(0, 3), values.slice(0, 3)];
  for (let i = 3; i < values.length; i++) {
    const k = i % 3;
    if (values[i] < min[k]) min[k] = values[i];
    else if (values[i] > max[k]) max[k] = values[i];
  }
  return { min: [...min], max: [...max] };
}
