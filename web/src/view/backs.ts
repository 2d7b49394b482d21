/** Backs of faces: known for what they are on mirrored parts too, and hatched where a receiver shows nothing of them. */
import { ShaderChunk } from 'three';
import type { Material } from 'three';

/** Pixels from line to line, and the share of it that is ink. */
const [PERIOD, INK] = [9, 0.2];
/** Paper and ink of the hatch, as they are seen. */
const [PALE, DARK] = ['vec3(0.80, 0.78, 0.74)', 'vec3(0.36, 0.35, 0.36)'];

/**
 * The graphics card goes by the order of corners, which a mirrored instance turns round.
 * @param hatched where the material is seen from one side only, on parts of which the back can be seen
 */
export function withBacks(made: Material, hatched: boolean): void {
  made.onBeforeCompile = (shader) => {
    shader.vertexShader = shader.vertexShader.replace('void main() {', 'varying float vTurned;\nvoid main() {').replace(
      '#include <begin_vertex>',
      `#include <begin_vertex>
      vTurned = 1.0;
      #ifdef USE_INSTANCING
        vTurned = determinant(mat3(instanceMatrix)) < 0.0 ? -1.0 : 1.0;
      #endif`,
    );
    shader.fragmentShader = shader.fragmentShader
      .replace('void main() {', 'varying float vTurned;\nvoid main() {\nbool isFront = gl_FrontFacing == (vTurned > 0.0);')
      .replace('#include <normal_fragment_begin>', ShaderChunk.normal_fragment_begin.replace('gl_FrontFacing', 'isFront')); // prettier-ignore
    if (hatched) shader.fragmentShader = shader.fragmentShader.replace('#include <dithering_fragment>', HATCH);
  };
  made.customProgramCacheKey = () => `backs ${hatched}`;
}

const HATCH = `#include <dithering_fragment>
  if (!isFront) {
    float line = fract((gl_FragCoord.x + gl_FragCoord.y) / ${PERIOD.toFixed(1)});
    gl_FragColor = vec4(mix(${PALE}, ${DARK}, step(line, ${INK})), max(gl_FragColor.a, 0.6));
  }
`;
