// A form's triangles and vertices in textures: three numbers of vertices a triangle; of each vertex seven texels: its place and u, its normal
// and v, its tangent, the three of the form's own vertices it lies between, and nine harmonics of what is visible with its shares of the
// first two of the three.
uniform highp sampler2D uTriangles;
uniform highp sampler2D uVertices;

const int KILN_TRIANGLES = 1024, KILN_VERTICES = 256, KILN_EACH = 7;

vec3 kilnTriangle(int triangle) { return texelFetch(uTriangles, ivec2(triangle % KILN_TRIANGLES, triangle / KILN_TRIANGLES), 0).xyz; }

vec4 kilnVertex(int vertex, int part) { return texelFetch(uVertices, ivec2(vertex % KILN_VERTICES * KILN_EACH + part, vertex / KILN_VERTICES), 0); }
