/** The report of a transmittal: one page of HTML that can be printed, with a picture, drawn from the manifest alone. */
import { counted, formatBytes, formatCount, formatLength } from '../units.ts';
import type { OutputManifest, TransmittalManifest } from './manifest.ts';

export interface ReportOptions {
  /** Of the job, as a data URI. */
  picture?: string;
  /** Name of the files without ending. */
  name: string;
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
${outputs.map(outputRows).join('\n')}
</table>
${lostSection(outputs)}
<h2>Sources</h2>
<table>
${row(['Name', 'Revision', 'Format', 'Unit'], 'th')}
${sources.map((source) => row([source.name, source.revision === undefined ? '' : String(source.revision), `${source.format} ${source.schema}`, source.unit].map(text))).join('\n')}
</table>
<h2>Steps</h2>
<ol>${steps.map(({ kind, summary, on }) => `<li${on ? '' : ' class="off"'}>${text(kind)}: ${text(summary)}${on ? '' : ' (off)'}</li>`).join('')}</ol>
</body>
</html>
`;
} // prettier-ignore

function outputRows({ target, piece, files, unit, upAxis, triangles, readBack, error }: OutputManifest): string {
  const name = text(piece === undefined ? target : `${target}: ${piece}`);
  if (error) return `<tr><td>${name}</td><td colspan="6" class="bad">not written: ${text(error.message)}</td></tr>`;
  const state = readBack?.holds ? 'holds' : 'differs';
  return files
    .map((file, i) =>
      i === 0
        ? `<tr><td>${name}</td><td>${text(file.name)}</td><td>${formatBytes(file.bytes)}</td><td>${unit}, ${upAxis}</td><td>${formatCount(triangles ?? 0)}</td><td class="${readBack?.holds ? 'good' : 'bad'}">${state}</td><td class="hash">${file.sha256.slice(0, 16)}…</td></tr>`
        : `<tr><td></td><td>${text(file.name)}</td><td>${formatBytes(file.bytes)}</td><td></td><td></td><td></td><td class="hash">${file.sha256.slice(0, 16)}…</td></tr>`,
    )
    .join('\n');
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
  return lines.length === 0 ? '' : `<h2>Not carried</h2><dl>${lines.join('')}</dl>`;
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
ol { margin: 4px 0; padding-left: 22px; }
@media print { body { margin: 0; } tr, li { break-inside: avoid; } }
`;
