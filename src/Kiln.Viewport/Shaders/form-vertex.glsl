// A vertex of a form: where it is, how it lies, and what it sees (FormOcclusion: nine of the transfer, the floor's share, nine of the
// visibility).
in vec3 aPosition;
in vec3 aNormal;
in vec4 aTangent;
in vec2 aUv;
in vec4 aSees0;
in vec4 aSees1;
in vec4 aSees2;
in vec4 aSees3;
in vec3 aSees4;
uniform mat4 uToScreen;
uniform vec3 uHarmonics[9];
out vec3 vPosition;
out vec3 vNormal;
out vec4 vTangent;
out vec2 vUv;
out vec4 vSky;
out vec4 vVisible0;
out vec4 vVisible1;
out float vVisible2;

void main() {
  vPosition = aPosition;
  vNormal = aNormal;
  vTangent = aTangent;
  vUv = aUv;
  // Irradiance over π of the sky as it gets here, and the floor's share.
  vec3 sky = aSees0.x * uHarmonics[0] + aSees0.y * uHarmonics[1] + aSees0.z * uHarmonics[2] + aSees0.w * uHarmonics[3]
    + aSees1.x * uHarmonics[4] + aSees1.y * uHarmonics[5] + aSees1.z * uHarmonics[6] + aSees1.w * uHarmonics[7] + aSees2.x * uHarmonics[8];
  vSky = vec4(max(vec3(0.0), sky), aSees2.y);
  vVisible0 = vec4(aSees2.zw, aSees3.xy);
  vVisible1 = vec4(aSees3.zw, aSees4.xy);
  vVisible2 = aSees4.z;
  gl_Position = uToScreen * vec4(aPosition, 1.0);
}
