/** Pixels a side and layers of the picture that is drawn to measure, and the longest it may take on a machine that is quick, ms. */
const SIDE_PX = 512;
const LAYERS = 24;
const QUICK_MS = 12;

let measured: boolean | null = null;

/**
 * Whether this machine draws quickly enough for the screen's own resolution with smooth edges: some layers are drawn unseen, and timed,
 * once a page.
 */
export function drawsQuickly(): boolean {
  measured ??= measure();
  return measured;
}

function measure(): boolean {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = SIDE_PX;
  const gl = canvas.getContext('webgl2', { antialias: true });
  if (!gl) return false;
  const program = gl.createProgram();
  for (const [type, source] of [
    [gl.VERTEX_SHADER, 'attribute vec2 p; void main() { gl_Position = vec4(p, 0.0, 1.0); }'],
    [gl.FRAGMENT_SHADER, 'precision mediump float; void main() { gl_FragColor = vec4(0.5, 0.4, 0.3, 0.1); }'],
  ] as const) {
    const shader = gl.createShader(type)!;
    gl.shaderSource(shader, source);
    gl.compileShader(shader);
    gl.attachShader(program, shader);
  }
  gl.linkProgram(program);
  gl.useProgram(program);
  gl.bindBuffer(gl.ARRAY_BUFFER, gl.createBuffer());
  gl.bufferData(gl.ARRAY_BUFFER, new Float32Array([-1, -1, 3, -1, -1, 3]), gl.STATIC_DRAW);
  const at = gl.getAttribLocation(program, 'p');
  gl.enableVertexAttribArray(at);
  gl.vertexAttribPointer(at, 2, gl.FLOAT, false, 0, 0);
  gl.enable(gl.BLEND);
  gl.blendFunc(gl.SRC_ALPHA, gl.ONE_MINUS_SRC_ALPHA);
  const pixel = new Uint8Array(4);
  const draw = (layers: number): void => {
    for (let k = 0; k < layers; k++) gl.drawArrays(gl.TRIANGLES, 0, 3);
    // Reading a pixel back waits until all is drawn.
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, pixel);
  };
  draw(1);
  const start = performance.now();
  draw(LAYERS);
  const took = performance.now() - start;
  gl.getExtension('WEBGL_lose_context')?.loseContext();
  return took < QUICK_MS;
}
