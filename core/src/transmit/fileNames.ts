/** Names of the files of a delivery. */

/** A file name that stays in its folder on every system: letters, digits, points, hyphens; never empty, never long. */
export function safeFileName(name: string): string {
  const clean = name
    .normalize('NFKD')
    .replace(/ß/g, 'ss')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^A-Za-z0-9._-]+/g, '-')
    .replace(/^[.-]+|[.-]+$/g, '')
    .slice(0, 80);
  return clean || 'scene';
}
