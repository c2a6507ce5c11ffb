import * as three from "three";
import { BVHShaderGLSL, MeshBVH, MeshBVHUniformStruct, SAH } from "three-mesh-bvh";
import { guideOf, guideRows, guideColumns } from "./guide";

/** What the shader of paths needs before a look's own text. */
export const hierarchyText =
  "precision highp isampler2D;\nprecision highp usampler2D;\n" +
  BVHShaderGLSL.common_functions +
  BVHShaderGLSL.bvh_struct_definitions +
  BVHShaderGLSL.bvh_ray_functions;

/** Numbers of vertices in rows of so many. */
const rowOfVertices = 2048;

/** A form and a light as the shader of paths asks for them, and the light of all paths so far. */
export class Settling {
  readonly uniforms: Record<string, three.IUniform> = {
    uHierarchy: { value: new MeshBVHUniformStruct() },
    uNormals: { value: null },
    uTangents: { value: null },
    uUvs: { value: null },
    uGuide: { value: null },
    uBefore: { value: null },
    uSample: { value: 0 },
    uSize: { value: new three.Vector2(8, 8) },
  };
  /** Paths of each pixel so far. */
  samples = 0;

  private sums = [target(), target()];

  /** The form's triangles in boxes within boxes, and what is interpolated over them. */
  setForm(geometry: three.BufferGeometry) {
    const own = new three.BufferGeometry();
    own.setAttribute("position", geometry.getAttribute("aPosition"));
    // The hierarchy puts triangles in another order, which what is drawn need not know.
    own.setIndex(geometry.getIndex()!.clone());
    (this.uniforms.uHierarchy.value as MeshBVHUniformStruct).updateFrom(new MeshBVH(own, { strategy: SAH }));
    for (const [name, attribute] of [
      ["uNormals", "aNormal"],
      ["uTangents", "aTangent"],
      ["uUvs", "aUv"],
    ]) {
      (this.uniforms[name].value as three.Texture | null)?.dispose();
      this.uniforms[name].value = ofVertices(geometry.getAttribute(attribute) as three.BufferAttribute);
    }
    this.reset();
  }

  /** @param sharp The light as bits of halves, four to a texel, twice as wide as high. */
  setLight(sharp: Uint16Array, width: number) {
    (this.uniforms.uGuide.value as three.Texture | null)?.dispose();
    const guide = new three.DataTexture(
      guideOf(sharp, width),
      guideColumns,
      guideRows + 1,
      three.RedFormat,
      three.FloatType,
    );
    guide.needsUpdate = true;
    this.uniforms.uGuide.value = guide;
    this.reset();
  }

  reset() {
    this.samples = 0;
  }

  /** Adds one path to every pixel. */
  add(renderer: three.WebGLRenderer, screen: three.Mesh, camera: three.Camera, width: number, height: number) {
    const size = this.uniforms.uSize.value as three.Vector2;
    if (size.x !== width || size.y !== height) {
      size.set(width, height);
      this.sums.forEach((s) => s.setSize(width, height));
      this.reset();
    }
    this.uniforms.uSample.value = this.samples;
    this.uniforms.uBefore.value = this.sums[0].texture;
    renderer.setRenderTarget(this.sums[1]);
    renderer.render(screen, camera);
    this.sums.reverse();
    this.samples++;
  }

  /** The sum of all paths; its fourth number is how many they are. */
  get sum(): three.WebGLRenderTarget {
    return this.sums[0];
  }

  dispose() {
    this.sums.forEach((s) => s.dispose());
    (this.uniforms.uHierarchy.value as MeshBVHUniformStruct).dispose();
    for (const { value } of Object.values(this.uniforms)) if (value instanceof three.Texture) value.dispose();
  }
}

function target() {
  return new three.WebGLRenderTarget(8, 8, {
    type: three.FloatType,
    minFilter: three.NearestFilter,
    magFilter: three.NearestFilter,
    depthBuffer: false,
    colorSpace: three.NoColorSpace,
  });
}

function ofVertices(attribute: three.BufferAttribute): three.DataTexture {
  const rows = Math.ceil(attribute.count / rowOfVertices);
  const numbers = new Float32Array(4 * rowOfVertices * rows);
  for (let i = 0; i < attribute.count; i++)
    for (let c = 0; c < attribute.itemSize; c++) numbers[4 * i + c] = attribute.getComponent(i, c);
  const texture = new three.DataTexture(numbers, rowOfVertices, rows, three.RGBAFormat, three.FloatType);
  texture.needsUpdate = true;
  return texture;
}
