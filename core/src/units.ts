/** Figures as they are written: with their units, and as many digits as make sense. How they are typed: typed.ts. */

/** Metres per unit. Inch and foot are exact by the international yard and pound agreement of 1959. */
export const LENGTH_UNITS: Record<string, number> = {
  m: 1,
  cm: 0.01,
  mm: 0.001,
  µm: 1e-6,
  um: 1e-6,
  km: 1000,
  in: 0.0254,
  inch: 0.0254,
  inches: 0.0254,
  ft: 0.3048,
  foot: 0.3048,
  feet: 0.3048,
  meter: 1,
  metre: 1,
  centimeter: 0.01,
  millimeter: 0.001,
  millimetre: 0.001,
  micron: 1e-6,
};

/** Metres per unit of a name found in a file or typed; undefined for an unknown one. */
export function metresPer(unit: string): number | undefined {
  return LENGTH_UNITS[unit.trim().toLowerCase()];
}

/** Thin spaces between groups of three, as in drawings. */
export function formatCount(value: number): string {
  return Math.round(value)
    .toString()
    .replace(/\B(?=(\d{3})+(?!\d))/g, '\u2009');
}

/** `1 part`, `2 parts`, `1 assembly`, `3 assemblies`. @param many where it is not made by adding an s */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${formatCount(count)} ${count === 1 ? one : many}`;
}

/** Number with as many digits as make sense: three figures, no trailing zeros, groups of three. */
export function formatNumber(value: number, figures = 3): string {
  if (!Number.isFinite(value)) return '–';
  if (value === 0) return '0';
  const magnitude = Math.floor(Math.log10(Math.abs(value))) + 1;
  const rounded = value.toFixed(Math.min(12, Math.max(0, figures - magnitude)));
  const [whole, fraction] = rounded.split('.');
  const trimmed = fraction?.replace(/0+$/, '');
  return `${whole.replace(/\B(?=(\d{3})+(?!\d))/g, '\u2009')}${trimmed ? `.${trimmed}` : ''}`;
}

/** `1 050 mm`: a length in metres, written in a unit. */
export function formatLength(metres: number, unit: string, figures = 3): string {
  return `${formatNumber(metres / (metresPer(unit) ?? 1), figures)}\u00a0${unit}`;
}

export function formatAngle(radians: number): string {
  return `${formatNumber((radians * 180) / Math.PI)}°`;
}

/** `0.4 ms`, `12 s`, `3 min 20 s`: what something took. @param seconds */
export function formatDuration(seconds: number): string {
  if (seconds < 1) return `${formatNumber(seconds * 1000, seconds < 0.01 ? 1 : 2)}\u00a0ms`;
  if (seconds < 100) return `${formatNumber(seconds, 2)}\u00a0s`;
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)}\u00a0min ${whole % 60}\u00a0s`;
}

/** Square metres from a tenth on, or where that is the unit; otherwise in squares of the unit. */
export function formatArea(area: number, unit: string): string {
  if (area >= 0.1) return `${formatNumber(area, 4)}\u00a0m²`;
  const per = metresPer(unit) ?? 1;
  return `${formatNumber(area / (per * per), 4)}\u00a0${unit}²`;
}

/** Cubic metres from a hundredth on; below in cubic centimetres, or in cubes of a unit that is none of the metre's. */
export function formatVolume(volume: number, unit: string): string {
  if (unit === 'inch' || unit === 'foot')
    return `${formatNumber(volume / (metresPer(unit) ?? 1) ** 3, 4)}\u00a0${unit}³`;
  return volume >= 0.01 || unit === 'm'
    ? `${formatNumber(volume, 4)}\u00a0m³`
    : `${formatNumber(volume * 1e6, 4)}\u00a0cm³`;
}

/** `12.5 kg`; grams below a tenth, tonnes from ten thousand on. @param mass kilograms */
export function formatMass(mass: number): string {
  if (mass < 0.1) return `${formatNumber(mass * 1000, 4)}\u00a0g`;
  return mass < 10_000 ? `${formatNumber(mass, 4)}\u00a0kg` : `${formatNumber(mass / 1000, 4)}\u00a0t`;
}

/** `6.2 MB`, in powers of ten. */
export function formatBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes}\u00a0B`;
  if (bytes < 1e6) return `${formatNumber(bytes / 1e3)}\u00a0kB`;
  if (bytes < 1e9) return `${formatNumber(bytes / 1e6)}\u00a0MB`;
  return `${formatNumber(bytes / 1e9)}\u00a0GB`;
}

/** A deviation in millimetres without its unit, finer the smaller it is. @param metres */
export function formatDeviation(metres: number): string {
  return (metres * 1000).toFixed(metres < 0.00001 ? 4 : metres < 0.01 ? 3 : 1);
}
