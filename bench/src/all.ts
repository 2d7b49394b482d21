/** All benchmarks, one after the other. */
for (const name of [
  'survey',
  'readers',
  'prepare',
  'sagitta',
  'workers',
  'firstPart',
  'reduce',
  'ledger',
  'snap',
  'structure',
  'schedule',
  'project',
  'unwrap',
  'linkage',
  'meshes',
  'evaluate',
  'save',
  'transmit',
  'transmitMemory',
  'batch',
  'page',
]) {
  process.stdout.write(`\n${name}\n`);
  await import(`./${name}.ts`);
}

// Sockets and threads of what was measured may still be open.
process.exit(0);

export {};
