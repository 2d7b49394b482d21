/** The report of a transmittal: one page of HTML that can be printed, with a picture, drawn from the manifest alone. */
import { counted, formatBytes, formatCount, formatLength } from '../units.ts';
import type { OutputManifest, TransmittalManifest } from './manifest.ts';

export interface ReportOptions {
  /** Of the job, as a data URI. */
  picture?: string;
  /** Name of the files without ending. */
  name: string;
}

/** Lines of each list: more would not be one page. All of them stand in the manifest. */
const MOST = { files: 13, sources: 6, steps: 16, said: 5 };

/** The first of a list, and how many more there are. */
function firstOf<T>(list: readonly T[], most: number): { shown: readonly T[]; more: number } {
  return list.length <= most
    ? { shown: list, more: 0 }
    : { shown: list.slice(0, most - 1), more: list.length - most + 1 };
}

export function reportOf(manifest: TransmittalManifest, { picture, name }: ReportOptions): string {
  const { title, made, outputs, sources, steps, scene, origin, movements = [] } = manifest;
  const size = scene.bounds?.max.map((high, axis) => formatLength(high - (scene.bounds?.min[axis] ?? 0), 'm', 4));
  const worst = Math.max(0, ...manifest.parts.map(({ deviation = 0 }) => deviation));
  const facts: [string, string][] = [
    ['Holds', `${counted(scene.parts, 'part')}, ${counted(scene.triangles, 'triangle')}, ${counted(scene.materials, 'material')}`],
    ...(size ? [['Size', size.join(' × ')] as [string, string]] : []),
    ...(origin?.offset ? [['Offset of the origin', origin.offset.map((value) => formatLength(value, 'm', 11)).join(', ')] as [string, string]] : []),
    ...(worst > 0 ? [['Largest deviation of a reduction', formatLength(worst, 'mm', 3)] as [string, string]] : []),
    ...(movements.length > 0 ? [['Movements', movements.map(({ name: clip, duration }) => `${clip}, ${duration.toFixed(2)} s`).join('; ')] as [string, string]] : []),
  ]; // prettier-ignore
  // Where there are many, each target has a line, and what does not hold comes first.
  const count = outputs.reduce((sum, output) => sum + Math.max(1, output.files.length), 0);
  const listed = count <= MOST.files ? outputs : [...outputs].sort((a, b) => Number(holds(a)) - Number(holds(b)));
  const files = firstOf(listed.flatMap((output) => outputRows(output, count > MOST.files)), MOST.files);
  const from = firstOf(sources, MOST.sources);
  const done = firstOf(steps, MOST.steps);
  const row = (cells: readonly string[], of = 'td') => `<tr>${cells.map((cell) => `<${of}>${cell}</${of}>`).join('')}</tr>`; // prettier-ignore
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<title>${text(title)}: transmittal</title>
<style>${STYLE}</style>
</head>
<body>
<header>
<div><h1>${text(title)}</h1><p>${text(name)} · ${text(made.slice(0, 16).replace('T', ' '))} UTC</p></div>
${picture ? `<img src="${text(picture)}" alt="${text(title)}">` : ''}
</header>
<dl>${facts.map(([what, value]) => `<dt>${text(what)}</dt><dd>${text(value)}</dd>`).join('')}</dl>
<h2>Files</h2>
<table>
${row(['Target', 'File', 'Size', 'Unit, up', 'Triangles', 'Read-back', 'SHA-256'], 'th')}
${files.shown.join('\n')}
</table>
${moreOf(files.more, 'line')}
${incompleteSection(outputs)}${overSection(outputs)}${lostSection(outputs)}
<h2>Sources</h2>
<table>
${row(['Name', 'Revision', 'Format', 'Unit'], 'th')}
${from.shown.map((source) => row([source.name, source.revision === undefined ? '' : String(source.revision), `${source.format} ${source.schema}`, source.unit].map(text))).join('\n')}
</table>
${moreOf(from.more, 'source')}
<h2>Steps</h2>
<ol>${done.shown.map(({ kind, summary, on }) => `<li${on ? '' : ' class="off"'}>${text(kind)}: ${text(summary)}${on ? '' : ' (off)'}</li>`).join('')}</ol>
${moreOf(done.more, 'step')}
</body>
</html>
`;
} // prettier-ignore

const holds = ({ error, readBack }: OutputManifest) => !error && readBack?.holds === true;

/** @param short its files in one line */
function outputRows(output: OutputManifest, short: boolean): string[] {
  const { target, piece, files, unit, upAxis, triangles, error } = output;
  const name = text(piece === undefined ? target : `${target}: ${piece}`);
  if (error) return [`<tr><td>${name}</td><td colspan="6" class="bad">not written: ${text(error.message)}</td></tr>`];
  const state = holds(output) ? '<td class="good">holds</td>' : '<td class="bad">differs</td>';
  const row = (first: string, file: string, bytes: number, rest: string, sha256: string) =>
    `<tr><td>${first}</td><td>${file}</td><td>${formatBytes(bytes)}</td>${rest}<td class="hash">${sha256.slice(0, 16)}…</td></tr>`;
  const figures = `<td>${unit}, ${upAxis}</td><td>${formatCount(triangles ?? 0)}</td>${state}`;
  const [head, ...beside] = files;
  if (short) {
    const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
    const others = beside.length > 0 ? ` and ${counted(beside.length, 'file')} beside it` : '';
    return [row(name, text(head.name) + others, bytes, figures, head.sha256)];
  }
  return [
    row(name, text(head.name), head.bytes, figures, head.sha256),
    ...beside.map((file) => row('', text(file.name), file.bytes, '<td></td><td></td><td></td>', file.sha256)),
  ];
}

/** Terms and what is said of each, where there are any. */
function section(title: string, lines: readonly string[]): string {
  const { shown, more } = firstOf(lines, MOST.said);
  return lines.length === 0 ? '' : `<h2>${title}</h2><dl>${shown.join('')}</dl>${moreOf(more, 'target')}`;
}

const moreOf = (count: number, what: string) =>
  count > 0 ? `<p class="more">and ${counted(count, `more ${what}`)}, listed in the manifest</p>` : '';

/** Sources that were not read in full, each once. */
function incompleteSection(outputs: readonly OutputManifest[]): string {
  const said = [...new Set(outputs.flatMap(({ notInFull = [] }) => notInFull))];
  if (said.length === 0) return '';
  const { shown, more } = firstOf(said, MOST.said);
  return `<h2>Not read in full</h2>${shown.map((words) => `<p class="bad">${text(words)}</p>`).join('')}${moreOf(more, 'source')}`;
}

/** What is over the limits of each target. */
function overSection(outputs: readonly OutputManifest[]): string {
  const lines = outputs.flatMap(({ target, piece, overLimits }) =>
    overLimits
      ? [`<dt>${text(piece === undefined ? target : `${target}: ${piece}`)}</dt><dd>${text(overLimits.join(' '))}</dd>`]
      : [],
  );
  return section('Over the limits', lines);
}

/** What each target loses of the job. */
function lostSection(outputs: readonly OutputManifest[]): string {
  const seen = new Set<string>();
  const lines = outputs.flatMap(({ target, carryOver }) => {
    const lost = carryOver?.lines.filter(({ state }) => state === 'lost') ?? [];
    if (lost.length === 0 || seen.has(target)) return [];
    seen.add(target);
    const words = lost.map(({ title, count, of }) => `${title.toLowerCase()} (${count} ${of})`);
    return [`<dt>${text(target)}</dt><dd>${text(words.join(', '))}</dd>`];
  });
  return section('Not carried', lines);
}

const SIGNS: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };
const text = (value: string) => value.replace(/[&<>"']/g, (sign) => SIGNS[sign]);

const STYLE = `
body { font: 13px/1.45 system-ui, sans-serif; color: #1c1b19; max-width: 900px; margin: 24px auto; padding: 0 20px; }
header { display: flex; justify-content: space-between; gap: 24px; align-items: flex-start; border-bottom: 2px solid #1c1b19; padding-bottom: 12px; }
h1 { font-size: 22px; margin: 0 0 4px; }
h2 { font-size: 14px; margin: 20px 0 6px; }
header p { margin: 0; color: #5d5a54; }
img { width: 300px; border: 1px solid #d8d3c7; }
dl { display: grid; grid-template-columns: 230px 1fr; gap: 3px 12px; margin: 12px 0; }
dt { color: #5d5a54; } dd { margin: 0; }
table { width: 100%; border-collapse: collapse; }
th { text-align: left; font-weight: 500; color: #5d5a54; }
th, td { border-bottom: 1px solid #e4dfd3; padding: 3px 8px 3px 0; vertical-align: top; overflow-wrap: anywhere; }
.hash { font-family: ui-monospace, monospace; font-size: 11px; white-space: nowrap; }
.good { color: #1f6b45; } .bad { color: #a32c22; } .off { color: #8b877e; }
ol { margin: 4px 0; padding-left: 22px; columns: 2; column-gap: 28px; }
li { break-inside: avoid; overflow-wrap: anywhere; }
.more { color: #5d5a54; margin: 4px 0; }
@page { size: A4; margin: 12mm; }
@media print { body { margin: 0; padding: 0; max-width: none; font-size: 10.5px; } img { width: 200px; } h2 { margin: 12px 0 4px; font-size: 12px; } tr { break-inside: avoid; } }
`;
