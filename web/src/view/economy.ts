/** Whether the view has to be drawn in an economy way. */

/** What was found out last time: asking takes a drawing context of its own, which takes a while. */
const KEPT = 'noble-prism.drawing';

/** True where frames are computed by the processor: a remote desktop, a machine without a graphics card. */
export function drawsInSoftware(): boolean {
  const wish = new URLSearchParams(location.search).get('drawing');
  if (wish) return wish === 'economy';
  const kept = localStorage.getItem(KEPT);
  if (kept) return isSoftware(kept);
  const gl = document.createElement('canvas').getContext('webgl2');
  if (!gl) return true;
  const name = nameOf(gl);
  gl.getExtension('WEBGL_lose_context')?.loseContext();
  localStorage.setItem(KEPT, name);
  return isSoftware(name);
}

/** Keeps what the context in use says, for the next time: a card may have come or gone. */
export function rememberSoftware(gl: WebGLRenderingContext | WebGL2RenderingContext): void {
  localStorage.setItem(KEPT, nameOf(gl));
}

function nameOf(gl: WebGLRenderingContext | WebGL2RenderingContext): string {
  const info = gl.getExtension('WEBGL_debug_renderer_info');
  return String(gl.getParameter(info ? info.UNMASKED_RENDERER_WEBGL : gl.RENDERER));
}

const isSoftware = (name: string) => /swiftshader|llvmpipe|software|basic render|softpipe/i.test(name);
