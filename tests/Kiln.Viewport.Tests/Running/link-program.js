// Compiles and links a vertex and a fragment shader; gives what the graphics processor says against them, or nothing.
const [vertex, fragment] = arguments;
const gl = (window.kilnGl ??= document.createElement("canvas").getContext("webgl2"));
const program = gl.createProgram();
const said = [];
for (const [kind, text] of [
  [gl.VERTEX_SHADER, vertex],
  [gl.FRAGMENT_SHADER, fragment],
]) {
  const shader = gl.createShader(kind);
  gl.shaderSource(shader, text);
  gl.compileShader(shader);
  if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS)) {
    const log = gl.getShaderInfoLog(shader);
    const at = Number(/0:(\d+)/.exec(log)?.[1] ?? 1);
    said.push(`${log}: ${text.split("\n").slice(at - 2, at + 1).join(" / ")}`);
  }
  gl.attachShader(program, shader);
  gl.deleteShader(shader);
}
if (said.length === 0) {
  gl.linkProgram(program);
  if (!gl.getProgramParameter(program, gl.LINK_STATUS)) said.push(gl.getProgramInfoLog(program));
}
const units = said.length === 0 ? gl.getProgramParameter(program, gl.ACTIVE_UNIFORMS) : 0;
gl.deleteProgram(program);
return [said.join("\n"), units];
