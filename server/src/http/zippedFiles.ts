/** What of a transmittal goes into a zip: its files, with the manifest and the report beside them. */
import type { SentFile } from '@noble-prism/wire/job';
import type { ZippedFile } from '../services/zips.ts';

interface Sent {
  name: string;
  files: readonly SentFile[];
  manifest: string;
  report: string | null;
}

/** @param folder that they lie in, with a slash at its end */
export function zippedFiles({ name, files, manifest, report }: Sent, folder = ''): ZippedFile[] {
  return [
    ...files.map((file) => ({ name: `${folder}${file.name}`, blob: file.blob })),
    { name: `${folder}${name}.manifest.json`, blob: manifest },
    ...(report ? [{ name: `${folder}${name}.report.html`, blob: report }] : []),
  ];
}
