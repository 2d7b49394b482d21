/** Shells and faces of a solid, in the order of the text: the order in which the kernel gives them back. */
import type { Part21 } from './part21.ts';

/** Indices of what an entity refers to, in the order of its text; references to nothing are left out. */
export function referred(file: Part21, index: number): number[] {
  const out: number[] = [];
  for (let r = file.refStarts[index]; r < file.refStarts[index + 1]; r++) {
    const target = file.indexOf(file.refs[r]);
    if (target >= 0) out.push(target);
  }
  return out;
}

/** Indices of the faces of a solid; oriented shells (of voids) are looked through. */
export function facesOf(file: Part21, solid: number): number[] {
  return referred(file, solid).flatMap((shell) =>
    file.typeOf(shell).startsWith('ORIENTED_')
      ? referred(file, shell).flatMap((inner) => referred(file, inner))
      : referred(file, shell),
  );
}
