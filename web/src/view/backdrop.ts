/**
 * What stands still while something is dragged, drawn once: a picture of it with its depths, behind which and before which what moves
 * is drawn with every frame. As long as nobody else changes anything, a frame costs what moves.
 */
import { DepthTexture, Mesh, NoBlending, OrthographicCamera, PlaneGeometry, Scene, ShaderMaterial, SRGBColorSpace, Vector2, WebGLRenderTarget } from 'three'; // prettier-ignore
import type { Camera, Light, Object3D, WebGLRenderer } from 'three';

export class Backdrop {
  #target: WebGLRenderTarget | undefined;
  #isTaken = false;
  readonly #sheet = new Scene();
  readonly #eye = new OrthographicCamera(-1, 1, 1, -1, 0, 1);
  readonly #material = new ShaderMaterial({
    uniforms: { colours: { value: null }, depths: { value: null } },
    vertexShader: 'varying vec2 at; void main() { at = uv; gl_Position = vec4(position.xy, 0.0, 1.0); }',
    // As they were drawn: nothing is toned or converted once more.
    fragmentShader: `
      uniform sampler2D colours;
      uniform highp sampler2D depths;
      varying vec2 at;
      void main() { gl_FragColor = texture2D(colours, at); gl_FragDepth = texture2D(depths, at).r; }`,
    blending: NoBlending,
    toneMapped: false,
  });
  readonly #plane = new Mesh(new PlaneGeometry(2, 2), this.#material);

  /** @param samples as many as the screen gathers for each pixel */
  constructor(readonly samples: number) {
    this.#plane.frustumCulled = false;
    this.#sheet.add(this.#plane);
  }

  /** What stands still has changed, or is seen from elsewhere. */
  forget(): void {
    this.#isTaken = false;
  }

  /** Draws a frame. @param moving what is drawn with every frame; all else but lights stands still */
  render(renderer: WebGLRenderer, scene: Scene, camera: Camera, moving: readonly Object3D[]): void {
    const still = scene.children.filter((one) => one.visible && !moving.includes(one) && !(one as Light).isLight);
    if (!this.#isTaken) this.#take(renderer, scene, camera, moving);
    renderer.render(this.#sheet, this.#eye);
    for (const one of still) one.visible = false;
    renderer.autoClear = false;
    renderer.render(scene, camera);
    renderer.autoClear = true;
    for (const one of still) one.visible = true;
  }

  #take(renderer: WebGLRenderer, scene: Scene, camera: Camera, moving: readonly Object3D[]): void {
    const target = this.#fit(renderer);
    const seen = moving.filter(({ visible }) => visible);
    for (const one of seen) one.visible = false;
    renderer.setRenderTarget(target);
    renderer.clear();
    renderer.render(scene, camera);
    renderer.setRenderTarget(null);
    for (const one of seen) one.visible = true;
    this.#isTaken = true;
  }

  #fit(renderer: WebGLRenderer): WebGLRenderTarget {
    const { width, height } = renderer.getDrawingBufferSize(new Vector2());
    if (this.#target) {
      this.#target.setSize(width, height);
      return this.#target;
    }
    const target = new WebGLRenderTarget(width, height, { samples: this.samples, depthTexture: new DepthTexture(width, height) }); // prettier-ignore
    target.texture.colorSpace = SRGBColorSpace;
    // As the small picture is made: equal formats, and the shaders of the screen.
    target.texture.internalFormat = 'RGBA8';
    Object.assign(target, { isXRRenderTarget: true });
    this.#material.uniforms.colours.value = target.texture;
    this.#material.uniforms.depths.value = target.depthTexture;
    return (this.#target = target);
  }

  dispose(): void {
    this.#target?.dispose();
    this.#plane.geometry.dispose();
    this.#material.dispose();
  }
}
