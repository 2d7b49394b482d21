/** Whether the view has to be drawn in an economy way. */

/** True where frames are computed by the processor: a remote desktop, a machine without a graphics card. */
export function drawsInSoftware(): boolean {
  const wish = new URLSearchParams(location.search).get('drawing');
  if (wish) return wish === 'economy';
  const gl = document.createElement('canvas').getContext('webgl2');
  if (!gl) return true;
  const info = gl.getExtension('WEBGL_debug_renderer_info');
  const name = String(gl.getParameter(info ? info.UNMASKED_RENDERER_WEBGL : gl.RENDERER));
  gl.getExtension('WEBGL_lose_context')?.loseContext();
  return /swiftshader|llvmpipe|software|basic render|softpipe/i.test(name);
}
