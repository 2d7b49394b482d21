/** Names and endings of files that came in. */

/** Ending in lower case, without the point. */
export function endingOf(path: string): string {
  const name = lastOf(path);
  return name.includes('.') ? (name.split('.').at(-1) ?? '').toLowerCase() : '';
}

/** Name of the file without folders. */
export function lastOf(path: string): string {
  return path.replaceAll('\\', '/').split('/').at(-1) ?? path;
}

/** Name of the file without folders and ending. */
export function baseName(path: string): string {
  return lastOf(path).replace(/\.[^.]*$/, '') || path;
}
