// Runs a fragment shader over a grid of points and gives what it wrote, as floats. Called with one JSON text.
const spec = JSON.parse(arguments[0]);
const floats = (text) => {
  const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
  return new Float32Array(bytes.buffer);
};
const gl = (window.kilnGl ??= document.createElement("canvas").getContext("webgl2"));
if (!gl) throw new Error("There is no WebGL 2 here.");
if (!gl.getExtension("EXT_color_buffer_float")) throw new Error("Float pictures cannot be drawn here.");
gl.getExtension("OES_texture_float_linear");
// The lines that the log speaks of, and those around them.
const numbered = (text, log) => {
  const at = Number(/0:(\d+)/.exec(log)?.[1] ?? 1);
  const from = Math.max(0, at - 4);
  return text.split("\n").slice(from, at + 3).map((l, i) => `${from + i + 1}: ${l}`).join("\n");
};
const compiled = (kind, text) => {
  const shader = gl.createShader(kind);
  gl.shaderSource(shader, text);
  gl.compileShader(shader);
  if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS))
    throw new Error(
      gl.getShaderInfoLog(shader) + "\n" + numbered(text, gl.getShaderInfoLog(shader)),
    );
  return shader;
};
const corners = `#version 300 es
void main() { gl_Position = vec4(vec2(gl_VertexID & 1, gl_VertexID >> 1) * 4.0 - 1.0, 0.0, 1.0); }`;
const linked = () => {
  const made = gl.createProgram();
  const parts = [compiled(gl.VERTEX_SHADER, corners), compiled(gl.FRAGMENT_SHADER, spec.fragment)];
  parts.forEach((p) => gl.attachShader(made, p));
  gl.linkProgram(made);
  if (!gl.getProgramParameter(made, gl.LINK_STATUS)) throw new Error(gl.getProgramInfoLog(made));
  parts.forEach((p) => gl.deleteShader(p));
  return made;
};
// The last program is kept: many surfaces run by the same text.
if (window.kilnText !== spec.fragment) {
  if (window.kilnProgram) gl.deleteProgram(window.kilnProgram);
  window.kilnProgram = linked();
  window.kilnText = spec.fragment;
}
const program = window.kilnProgram;
gl.useProgram(program);
const made = [];
let unit = 0;
const bind = (name, target) => {
  const texture = gl.createTexture();
  made.push(texture);
  gl.activeTexture(gl.TEXTURE0 + unit);
  gl.bindTexture(target, texture);
  gl.uniform1i(gl.getUniformLocation(program, name), unit++);
};
gl.pixelStorei(gl.UNPACK_ALIGNMENT, 1);
for (const array of spec.arrays) {
  bind(array.name, gl.TEXTURE_2D_ARRAY);
  const [inner, outer] = array.components === 1 ? [gl.R32F, gl.RED] : [gl.RGB32F, gl.RGB];
  gl.texStorage3D(gl.TEXTURE_2D_ARRAY, array.levels, inner, array.width, array.height, array.layers.length);
  array.layers.forEach((levels, layer) =>
    levels.forEach(([width, height, data], level) =>
      gl.texSubImage3D(gl.TEXTURE_2D_ARRAY, level, 0, 0, layer, width, height, 1, outer, gl.FLOAT, floats(data)),
    ),
  );
  const wrap = array.repeats ? gl.REPEAT : gl.CLAMP_TO_EDGE;
  gl.texParameteri(gl.TEXTURE_2D_ARRAY, gl.TEXTURE_WRAP_S, wrap);
  gl.texParameteri(gl.TEXTURE_2D_ARRAY, gl.TEXTURE_WRAP_T, wrap);
  gl.texParameteri(gl.TEXTURE_2D_ARRAY, gl.TEXTURE_MIN_FILTER, array.levels > 1 ? gl.LINEAR_MIPMAP_LINEAR : gl.LINEAR);
  gl.texParameteri(gl.TEXTURE_2D_ARRAY, gl.TEXTURE_MAG_FILTER, gl.LINEAR);
}
for (const input of spec.inputs) {
  bind(input.name, gl.TEXTURE_2D);
  gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA32F, input.width, input.height);
  gl.texSubImage2D(gl.TEXTURE_2D, 0, 0, 0, input.width, input.height, gl.RGBA, gl.FLOAT, floats(input.data));
  gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
  gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
}
for (const [name, values] of Object.entries(spec.numbers)) {
  const at = gl.getUniformLocation(program, name);
  if (at && values.length > 0) gl.uniform4fv(at, values);
}
for (const [name, values] of Object.entries(spec.matrices ?? {}))
  gl.uniformMatrix3fv(gl.getUniformLocation(program, name), false, values);
const target = gl.createTexture();
made.push(target);
gl.activeTexture(gl.TEXTURE0 + unit);
gl.bindTexture(gl.TEXTURE_2D, target);
gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA32F, spec.width, spec.height);
const frame = gl.createFramebuffer();
gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, target, 0);
gl.viewport(0, 0, spec.width, spec.height);
const root = gl.getUniformLocation(program, "uRoot");
const written = [];
for (let i = 0; i < spec.roots; i++) {
  if (root) gl.uniform1i(root, i);
  gl.drawArrays(gl.TRIANGLE_STRIP, 0, 4);
  const pixels = new Float32Array(4 * spec.width * spec.height);
  gl.readPixels(0, 0, spec.width, spec.height, gl.RGBA, gl.FLOAT, pixels);
  const bytes = new Uint8Array(pixels.buffer);
  let text = "";
  for (let k = 0; k < bytes.length; k += 8192) text += String.fromCharCode(...bytes.subarray(k, k + 8192));
  written.push(btoa(text));
}
const error = gl.getError();
gl.deleteFramebuffer(frame);
made.forEach((t) => gl.deleteTexture(t));
if (error !== gl.NO_ERROR) throw new Error(`WebGL says ${error}.`);
return written;
