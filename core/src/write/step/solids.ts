/** Exact solids as they were received, in a STEP file: their text with other numbers, once for each colour and layer that they show. */
import { facesOf } from '../../read/step/shell.ts';
import { looksLikePart21, scanPart21 } from '../../read/step/scan.ts';
import { PrismError } from '../../errors.ts';
import { srgbFromLinear } from '../../finish/colour.ts';
import { NO_MATERIAL } from '../../scene/types.ts';
import type { Material, Scene, SceneNode, SolidInfo } from '../../scene/types.ts';
import type { BlobStore } from '../../surroundings.ts';
import { list, real, reals, string } from './text.ts';
import type { StepFile } from './text.ts';

/** A solid in the file. */
export interface WrittenSolid {
  solid: number;
  /** Its representation context, with its unit. */
  context: number;
  representation: string;
}

export class StepSolids {
  readonly #written = new Map<string, WrittenSolid>();
  readonly #styles = new Map<string, number>();
  /** Styled items by context: each has its own presentation. */
  readonly #styled = new Map<number, number[]>();
  readonly #layers = new Map<string, number[]>();

  constructor(
    readonly file: StepFile,
    readonly scene: Scene,
    readonly blobs: BlobStore,
  ) {}

  async of(node: SceneNode): Promise<WrittenSolid> {
    const key = `${node.solid} ${node.materials.join(' ')} ${node.layer ?? ''}`;
    let written = this.#written.get(key);
    if (!written) this.#written.set(key, (written = await this.#write(node, this.scene.solids[node.solid as string])));
    return written;
  }

  async #write(node: SceneNode, info: SolidInfo): Promise<WrittenSolid> {
    const bytes = await this.blobs.get(info.text);
    if (!looksLikePart21(bytes))
      throw new PrismError('bad-parameters', `${node.name} came as IGES or BREP: only solids that came as STEP go out as STEP. Leave it out of this target, or send meshes.`); // prettier-ignore
    const text = partsOf(bytes);
    const first = this.file.adopt(text.entities, text.count);
    const received = text.context <= text.count ? first - 1 + text.context : this.#millimetres();
    const context = info.scale === undefined || info.scale === 1 ? received : this.#scaled(info.scale);
    const colours = node.materials.map((id) => (id === NO_MATERIAL.id ? undefined : this.scene.materials[id]));
    this.#style(first, context, colours[0]);
    if (info.faceSlots) {
      const part21 = scanPart21(bytes);
      for (const [i, face] of facesOf(part21, part21.indexOf(1)).entries()) {
        const slot = info.faceSlots[i] ?? 0;
        if (slot > 0) this.#style(first - 1 + part21.ids[face], context, colours[slot]);
      }
    }
    if (node.layer) this.#layers.set(node.layer, [...(this.#layers.get(node.layer) ?? []), first]);
    return { solid: first, context, representation: text.representation };
  }

  #millimetres(): number {
    return contextOf(this.file, this.file.add('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))'));
  }

  /** What was scaled is the same text in a unit that is as much larger: millimetres are what texts are in nearly always. */
  #scaled(scale: number): number {
    const base = this.file.add('(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.))');
    const dimensions = this.file.add('DIMENSIONAL_EXPONENTS(1.,0.,0.,0.,0.,0.,0.)');
    const measure = this.file.add(`LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(${real(scale)}),#${base})`);
    return contextOf(this.file, this.file.add(`(CONVERSION_BASED_UNIT('SCALED',#${measure})LENGTH_UNIT()NAMED_UNIT(#${dimensions}))`)); // prettier-ignore
  }

  #style(item: number, context: number, material: Material | undefined): void {
    if (!material) return;
    const colour = material.baseColor.map((value) => Number(srgbFromLinear(value).toFixed(6)));
    const opacity = material.opacity * (1 - (material.transmission ?? 0));
    const key = `${colour.join(' ')} ${opacity}`;
    let style = this.#styles.get(key);
    if (style === undefined) this.#styles.set(key, (style = this.#colour(colour, opacity)));
    const styled = this.file.add(`STYLED_ITEM('',(#${style}),#${item})`);
    this.#styled.set(context, [...(this.#styled.get(context) ?? []), styled]);
  }

  #colour(colour: readonly number[], opacity: number): number {
    const { file } = this;
    const rgb = file.add(`COLOUR_RGB('',${reals(colour).slice(1, -1)})`);
    const fill = file.add(`FILL_AREA_STYLE('',(#${file.add(`FILL_AREA_STYLE_COLOUR('',#${rgb})`)}))`);
    const styles = [file.add(`SURFACE_STYLE_FILL_AREA(#${fill})`)];
    if (opacity < 1) {
      const through = file.add(`SURFACE_STYLE_TRANSPARENT(${real(Number((1 - opacity).toFixed(6)))})`);
      styles.push(file.add(`SURFACE_STYLE_RENDERING_WITH_PROPERTIES(.NORMAL_SHADING.,#${rgb},(#${through}))`));
    }
    const side = file.add(`SURFACE_SIDE_STYLE('',${list(styles)})`);
    return file.add(`PRESENTATION_STYLE_ASSIGNMENT((#${file.add(`SURFACE_STYLE_USAGE(.BOTH.,#${side})`)}))`);
  }

  /** Writes what stands behind all solids: their presentations, and the layers. */
  finish(): void {
    for (const [context, items] of this.#styled)
      this.file.add(`MECHANICAL_DESIGN_GEOMETRIC_PRESENTATION_REPRESENTATION('',${list(items)},#${context})`);
    for (const [name, items] of this.#layers)
      this.file.add(`PRESENTATION_LAYER_ASSIGNMENT(${string(name)},'',${list(items)})`);
  }
}

/** A representation context in some unit of length. */
export function contextOf(file: StepFile, length: number): number {
  const angle = file.add('(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.))');
  const solid = file.add('(NAMED_UNIT(*)SI_UNIT($,.STERADIAN.)SOLID_ANGLE_UNIT())');
  const accuracy = file.add(`UNCERTAINTY_MEASURE_WITH_UNIT(LENGTH_MEASURE(1.E-6),#${length},'distance_accuracy_value','')`); // prettier-ignore
  return file.add(`(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNCERTAINTY_ASSIGNED_CONTEXT((#${accuracy}))GLOBAL_UNIT_ASSIGNED_CONTEXT((#${length},#${angle},#${solid}))REPRESENTATION_CONTEXT('',''))`); // prettier-ignore
}

/**
 * Of the self-contained text of a solid (see `read/step/cut.ts`): its own entities, numbered from 1, of which 1 is the solid; how many
 * these are; the number of the context; and the kind of representation that shows it. A product stands behind them.
 */
function partsOf(bytes: Uint8Array): { entities: Uint8Array; count: number; context: number; representation: string } {
  const text = latin.decode(bytes);
  const start = text.indexOf('DATA;') + 6;
  const end = text.lastIndexOf("=APPLICATION_CONTEXT('')");
  const from = text.lastIndexOf('\n', end) + 1;
  const [, number] = /#(\d+)$/.exec(text.slice(from, end)) ?? [];
  const [, representation, context] = /#\d+=(\w*REPRESENTATION)\('',\(#\d+,#1\),#(\d+)\)/.exec(text.slice(from)) ?? [];
  return {
    entities: bytes.subarray(start, from),
    count: Number(number) - 1,
    context: Number(context),
    representation,
  };
}

const latin = new TextDecoder('latin1');
