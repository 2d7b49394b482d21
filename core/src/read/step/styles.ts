/** Colours and layers of a STEP file: what is assigned to which entity, by id. */
import { Enumeration, Ref } from './values.ts';
import type { Part21 } from './part21.ts';
import type { Value } from './values.ts';

/** Red, green, blue as written (0 to 1, taken as sRGB, common practice) and opacity. */
export interface Colour {
  rgb: [number, number, number];
  opacity: number;
}

/** A colour that holds only where the item is placed by a given usage. */
export interface PlacedColour {
  item: number;
  colour: Colour;
}

export interface Styles {
  /** Colour by id of the styled item (solid, shell, face, mapped item, representation). */
  colours: Map<number, Colour>;
  /** Colours of placements, by the id of the relationship or usage that they name as their context. */
  placed: Map<number, PlacedColour[]>;
  /** Layer name by id of the item. */
  layers: Map<number, string>;
  layerNames: { name: string; description: string }[];
  invisible: Set<number>;
}

/** Colours that ISO 10303-46 names instead of giving figures. */
const NAMED_COLOURS: Record<string, [number, number, number]> = {
  red: [1, 0, 0], green: [0, 1, 0], blue: [0, 0, 1], yellow: [1, 1, 0],
  magenta: [1, 0, 1], cyan: [0, 1, 1], black: [0, 0, 0], white: [1, 1, 1],
}; // prettier-ignore

/** Style entities on the way from a styled item to its colour. Only these are followed, so a cycle or a maze costs little. */
const STYLE_TYPES = [
  'PRESENTATION_STYLE_ASSIGNMENT', 'PRESENTATION_STYLE_BY_CONTEXT', 'SURFACE_STYLE_USAGE', 'SURFACE_SIDE_STYLE',
  'SURFACE_STYLE_FILL_AREA', 'SURFACE_STYLE_RENDERING', 'SURFACE_STYLE_RENDERING_WITH_PROPERTIES',
  'FILL_AREA_STYLE', 'FILL_AREA_STYLE_COLOUR',
]; // prettier-ignore

/** Reads all styles and layers of a file. An unreadable one is left out with a warning on the file. */
export function readStyles(file: Part21): Styles {
  const styles: Styles = {
    colours: new Map(),
    placed: new Map(),
    layers: new Map(),
    layerNames: [],
    invisible: new Set(),
  };
  const cache = new Map<number, Colour | null>();

  const guarded = (index: number, read: () => void) => {
    try {
      read();
    } catch (error) {
      file.warnings.push({
        code: 'style',
        message: `A colour or layer could not be read: ${(error as Error).message}`,
        where: file.where(index),
      });
    }
  };

  for (const index of file.ofType('STYLED_ITEM')) {
    guarded(index, () => {
      const [, assigned, item] = file.args(index, 'STYLED_ITEM');
      if (item instanceof Ref) set(styles.colours, item.id, assigned, false);
    });
  }
  // An overriding style prevails over the one it overrides, whatever the order in the file.
  for (const index of file.ofType('OVER_RIDING_STYLED_ITEM')) {
    guarded(index, () => {
      const args = file.args(index, 'OVER_RIDING_STYLED_ITEM');
      if (args[2] instanceof Ref) set(styles.colours, args[2].id, args[1], true);
    });
  }
  for (const index of file.ofType('CONTEXT_DEPENDENT_OVER_RIDING_STYLED_ITEM')) {
    guarded(index, () => {
      const [, assigned, item, , contexts] = file.args(index);
      const colour = colourOf(assigned);
      if (!(item instanceof Ref) || !colour || !Array.isArray(contexts)) return;
      for (const context of contexts) {
        if (!(context instanceof Ref)) continue;
        const list = styles.placed.get(context.id) ?? [];
        list.push({ item: item.id, colour });
        styles.placed.set(context.id, list);
      }
    });
  }
  for (const index of file.ofType('PRESENTATION_LAYER_ASSIGNMENT')) {
    guarded(index, () => {
      const [name, description, items] = file.args(index);
      const layer = String(name ?? '').trim() || 'Layer without a name';
      styles.layerNames.push({ name: layer, description: String(description ?? '') });
      for (const item of Array.isArray(items) ? items : []) {
        if (!(item instanceof Ref)) continue;
        styles.layers.set(item.id, layer);
        // A layer may hold the styled item instead of the shape: it means the shape.
        const styled = file.indexOf(item.id);
        if (styled >= 0 && file.is(styled, 'STYLED_ITEM')) {
          const shape = file.args(styled, 'STYLED_ITEM')[2];
          if (shape instanceof Ref && !styles.layers.has(shape.id)) styles.layers.set(shape.id, layer);
        }
      }
    });
  }
  for (const index of file.ofType('INVISIBILITY')) {
    guarded(index, () => {
      const [items] = file.args(index);
      for (const item of Array.isArray(items) ? items : []) if (item instanceof Ref) styles.invisible.add(item.id);
    });
  }
  return styles;

  function set(target: Map<number, Colour>, item: number, assigned: Value, replace: boolean): void {
    const colour = colourOf(assigned);
    if (colour && (replace || !target.has(item))) target.set(item, colour);
  }

  /** Surface colour of a list of style assignments; null where they style only curves or points. */
  function colourOf(assigned: Value): Colour | null {
    for (const style of Array.isArray(assigned) ? assigned : []) {
      const colour = style instanceof Ref ? colourOfEntity(style.id) : null;
      if (colour) return colour;
    }
    return null;
  }

  function colourOfEntity(id: number): Colour | null {
    const known = cache.get(id);
    if (known !== undefined) return known;
    cache.set(id, null);
    const index = file.indexOf(id);
    const colour = index < 0 ? null : readColour(index);
    cache.set(id, colour);
    return colour;
  }

  function readColour(index: number): Colour | null {
    const type = file.typeOf(index);
    const args = file.args(index);
    if (type === 'COLOUR_RGB') return { rgb: [clamp(args[1]), clamp(args[2]), clamp(args[3])], opacity: 1 };
    if (type === 'DRAUGHTING_PRE_DEFINED_COLOUR' || type === 'PRE_DEFINED_COLOUR') {
      const rgb = NAMED_COLOURS[String(args[0]).toLowerCase()];
      return rgb ? { rgb: [...rgb], opacity: 1 } : null;
    }
    if (!STYLE_TYPES.includes(type)) return null;
    let colour: Colour | null = null;
    let opacity = 1;
    const visit = (value: Value): void => {
      if (Array.isArray(value)) value.forEach(visit);
      if (!(value instanceof Ref)) return;
      const next = file.indexOf(value.id);
      if (next >= 0 && file.is(next, 'SURFACE_STYLE_TRANSPARENT')) opacity = 1 - clamp(file.args(next)[0]);
      else {
        // Many files say the colour twice, and how much goes through beside the second only.
        const own = colourOfEntity(value.id);
        colour ??= own;
        if (own) opacity = Math.min(opacity, own.opacity);
      }
    };
    // `SURFACE_STYLE_USAGE(.NEGATIVE., …)` styles the inside only.
    if (args[0] instanceof Enumeration && args[0].name === 'NEGATIVE') return null;
    args.forEach(visit);
    return colour ? { rgb: (colour as Colour).rgb, opacity: Math.min(opacity, (colour as Colour).opacity) } : null;
  }
}

function clamp(value: Value): number {
  return typeof value === 'number' ? Math.min(1, Math.max(0, value)) : 0;
}

/** `#b2301f`, with two more digits where it is not opaque: the id of a colour. */
export function colourId(colour: Colour): string {
  const hex = (x: number) =>
    Math.round(x * 255)
      .toString(16)
      .padStart(2, '0');
  return `#${colour.rgb.map(hex).join('')}${colour.opacity < 1 ? hex(colour.opacity) : ''}`;
}
