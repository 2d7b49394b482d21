/** Sends a scene to one target, for tests. */
import type { Scene } from '../scene/types.ts';
import type { BlobStore, PictureCodec } from '../surroundings.ts';
import type { TransmittalManifest } from '../transmit/manifest.ts';
import type { ReadBack } from '../transmit/result.ts';
import { DEFAULT_TARGET } from '../transmit/targets/target.ts';
import type { TargetSettings } from '../transmit/targets/target.ts';
import { deliver } from '../transmit/transmit.ts';
import type { Output } from '../transmit/transmit.ts';

export interface Sent {
  output: Output;
  /** @throws Error where it was not written */
  readBack: ReadBack;
  manifest: TransmittalManifest;
}

export async function sentTo(
  scene: Scene,
  blobs: BlobStore,
  settings: Partial<TargetSettings> = {},
  { name = 'x', pictures }: { name?: string; pictures?: PictureCodec } = {},
): Promise<Sent> {
  const { outputs, manifest } = await deliver(scene, blobs, {
    targets: [{ name: 'Test', settings: { ...DEFAULT_TARGET, ...settings } }],
    name,
    title: name,
    steps: [],
    made: '2026-01-01T00:00:00Z',
    ...(pictures ? { pictures } : {}),
  });
  const [output] = outputs;
  if (!output.readBack) throw new Error(output.error?.message ?? 'not read back');
  return { output, readBack: output.readBack, manifest };
}
