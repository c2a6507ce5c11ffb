in vec3 vPosition;
out vec4 written;
void main() { written = vec4(gl_FragCoord.z, 0.0, 0.0, 1.0); }
